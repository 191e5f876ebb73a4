<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

/** A name as a row of pieces. */
final readonly class NamePattern
{
    private const MOST_PIECES = 24;
    /**
     * Bytes of a folder's name, and of a file's without its extension: with year, subfolder and extensions a path stays
     * below the 260 characters that some systems and editors take (common practice).
     */
    public const LONGEST = 110;

    /** @param non-empty-list<Piece> $pieces */
    private function __construct(public array $pieces)
    {
    }

    /**
     * A pattern for the names of files.
     *
     * @param list<Piece> $pieces
     *
     * @throws PatternRefused
     */
    public static function ofFiles(array $pieces): self
    {
        $pattern = self::of($pieces);
        foreach ($pieces as $piece) {
            if ($piece->tellsFramesApart()) {
                return $pattern;
            }
        }
        throw PatternRefused::notUnique();
    }

    /**
     * A pattern for the name of a folder.
     *
     * @param list<Piece> $pieces
     *
     * @throws PatternRefused
     */
    public static function ofFolder(array $pieces): self
    {
        foreach ($pieces as $piece) {
            if (!$piece->kind->namesFolders()) {
                throw PatternRefused::ofTheFrame($piece->kind);
            }
        }

        return self::of($pieces);
    }

    /** @return list<array<string, string|int>> */
    public function toArray(): array
    {
        return array_map(static fn (Piece $piece): array => $piece->toArray(), $this->pieces);
    }

    public function counter(): ?Piece
    {
        foreach ($this->pieces as $piece) {
            if (PieceKind::Counter === $piece->kind) {
                return $piece;
            }
        }

        return null;
    }

    public function says(PieceKind $kind): bool
    {
        return \in_array($kind, array_map(static fn (Piece $piece): PieceKind => $piece->kind, $this->pieces), true);
    }

    /** The folder's name; `undated` stands for dates of frames that have none. */
    public function folder(ShootNaming $shoot): string
    {
        return $this->in($shoot)->folder();
    }

    /** The names this pattern gives in one shoot; what is the same for all its frames is worked out once. */
    public function in(ShootNaming $shoot): NamesInShoot
    {
        return new NamesInShoot($this, $shoot);
    }

    /**
     * @param list<Piece> $pieces
     *
     * @throws PatternRefused
     */
    private static function of(array $pieces): self
    {
        if ([] === $pieces) {
            throw PatternRefused::empty();
        }
        if (\count($pieces) > self::MOST_PIECES) {
            throw PatternRefused::tooLong(self::MOST_PIECES);
        }
        if (\count(array_filter($pieces, static fn (Piece $piece): bool => PieceKind::Counter === $piece->kind)) > 1) {
            throw PatternRefused::manyCounters();
        }

        return new self($pieces);
    }
}
