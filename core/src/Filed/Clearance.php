<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

/**
 * The answer to "may I format this card?": yes when every file on it, but for housekeeping, is verified in two places
 * on two drives, and the card is the one that was copied. On one drive it is copied, not cleared, unless the
 * photographer says that one drive is enough. Anything that is not known stands against it.
 */
final readonly class Clearance
{
    private const NAMED = 3;

    /**
     * @param bool         $cleared      whether it may be formatted
     * @param bool         $copied       whether only the second drive is missing: all is in two places, on one drive
     * @param list<string> $missing      sentences, one for each thing that stands against it
     * @param int          $leftOut      frames left out by hand that nobody has let go of yet
     * @param int          $files        on the card
     * @param int          $inTwoPlaces  of these, on whatever drives
     * @param int          $housekeeping of these
     * @param int          $unknown      of these: of no frame, no housekeeping, and not filed
     * @param int          $onOneDrive   files in two places of one drive
     * @param int          $touched      copies that must be read again before they count
     */
    private function __construct(
        public bool $cleared,
        public bool $copied,
        public array $missing,
        public int $leftOut,
        public int $files,
        public int $inTwoPlaces,
        public int $housekeeping,
        public int $unknown,
        public int $onOneDrive,
        public int $touched,
    ) {
    }

    public static function of(CardSeen $card): self
    {
        $concern = array_values(
            array_filter($card->files, static fn (CardFileSeen $file): bool => !$file->isOfNoConcern()),
        );
        $twice = array_filter($card->files, static fn (CardFileSeen $file): bool => \count($file->places()) > 1);
        $oneDrive = array_values(
            array_filter(
                $concern,
                static fn (CardFileSeen $file): bool => \count($file->places()) > 1 && !$file->isOnTwoDrives(),
            ),
        );
        $unknown = array_values(
            array_filter($concern, static fn (CardFileSeen $file): bool => null === $file->frame && !$file->isFiled),
        );
        $leftOut = array_values(
            array_filter(
                $concern,
                static fn (CardFileSeen $file): bool => null !== $file->frame && !$file->isFiled && $file->leftOut,
            ),
        );
        $nowhere = array_values(
            array_filter(
                $concern,
                static fn (CardFileSeen $file): bool => null !== $file->frame && !$file->isFiled && !$file->leftOut,
            ),
        );
        $short = array_values(
            array_filter(
                $concern,
                static fn (CardFileSeen $file): bool => $file->isFiled && \count($file->places()) < 2,
            ),
        );

        $against = $card->against;
        if (!$card->wasTakenIn && [] !== $card->files && [] === $nowhere) {
            $against[] = 'This card has not been taken in yet.';
        }
        if (
            [] === $against
            && [] === $unknown
            && [] === array_filter($card->files, static fn (CardFileSeen $file): bool => null !== $file->frame)
        ) {
            $against[] = 'There are no frames on this card.';
        }
        if ([] !== $nowhere) {
            $against[] = self::frames(
                $nowhere,
                'is on this card and nowhere else',
                'are on this card and nowhere else',
            );
        }
        if ([] !== $leftOut) {
            $against[] = self::frames(
                $leftOut,
                'was left out and is on this card only',
                'were left out and are on this card only',
            );
        }
        if ([] !== $unknown) {
            $against[] = self::unknown($unknown);
        }
        array_push($against, ...self::short($short));
        $others = $against;
        if ([] !== $oneDrive && !$card->oneDriveIsEnough) {
            $against[] = self::frames(
                $oneDrive,
                'is in two places, but on one drive: if it breaks, both are gone',
                'are in two places, but on one drive: if it breaks, both are gone',
            );
        }

        return new self(
            [] === $against,
            [] === $others && [] !== $oneDrive,
            $against,
            \count(self::framesOf($leftOut)),
            \count($card->files),
            \count($twice),
            \count(array_filter($card->files, static fn (CardFileSeen $file): bool => null !== $file->housekeeping)),
            \count($unknown),
            \count($oneDrive),
            array_sum(
                array_map(
                    static fn (CardFileSeen $file): int => \count(
                        array_filter(
                            $file->copies,
                            static fn (CopySeen $copy): bool => CopyStanding::Touched === $copy->standing,
                        ),
                    ),
                    $concern,
                ),
            ),
        );
    }

    /**
     * Why files that are filed are not in two places: one sentence for each place and reason.
     *
     * @param list<CardFileSeen> $files with fewer than two places
     *
     * @return list<string>
     */
    private static function short(array $files): array
    {
        $reasons = $once = $nowhere = [];
        foreach ($files as $file) {
            $paths = [];
            foreach ($file->copies as $copy) {
                if (CopyStanding::Whole === $copy->standing) {
                    $paths[$copy->inode][] = $copy->root;
                } else {
                    $reasons[$copy->standing->value][$copy->root][] = $file;
                }
            }
            foreach ($paths as $roots) {
                if (\count($roots) > 1) {
                    $reasons['linked'][implode('” and “', $roots)][] = $file;
                }
            }
            if ([] === $paths) {
                $nowhere[] = $file;
            } elseif (\count($file->copies) < 2) {
                $once[] = $file; // of the others it is said where the second copy is, and why it does not count
            }
        }
        $sentences = [];
        if ([] !== $nowhere) {
            $sentences[] = self::frames(
                $nowhere,
                'is filed, but no copy of it can be vouched for now',
                'are filed, but no copy of them can be vouched for now',
            );
        }
        if ([] !== $once) {
            $sentences[] = self::frames(
                $once,
                'is verified in one place only; a second copy is missing',
                'are verified in one place only; a second copy is missing',
            );
        }
        foreach ($reasons as $reason => $byRoot) {
            foreach ($byRoot as $root => $of) {
                $sentences[] = self::reason($reason, (string) $root, \count($of));
            }
        }

        return $sentences;
    }

    private static function reason(string $reason, string $root, int $files): string
    {
        $isOne = 1 === $files;
        $copies = $isOne ? '1 copy' : number_format($files).' copies';

        return match ($reason) {
            'linked' => \sprintf('“%s” lead to the same files: that is one place, not two.', $root),
            CopyStanding::Touched->value => \sprintf(
                '%s on “%s” %s written to since %s verified, and must be read again first.',
                $copies,
                $root,
                $isOne ? 'was' : 'were',
                $isOne ? 'it was' : 'they were',
            ),
            CopyStanding::Changed->value => \sprintf(
                '%s on “%s” %s not what was verified there.',
                $copies,
                $root,
                $isOne ? 'is' : 'are',
            ),
            CopyStanding::BeingWritten->value => \sprintf(
                'Metadata is being written into %s on “%s”; wait for its end.',
                $copies,
                $root,
            ),
            CopyStanding::Missing->value => \sprintf('%s on “%s” %s missing.', $copies, $root, $isOne ? 'is' : 'are'),
            CopyStanding::Away->value => \sprintf(
                'The drive of “%s” is not connected, so %s there cannot be looked at.',
                $root,
                $copies,
            ),
            default => \sprintf('“%s” is no place of the shelf any more; what lies there does not count.', $root),
        };
    }

    /** @param non-empty-list<CardFileSeen> $files */
    private static function unknown(array $files): string
    {
        $names = array_map(static fn (CardFileSeen $file): string => $file->path, \array_slice($files, 0, self::NAMED));
        $more = \count($files) - \count($names);
        $list = implode(', ', $names).($more > 0 ? \sprintf(' and %s more', number_format($more)) : '');

        return 1 === \count($files)
            ? \sprintf('1 file on this card belongs to no frame and was not copied: %s.', $list)
            : \sprintf(
                '%s files on this card belong to no frame and were not copied: %s.',
                number_format(\count($files)),
                $list,
            );
    }

    /** @param non-empty-list<CardFileSeen> $files */
    private static function frames(array $files, string $one, string $many): string
    {
        $frames = \count(self::framesOf($files));
        [$n, $singular] = $frames > 0 ? [$frames, 'frame'] : [\count($files), 'file'];

        return 1 === $n ? "1 $singular $one." : number_format($n)." {$singular}s $many.";
    }

    /**
     * @param list<CardFileSeen> $files
     *
     * @return array<int, true>
     */
    private static function framesOf(array $files): array
    {
        return array_fill_keys(
            array_values(
                array_filter(array_map(static fn (CardFileSeen $file): ?int => $file->frame, $files), is_int(...)),
            ),
            true,
        );
    }
}
