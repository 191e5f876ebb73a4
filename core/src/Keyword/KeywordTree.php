<?php

declare(strict_types=1);

namespace Velvet\Core\Keyword;

use Velvet\Core\Metadata\Metadata;

/**
 * The catalogue of keywords: what is written for a frame that has some of them, and which are meant by what is being
 * typed.
 */
final class KeywordTree
{
    /** @var array<int, Keyword> */
    private array $keywords = [];
    /** @var array<string, int> ids by the folded path */
    private array $byPath = [];
    /** @var array<string, list<int>> ids by the folded name */
    private array $byName = [];

    /** @param iterable<Keyword> $keywords */
    public function __construct(iterable $keywords = [])
    {
        foreach ($keywords as $keyword) {
            $this->keywords[$keyword->id] = $keyword;
            $this->byName[KeywordPath::folded($keyword->name)][] = $keyword->id;
        }
        foreach ($this->keywords as $id => $keyword) {
            $this->byPath[$this->path($id)->key()] = $id;
        }
    }

    public function has(int $id): bool
    {
        return isset($this->keywords[$id]);
    }

    public function get(int $id): Keyword
    {
        return $this->keywords[$id] ?? throw new \OutOfBoundsException("There is no keyword $id.");
    }

    public function path(int $id): KeywordPath
    {
        return KeywordPath::of(array_map(static fn (Keyword $keyword): string => $keyword->name, $this->line($id)));
    }

    public function find(KeywordPath $path): ?Keyword
    {
        $id = $this->byPath[$path->key()] ?? null;

        return null === $id ? null : $this->keywords[$id];
    }

    /**
     * Where a keyword belongs that is named without those above it: beneath them where the catalogue has just one of
     * the name, else outermost.
     */
    public function placed(KeywordPath $path): KeywordPath
    {
        if (\count($path->names) > 1 || null !== $this->find($path)) {
            return $path;
        }
        $named = $this->byName[$path->key()] ?? [];

        return 1 === \count($named) ? $this->path($named[0]) : $path;
    }

    /** Whether one lies beneath the other, or is the same. */
    public function isWithin(int $id, int $other): bool
    {
        return \in_array($other, array_map(static fn (Keyword $keyword): int => $keyword->id, $this->line($id)), true);
    }

    /**
     * What files say that have these keywords. A keyword that is not in the catalogue is an ordinary one.
     *
     * @param list<KeywordPath> $paths
     *
     * @return array{list<string>, list<non-empty-list<string>>} written flat, each once; and nested, outermost first
     *     (only those that have one above them)
     */
    public function written(array $paths): array
    {
        $flat = $nested = [];
        foreach ($paths as $path) {
            $line = $this->lineOf($path);
            $last = $line[\count($line) - 1];
            if ($last->private || $last->heading) {
                continue;
            }
            $said = array_map(
                static fn (Keyword $keyword): string => $keyword->name,
                array_values(
                    array_filter($line, static fn (Keyword $keyword): bool => !$keyword->private && !$keyword->heading),
                ),
            );
            foreach ($last->withAbove ? $said : [$last->name] as $name) {
                $flat[KeywordPath::folded($name)] ??= $name;
            }
            if (\count($said) > 1) {
                $nested[KeywordPath::folded(implode(KeywordPath::STEP, $said))] ??= $said;
            }
        }

        return [array_values($flat), array_values($nested)];
    }

    /**
     * The keywords that a file has, as those of the catalogue: nested ones by their place, others by their name.
     *
     * @return list<KeywordPath>
     */
    public function saidBy(Metadata $file): array
    {
        $paths = [];
        $inside = [];
        foreach (self::nested($file) as $path) {
            $paths[$path->key()] = $path;
            foreach ($path->names as $name) {
                $inside[KeywordPath::folded($name)] = true;
            }
        }
        foreach ($file->keywords ?? [] as $word) {
            $path = self::flat($word);
            if (null !== $path && !isset($inside[KeywordPath::folded($word)])) {
                $placed = $this->placed($path);
                $paths[$placed->key()] ??= $placed;
            }
        }

        return array_values($paths);
    }

    /**
     * The keywords that stand in a file, without any catalogue.
     *
     * @return list<KeywordPath>
     */
    public static function namedBy(Metadata $file): array
    {
        return [
            ...self::nested($file),
            ...array_values(array_filter(array_map(self::flat(...), $file->keywords ?? []), is_object(...))),
        ];
    }

    /** @return list<KeywordPath> */
    private static function nested(Metadata $file): array
    {
        $paths = [];
        foreach ($file->paths as $names) {
            try {
                $paths[] = KeywordPath::of($names);
            } catch (KeywordRefused) {
                continue; // of blanks only, or deeper than the catalogue
            }
        }

        return $paths;
    }

    private static function flat(string $word): ?KeywordPath
    {
        try {
            return KeywordPath::of([str_replace('›', '>', $word)]);
        } catch (KeywordRefused) {
            return null; // of blanks only
        }
    }

    /**
     * Keywords that may be meant by what is being typed: those that begin so before those of which a later word does,
     * and among them the most used and the latest used first. Accents and case do not matter. With nothing typed, the
     * latest used.
     *
     * @return list<array{Keyword, string|null}> with the synonym by which one was found
     */
    public function meantBy(string $typed, int $most): array
    {
        $wanted = self::plain($typed);
        /** @var list<array{int, Keyword, string|null}> $found */
        $found = [];
        foreach ($this->keywords as $keyword) {
            if ($keyword->heading) {
                continue;
            }
            if ('' === $wanted) {
                if ($keyword->lastUsed > 0) {
                    $found[] = [0, $keyword, null];
                }
                continue;
            }
            $rank = self::rank(
                $wanted,
                self::plain($keyword->name),
                str_contains($wanted, '›') ? self::plain($this->path($keyword->id)->text()) : null,
            );
            $by = null;
            foreach (null === $rank ? $keyword->synonyms : [] as $synonym) {
                $rank = self::rank($wanted, self::plain($synonym), null);
                if (null !== $rank) {
                    $by = $synonym;
                    break;
                }
            }
            if (null !== $rank) {
                $found[] = [$rank, $keyword, $by];
            }
        }
        usort(
            $found,
            static fn (array $a, array $b): int => self::order($a[0], $a[1], '' === $wanted)
                <=> self::order($b[0], $b[1], '' === $wanted),
        );

        return array_map(static fn (array $one): array => [$one[1], $one[2]], \array_slice($found, 0, $most));
    }

    /** @return list<Keyword> in the order of their names, each above those beneath it */
    public function inOrder(): array
    {
        $beneath = [];
        foreach ($this->keywords as $keyword) {
            $beneath[$keyword->above ?? 0][] = $keyword;
        }
        $collator = new \Collator('root');
        $ordered = [];
        $walk = static function (int $above) use (&$walk, &$ordered, $beneath, $collator): void {
            $here = $beneath[$above] ?? [];
            usort($here, static fn (Keyword $a, Keyword $b): int => (int) $collator->compare($a->name, $b->name));
            foreach ($here as $keyword) {
                $ordered[] = $keyword;
                $walk($keyword->id);
            }
        };
        $walk(0);

        return $ordered;
    }

    /** @return non-empty-list<Keyword> from the outermost down to the keyword itself */
    private function line(int $id): array
    {
        $line = [$this->get($id)];
        while (null !== $line[0]->above && \count($line) <= \count($this->keywords)) {
            array_unshift($line, $this->get($line[0]->above));
        }

        return $line;
    }

    /** @return non-empty-list<Keyword> */
    private function lineOf(KeywordPath $path): array
    {
        $line = [];
        foreach ($path->names as $n => $name) {
            $line[] = $this->find(
                KeywordPath::of(\array_slice($path->names, 0, $n + 1)),
            ) ?? new Keyword(0, null, $name);
        }

        return $line;
    }

    /** @return array{int, int, int, int, string} what is smaller comes first */
    private static function order(int $rank, Keyword $keyword, bool $latestFirst): array
    {
        return [$rank, $latestFirst ? -$keyword->lastUsed : 0, -$keyword->uses, -$keyword->lastUsed, $keyword->name];
    }

    /** @return int|null 0 where it begins so, 1 where a later word does, 2 where it is somewhere inside */
    private static function rank(string $wanted, string $name, ?string $path): ?int
    {
        return match (true) {
            str_starts_with($name, $wanted) => 0,
            str_contains($name, ' '.$wanted), str_contains($name, '-'.$wanted) => 1,
            // words of scripts without blanks, and ends of compound words, are found too, once there is something to
            // go by
            mb_strlen($wanted) > 1 && str_contains($name, $wanted) => 2,
            null !== $path && str_starts_with($path, $wanted) => 1,
            default => null,
        };
    }

    /** Without accents and case. */
    private static function plain(string $text): string
    {
        $apart = \Normalizer::normalize($text, \Normalizer::FORM_KD);

        return trim(KeywordPath::folded(preg_replace('/\p{Mn}+/u', '', \is_string($apart) ? $apart : $text) ?? $text));
    }
}
