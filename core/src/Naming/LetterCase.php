<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

enum LetterCase: string
{
    case Kept = 'kept';
    case Lower = 'lower';
    case Upper = 'upper';

    public function of(string $text): string
    {
        return match ($this) {
            self::Kept => $text,
            self::Lower => mb_strtolower($text, 'UTF-8'),
            self::Upper => mb_strtoupper($text, 'UTF-8'),
        };
    }
}
