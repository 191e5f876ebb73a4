<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

/** What becomes of blanks and of what is neither letter nor digit. */
enum Blanks: string
{
    case Kept = 'kept';
    case Hyphen = 'hyphen';
    case Underscore = 'underscore';
    case Joined = 'joined';

    /** Safe text with its blanks so treated. */
    public function of(string $text): string
    {
        return match ($this) {
            self::Kept => PortableName::readable($text),
            self::Hyphen => PortableName::joined($text, '-'),
            self::Underscore => PortableName::joined($text, '_'),
            self::Joined => PortableName::joined($text, ''),
        };
    }
}
