<?php

declare(strict_types=1);

namespace Velvet\Core\Shoot;

/**
 * The number the camera gave a picture: the digits at the end of its name, and those of its DCF folder before them
 * (DCF 2.0, CIPA DC-009, 3.2: folders `100ABCDE` to `999ABCDE`, files `ABCD0001` to `ABCD9999`).
 */
final readonly class OriginalNumber
{
    /** After this the counter starts again at 1. */
    private const LAST = 9999;
    /**
     * Numbers of one moment that leave so wide a gap between them lie on either side of the counter's end (common
     * practice).
     */
    private const ROLL_OVER = 5000;

    /**
     * @param int|null $folder 100 to 999; null where the folder is not DCF's
     * @param int|null $file   null where the name does not end in digits
     */
    private function __construct(public ?int $folder, public ?int $file)
    {
    }

    /** @param string $path on the card, with `/` */
    public static function of(string $path): self
    {
        $parts = explode('/', $path);
        $stem = pathinfo(array_pop($parts), \PATHINFO_FILENAME);

        return new self(
            1 === preg_match('/^([1-9]\d\d)[0-9A-Z_]{5}$/i', $parts[\count($parts) - 1] ?? '', $folder)
                ? (int) $folder[1]
                : null,
            self::atTheEndOf($stem),
        );
    }

    /**
     * The number at the end of a name; null where it does not end in digits.
     *
     * @param string $stem without an extension
     */
    public static function atTheEndOf(string $stem): ?int
    {
        $digits = substr($stem, \strlen(rtrim($stem, '0123456789')));

        return '' === $digits ? null : (int) substr($digits, -9);
    }

    /**
     * The lowest number that was given before the counter rolled over; 0 where it did not.
     *
     * @param list<int> $numbers of one folder and one moment
     */
    public static function rollOver(array $numbers): int
    {
        sort($numbers);
        if ([] === $numbers || $numbers[\count($numbers) - 1] > self::LAST) {
            return 0;
        }
        foreach ($numbers as $i => $number) {
            if ($i > 0 && $number - $numbers[$i - 1] > self::ROLL_OVER) {
                return $number;
            }
        }

        return 0;
    }

    /** This number as it would be, had the counter gone on. */
    public function unrolled(int $rollOver): ?int
    {
        return null === $this->file ? null : $this->file + ($this->file < $rollOver ? self::LAST : 0);
    }
}
