<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Metadata\Metadata;

/** A copy of a filed file, or of its sidecar, that another program changed. */
final readonly class OutsideChange
{
    /**
     * @param string   $root           absolute: the place of the copy
     * @param string   $path           relative to it
     * @param int      $modifiedAt     Unix seconds
     * @param Metadata $says           what it says now
     * @param bool     $pictureChanged whether its picture is another one, too
     */
    public function __construct(
        public string $root,
        public string $path,
        public Content $content,
        public int $modifiedAt,
        public Metadata $says,
        public bool $pictureChanged,
    ) {
    }

    public function file(): string
    {
        return $this->root.'/'.$this->path;
    }

    /** @return array<string, mixed> as it is kept with the file */
    public function toArray(): array
    {
        return [
            'root' => $this->root, 'path' => $this->path, 'digest' => $this->content->digest->hex,
            'bytes' => $this->content->bytes, 'modified_at' => $this->modifiedAt,
            'says' => [
                'texts' => $this->says->texts, 'keywords' => $this->says->keywords,
                'paths' => $this->says->paths, 'rating' => $this->says->rating,
            ],
            'picture_changed' => $this->pictureChanged,
        ];
    }

    /** @param array<mixed> $members as {@see self::toArray()} made them */
    public static function fromArray(array $members): self
    {
        [$root, $path, $digest] = [$members['root'] ?? null, $members['path'] ?? null, $members['digest'] ?? null];
        [$bytes, $modifiedAt] = [$members['bytes'] ?? null, $members['modified_at'] ?? null];
        if (
            !\is_string($root) || !\is_string($path) || !\is_string($digest) || !\is_int($bytes)
            || !\is_int($modifiedAt)
        ) {
            throw new \UnexpectedValueException('What is kept of a change from outside is not whole.');
        }
        $says = $members['says'] ?? null;

        return new self(
            $root,
            $path,
            new Content(Digest::fromHex($digest), $bytes),
            $modifiedAt,
            Metadata::fromArray(\is_array($says) ? $says : []),
            true === ($members['picture_changed'] ?? null),
        );
    }
}
