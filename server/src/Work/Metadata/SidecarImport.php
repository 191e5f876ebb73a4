<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

use Velvet\Core\Filed\SidecarVerdict;
use Velvet\Core\Filed\Tab;
use Velvet\Core\Filed\TabWriting;
use Velvet\Core\Filed\VerdictsUnreadable;
use Velvet\Server\Store\FrameFinder;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Tabs;

/**
 * Verdicts and stars of another program's sidecars, wherever these lie; their labels where a tab of that name is
 * written as the label. The sidecars are read only.
 *
 * @phpstan-type Change array{shoot: int, frames: non-empty-list<int>, change: WordsChange}
 */
final readonly class SidecarImport
{
    public function __construct(private FrameFinder $finder, private Tabs $tabs)
    {
    }

    /** Whether a path is that of a sidecar or of a folder where such may lie. */
    public static function isMeant(string $path): bool
    {
        return is_dir($path) || 'xmp' === strtolower(pathinfo($path, \PATHINFO_EXTENSION));
    }

    /**
     * @param list<string>             $paths  absolute
     * @param non-empty-list<int>|null $shoots null: sidecars lie beside the files of their frames
     *
     * @return array{list<Change>, list<string>, list<string>} frames of one shoot that the same is said of together;
     *     the sidecars whose frame is not known, or may be one of several; of those that cannot be read, why
     */
    public function changes(array $paths, ?array $shoots): array
    {
        $labels = [];
        foreach ($this->tabs->all() as $tab) {
            if (TabWriting::Label === $tab->writes) {
                $labels[$tab->id] = $tab;
            }
        }
        $changes = $unknown = $unread = [];
        $named = null === $shoots ? [] : self::named($this->finder->filesOf($shoots));
        $folder = null;
        foreach (self::sidecars($paths) as $path) {
            if (null === $shoots && $folder !== \dirname($path)) {
                $folder = \dirname($path);
                $named = self::named($this->finder->filesIn($folder));
            }
            try {
                $said = SidecarVerdict::read($path);
            } catch (VerdictsUnreadable $e) {
                $unread[] = $e->getMessage();
                continue;
            }
            if (!$said->saysAnything()) {
                continue;
            }
            $frames = $named[self::folded(pathinfo($path, \PATHINFO_FILENAME))] ?? [];
            if (1 !== \count($frames)) {
                $unknown[] = $path;
                continue;
            }
            $frame = array_key_first($frames);
            $shoot = $frames[$frame];
            $label = $said->label;
            $tabs = null === $label ? [] : array_keys(
                array_filter($labels, static fn (Tab $tab): bool => $tab->isCalled($label)),
            );
            if (null === $said->verdict && null === $said->stars && [] === $tabs) {
                continue;
            }
            $same = implode(' ', [$shoot, $said->verdict?->value, $said->stars, ...$tabs]);
            $changes[$same] = [
                'shoot' => $shoot,
                'frames' => array_values(array_unique([...$changes[$same]['frames'] ?? [], $frame])),
                'change' => new WordsChange(rating: $said->stars, verdict: $said->verdict, tabs: $tabs),
            ];
        }

        return [array_values($changes), $unknown, $unread];
    }

    /**
     * A sidecar is called after one of the files of its frame, with or without that one's extension, as it is called
     * now or was on the card.
     *
     * @param iterable<Row> $files as {@see FrameFinder::filesOf()} has them
     *
     * @return array<string, non-empty-array<int, int>> by the name, the shoots of the frames that may be meant, by the
     *     frame
     */
    private static function named(iterable $files): array
    {
        $named = [];
        foreach ($files as $file) {
            foreach ([$file->text('path'), $file->text('original_path')] as $path) {
                foreach ([basename($path), pathinfo($path, \PATHINFO_FILENAME)] as $name) {
                    $named[self::folded($name)][$file->int('frame')] = $file->int('shoot');
                }
            }
        }

        return $named;
    }

    /** An editor may write another case. */
    private static function folded(string $name): string
    {
        return mb_strtolower($name);
    }

    /**
     * @param list<string> $paths
     *
     * @return list<string> the sidecars among them and below them, in the order of their paths
     */
    private static function sidecars(array $paths): array
    {
        $found = [];
        foreach ($paths as $path) {
            if (!is_dir($path)) {
                $found[] = $path;
                continue;
            }
            $below = new \RecursiveIteratorIterator(
                new \RecursiveDirectoryIterator($path, \FilesystemIterator::SKIP_DOTS),
                \RecursiveIteratorIterator::LEAVES_ONLY,
                \RecursiveIteratorIterator::CATCH_GET_CHILD,
            );
            foreach ($below as $file) {
                if ($file instanceof \SplFileInfo && 'xmp' === strtolower($file->getExtension())) {
                    $found[] = $file->getPathname();
                }
            }
        }
        sort($found);

        return $found;
    }
}
