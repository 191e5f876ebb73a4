<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Velvet\Core\Style\HouseStyle;
use Velvet\Core\Style\StyleRefused;
use Velvet\Server\StyleDocument;

/** House styles in files, as `docs/house-style.schema.json` describes them. */
final class StyleFile
{
    private const MOST_BYTES = 1_000_000;

    /** @throws StyleRefused */
    public static function read(string $path): HouseStyle
    {
        $json = @file_get_contents($path, false, null, 0, self::MOST_BYTES);
        if (false === $json) {
            throw StyleRefused::at(basename($path), 'the file cannot be read.');
        }
        try {
            return StyleDocument::read(json_decode($json, true, 32, \JSON_THROW_ON_ERROR));
        } catch (\JsonException $e) {
            throw StyleRefused::at(basename($path), \sprintf('it is not JSON (%s).', $e->getMessage()));
        }
    }

    public static function json(HouseStyle $style): string
    {
        return json_encode(
            $style->toArray(),
            \JSON_THROW_ON_ERROR | \JSON_PRETTY_PRINT | \JSON_UNESCAPED_UNICODE | \JSON_UNESCAPED_SLASHES,
        )."\n";
    }
}
