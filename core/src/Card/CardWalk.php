<?php

declare(strict_types=1);

namespace Velvet\Core\Card;

use Velvet\Core\Bytes\SystemReason;
use Velvet\Core\Drive\FileStamp;

/**
 * Walks a card's folders and lists what lies there. Opens folders for reading and nothing else: no file is opened.
 *
 * Symbolic links are never followed: a card has none (FAT and exFAT know no links), so one is either a mistake or a
 * trap.
 */
final class CardWalk
{
    /** Folders deeper than this are reported and not read. DCF 2.0 uses two levels. */
    public const DEEPEST = 24;

    /** Folders that cameras and computers keep for themselves (common practice); what lies in them makes no frames. */
    private const HOUSEKEEPING = [
        'misc', 'system volume information', 'lost.dir', '$recycle.bin', 'found.000', 'avf_info', 'canonmsc',
    ];

    /** @var list<CardProblem> */
    private array $problems = [];

    /** @var list<CardFile> */
    private array $files = [];

    private function __construct(private readonly string $root)
    {
    }

    /** @throws CardUnreadable when the root itself cannot be opened */
    public static function of(string $root): CardListing
    {
        $root = rtrim($root, '/');
        $root = '' === $root ? '/' : $root;
        if (!file_exists($root)) {
            throw CardUnreadable::missing($root);
        }
        if (!is_dir($root)) {
            throw CardUnreadable::notAFolder($root);
        }
        $walk = new self($root);
        $walk->folder('', 0, false);
        clearstatcache();
        if (!self::isThere($root)) {
            throw CardUnreadable::pulled($root);
        }
        foreach ($walk->problems as $problem) {
            if ('' === $problem->path && 'folder_unreadable' === $problem->code) {
                throw CardUnreadable::at($root, 'permission denied');
            }
        }

        return new CardListing($walk->files, $walk->problems);
    }

    /** @phpstan-impure a card can be pulled out at any time */
    private static function isThere(string $root): bool
    {
        return is_dir($root);
    }

    private function folder(string $relative, int $depth, bool $housekeeping): void
    {
        if ($depth > self::DEEPEST) {
            $this->problems[] = CardProblem::folderTooDeep($relative);

            return;
        }
        $folder = '' === $relative ? $this->root : $this->root.'/'.$relative;
        $names = @scandir($folder);
        if (false === $names) {
            error_clear_last();
            @opendir($folder); // says why; scandir warns twice, and the second time of what came after
            $this->problems[] = CardProblem::folderUnreadable($relative, SystemReason::last());

            return;
        }
        foreach ($names as $name) {
            if ('.' === $name || '..' === $name) {
                continue;
            }
            $this->entry($relative, $name, $depth, $housekeeping);
        }
    }

    private function entry(string $folder, string $name, int $depth, bool $housekeeping): void
    {
        $path = '' === $folder ? $name : $folder.'/'.$name;
        $absolute = $this->root.'/'.$path;
        if (!mb_check_encoding($name, 'UTF-8')) {
            $this->problems[] = CardProblem::nameNotText($path);

            return;
        }
        $stat = @lstat($absolute);
        if (false === $stat) {
            $this->problems[] = CardProblem::fileUnreadable($path, SystemReason::last());

            return;
        }
        $hidden = $housekeeping || '.' === $name[0] || \in_array(strtolower($name), self::HOUSEKEEPING, true);
        switch ($stat['mode'] & 0o170000) {
            case 0o120000:
                $this->problems[] = CardProblem::symbolicLink($path);
                break;
            case 0o040000:
                $this->folder($path, $depth + 1, $hidden);
                break;
            case 0o100000:
                $kind = $hidden ? FileKind::Other : FileKind::ofName($name);
                $this->files[] = new CardFile(
                    $path,
                    $kind,
                    $stat['size'],
                    $stat['mtime'],
                    FileStamp::of($absolute)?->text() ?? '',
                );
                break;
            default:
                $this->problems[] = CardProblem::fileUnreadable($path, 'it is neither a file nor a folder');
        }
    }
}
