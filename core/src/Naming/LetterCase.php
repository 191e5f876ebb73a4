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
        return match (true) {
            self::Kept === $this => $text,
            mb_check_encoding($text, 'ASCII') => self::Lower === $this ? strtolower($text) : strtoupper($text),
            self::Lower === $this => mb_strtolower($text, 'UTF-8'),
            default => mb_strtoupper($text, 'UTF-8'),
        };
    }
}
