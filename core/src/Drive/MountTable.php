<?php

declare(strict_types=1);

namespace Velvet\Core\Drive;

/** What is mounted where, at one moment (Linux `proc(5)`, `/proc/PID/mountinfo`). */
final readonly class MountTable
{
    private const NOW = '/proc/self/mountinfo';

    /** @param list<Mount> $mounts in the order in which they were made */
    private function __construct(private array $mounts)
    {
    }

    public static function now(): self
    {
        return self::of((string) @file_get_contents(self::NOW));
    }

    /** @param string $table lines as `mountinfo` has them; what is no such line is passed over */
    public static function of(string $table): self
    {
        $mounts = [];
        foreach (explode("\n", $table) as $line) {
            [$before, $after] = [...explode(' - ', $line, 2), ''];
            $fields = explode(' ', $before);
            $behind = explode(' ', $after);
            if (\count($fields) >= 6 && \count($behind) >= 2) {
                $mounts[] = new Mount(
                    (int) $fields[0],
                    $fields[2],
                    self::plain($fields[3]),
                    self::plain($fields[4]),
                    $behind[0],
                    self::plain($behind[1]),
                );
            }
        }

        return new self($mounts);
    }

    /**
     * The mount that a path lies on: the innermost, and of several at one folder the last, which hides the others.
     *
     * @param string $realPath absolute, without links
     */
    public function holding(string $realPath): ?Mount
    {
        $found = null;
        foreach ($this->mounts as $mount) {
            $isDeeper = null === $found || \strlen($mount->point) >= \strlen($found->point);
            if ($isDeeper && $mount->holds($realPath)) {
                $found = $mount;
            }
        }

        return $found;
    }

    /** The mount at exactly this folder; null where the folder is only one of a larger file system. */
    public function at(string $realPath): ?Mount
    {
        $mount = $this->holding($realPath);

        return $mount?->point === $realPath ? $mount : null;
    }

    /** Blanks, tabs, line feeds and backslashes stand there as three octal digits. */
    private static function plain(string $field): string
    {
        return (string) preg_replace_callback(
            '/\\\\([0-7]{3})/',
            static fn (array $octal): string => \chr((int) octdec($octal[1])),
            $field,
        );
    }
}
