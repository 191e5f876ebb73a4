<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Bytes\StructureBroken;
use Velvet\Core\Metadata\MetadataCopy;
use Velvet\Core\Style\SidecarName;

/**
 * Whether another program changed a filed file, or its sidecar: by size and time first, then by its digest. Nothing is
 * written.
 */
final readonly class OutsideLook
{
    /** Seconds; FAT keeps times to two of them. */
    private const TIMES_DIFFER = 2;

    /** @param list<KeptCopy> $copies of the file */
    public function __construct(private FiledFile $file, private FilePlaces $places, private array $copies)
    {
    }

    /** Whether a closer look, with the file to oneself, would find something to do. */
    public function findsAnything(): bool
    {
        foreach ($this->copies as $copy) {
            if ($copy->isBehind() && \in_array($copy->place->root, $this->places->connected, true)) {
                return true;
            }
        }

        return null !== $this->file->outside() || null !== $this->change();
    }

    /** What another program changed; null where nothing is, or ours is on its way. */
    public function change(): ?OutsideChange
    {
        if (null !== $this->file->writing()) {
            return null;
        }
        foreach (SidecarName::cases() as $naming) {
            $target = MetadataTarget::of($this->file, $this->places, $naming);
            $found = $this->changeAt($target);
            if (null !== $found || !$target->isSidecar || null !== $target->content) {
                return $found; // there is just one place to look at where that is known
            }
        }

        return null;
    }

    /** Where a change was found. */
    public function target(OutsideChange $change): MetadataTarget
    {
        $stem = MetadataTarget::of($this->file, $this->places, SidecarName::Stem);

        return $stem->path === $change->path
            ? $stem
            : MetadataTarget::of($this->file, $this->places, SidecarName::Whole);
    }

    /**
     * Copies that still have what was verified there before the others got another content, while their drive was away.
     *
     * @return array{string, array<string, Digest>}|null the copy that has it, absolute; what each of those behind has
     *     now, by its root; null where none is, or no copy has it
     */
    public function behind(): ?array
    {
        $target = MetadataTarget::of($this->file, $this->places, SidecarName::Stem);
        if ($target->isSidecar || null === $target->content) {
            return null;
        }
        $has = array_values(array_filter($target->paths(), $target->content->digest->isOfFile(...)));
        $behind = [];
        foreach ([] === $has ? [] : $this->places->connected as $root) {
            $path = $root.'/'.$target->path;
            try {
                $digest = is_file($path) ? Digest::ofFile($path) : null;
            } catch (FileUnreadable) {
                continue; // it stays behind, which a check of the drives says
            }
            if (null !== $digest && $this->isBehind($root, $digest)) {
                $behind[$root] = $digest;
            }
        }

        return [] === $behind ? null : [$has[0], $behind];
    }

    /**
     * Whether a change is taken over without asking: nothing that is said differs, and no place is away that may know
     * better.
     *
     * @param list<array{field: string, ours: string, theirs: string}> $differences
     */
    public function isOfNoConcern(OutsideChange $change, array $differences): bool
    {
        return !$change->pictureChanged && [] === $differences && $this->places->areConnected();
    }

    private function changeAt(MetadataTarget $target): ?OutsideChange
    {
        foreach ($this->places->connected as $root) {
            $path = $root.'/'.$target->path;
            clearstatcache(true, $path);
            if (!is_file($path)) {
                continue; // a check of the drives finds what is missing
            }
            [$bytes, $modifiedAt] = [(int) @filesize($path), (int) @filemtime($path)];
            if (
                $bytes === $target->content?->bytes
                && null !== $target->modifiedAt
                && abs($modifiedAt - $target->modifiedAt) <= self::TIMES_DIFFER
            ) {
                continue;
            }
            try {
                $digest = Digest::ofFile($path);
                if (
                    true === $target->content?->digest->equals($digest)
                    || (!$target->isSidecar && $this->isBehind($root, $digest))
                ) {
                    continue;
                }

                return new OutsideChange(
                    $root,
                    $target->path,
                    new Content($digest, $bytes),
                    $modifiedAt,
                    $target->kind->read(FileBytes::open($path)),
                    $this->isPictureChanged($target, $path),
                );
            } catch (StructureBroken|FileUnreadable) {
                continue; // it is damaged rather than edited, which a check of the drives says
            }
        }

        return null;
    }

    private function isBehind(string $root, Digest $digest): bool
    {
        foreach ($this->copies as $copy) {
            if ($copy->place->root === $root && $copy->verified->equals($digest) && $copy->isBehind()) {
                return true;
            }
        }

        return false;
    }

    /**
     * Whether the picture in a changed file is another one than was filed. Where nobody can tell, it is: unknown is
     * never unchanged.
     */
    private function isPictureChanged(MetadataTarget $target, string $theirs): bool
    {
        if ($target->isSidecar || null === $target->content) {
            return false;
        }
        $digest = static fn (string $path): string => MetadataCopy::pictureDigest(
            $target->kind,
            FileBytes::open($path),
        );
        if (null !== $this->file->pictureDigest()) {
            return $this->file->pictureDigest() !== $digest($theirs);
        }
        foreach ($target->paths() as $path) {
            if ($path !== $theirs && $target->content->digest->isOfFile($path)) {
                return $digest($path) !== $digest($theirs);
            }
        }

        return true;
    }
}
