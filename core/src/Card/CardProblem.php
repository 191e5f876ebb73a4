<?php

declare(strict_types=1);

namespace Velvet\Core\Card;

/** Something on a card that could not be taken in, told in a sentence. The rest of the card is not affected. */
final readonly class CardProblem
{
    private function __construct(
        public string $code,
        public string $path,
        public string $text,
        public bool $leavesFramesBehind,
    ) {
    }

    public static function symbolicLink(string $path): self
    {
        return new self(
            'symbolic_link',
            $path,
            \sprintf(
                '“%s” is a symbolic link. It was not followed, since it may point out of the card; nothing behind it '
                    .'was read.',
                $path,
            ),
            false,
        );
    }

    public static function folderUnreadable(string $path, string $reason): self
    {
        return new self(
            'folder_unreadable',
            $path,
            \sprintf(
                'The folder “%s” could not be opened (%s). Everything else on the card was read; make the folder '
                    .'readable and read the card again.',
                '' === $path ? '/' : $path,
                $reason,
            ),
            true,
        );
    }

    public static function fileUnreadable(string $path, string $reason): self
    {
        return new self(
            'file_unreadable',
            $path,
            \sprintf(
                '“%s” could not be read (%s). It is untouched on the card; everything else was read.',
                $path,
                $reason,
            ),
            true,
        );
    }

    public static function folderTooDeep(string $path): self
    {
        return new self(
            'folder_too_deep',
            $path,
            \sprintf(
                'The folder “%s” lies more than %d folders deep and was not read. Everything above it was.',
                $path,
                CardWalk::DEEPEST,
            ),
            true,
        );
    }

    public static function nameNotText(string $path): self
    {
        return new self(
            'name_not_text',
            mb_scrub($path, 'UTF-8'),
            \sprintf(
                'The name “%s” is not valid Unicode text, so the file cannot be filed under a safe name. It is '
                    .'untouched on the card; give it another name on a copy of the card to take it in.',
                mb_scrub($path, 'UTF-8'),
            ),
            true,
        );
    }
}
