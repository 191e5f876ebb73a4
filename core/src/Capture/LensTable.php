<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/**
 * Lenses by the numbers that stand in makers' notes. Nobody publishes these numbers but those who collect them; the
 * table is made at set-up from the one in Debian's package libimage-exiftool-perl (`core/bin/lens-table`), and no
 * part of it is ours to give on.
 */
final class LensTable
{
    public const CANON = 'canon';
    public const MINOLTA = 'minolta'; // and what came of it
    public const PENTAX = 'pentax';

    /** @var array<string, list<string>>|null by maker and number, one blank between; null while it is not read */
    private ?array $names = null;

    /** @param string|null $path absolute: lines of maker, number and name, tabs between; null for no table */
    public function __construct(private readonly ?string $path = null)
    {
    }

    /** Null where no lens has the number, or several have and nothing tells them apart. */
    public function name(LensNumber $lens): ?string
    {
        $this->names ??= $this->read();
        $names = array_filter(
            $this->names[$lens->maker.' '.$lens->number] ?? [],
            static fn (string $name): bool => self::fits($name, $lens->range),
        );

        return 1 === \count($names) ? current($names) : null;
    }

    /**
     * @param array{float, float}|null $range
     *
     * @return bool false, too, of what names no lens, but all that have no contacts, or all of one maker
     */
    private static function fits(string $name, ?array $range): bool
    {
        if (1 !== preg_match('~(?<![\d.])(\d+(?:\.\d+)?)(?:-(\d+(?:\.\d+)?))?\s?mm~', $name, $said)) {
            return false;
        }

        return null === $range || [(float) $said[1], (float) ($said[2] ?? $said[1])] === $range;
    }

    /** @return array<string, list<string>> */
    private function read(): array
    {
        $names = [];
        $lines = null === $this->path || !is_file($this->path) ? false : file($this->path, \FILE_IGNORE_NEW_LINES);
        foreach (false === $lines ? [] : $lines as $line) {
            [$maker, $number, $name] = [...explode("\t", $line, 3), '', ''];
            // the first of several lenses stands for them: “EF 50mm f/2.5 Macro or Sigma Lens”
            $name = preg_replace('~ or .* Lens( \(\d+\))?$~', '', $name) ?? $name;
            if (!\in_array($name, $names["$maker $number"] ?? [], true)) {
                $names["$maker $number"][] = $name;
            }
        }

        return $names;
    }
}
