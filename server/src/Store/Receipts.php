<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\Digests;
use Velvet\Core\Bytes\SecondDigest;
use Velvet\Core\Ledger\ReceiptLine;
use Velvet\Core\Ledger\Seal;

/** What came of each file: of an intake, and of everything that is filed. */
final readonly class Receipts
{
    private const MADE = 'DNG of the raw file, every pixel value checked';

    public function __construct(private Rows $rows)
    {
    }

    /** The seal of an intake's last line; null while it is under way, and of intakes from before seals were kept. */
    public function seal(int $intakeId): ?Seal
    {
        $hex = $this->rows->first(
            'SELECT seal FROM intake WHERE id = :intake',
            ['intake' => $intakeId],
        )?->textOrNull('seal');

        return null === $hex ? null : new Seal($intakeId, $hex);
    }

    /** @return list<ReceiptLine> files in the order of the sheet, then what was not copied */
    public function ofIntake(int $intakeId): array
    {
        $lines = [];
        foreach ($this->rows->all(<<<'SQL'
            SELECT t.state, t.equals, t.source, t.target, CASE WHEN t.state = 'filed'
                THEN coalesce(f.bytes_now, t.bytes) ELSE t.bytes END AS bytes, t.modified_at, CASE
                WHEN t.state = 'filed' THEN coalesce(f.digest_now, t.digest) ELSE t.digest END AS digest, CASE
                WHEN f.digest_now IS NULL THEN f.second_digest
                ELSE f.second_now END AS second_digest, coalesce(t.failure, f.dng_note, f.metadata_note) AS failure,
                c.label, coalesce(o.name, e.name) AS shoot, (SELECT coalesce(jsonb_agg(p.root
                ORDER BY p.root <> s.root, p.id), '[]') FROM filed_copy k JOIN place p ON p.id = k.place_id
                WHERE k.file_id = f.id AND k.state = 'whole') AS places,
                   (SELECT coalesce(jsonb_agg(p.root ORDER BY p.root <> s.root, p.id), '[]') FROM filed_copy k
                       JOIN place p ON p.id = k.place_id WHERE k.file_id = d.id AND k.state = 'whole') AS dng_places,
                   f.filed_at, f.path AS filed, f.samples, d.path AS dng, coalesce(d.bytes_now, d.bytes) AS dng_bytes,
                       coalesce(d.digest_now, d.digest) AS dng_digest, CASE WHEN d.digest_now IS NULL
                       THEN d.second_digest ELSE d.second_now END AS dng_second, d.metadata_note AS dng_note
            FROM transfer t JOIN card c ON c.id = t.card_id JOIN entry e ON e.id = t.entry_id
                LEFT JOIN shoot o ON o.id = e.shoot_id
                 LEFT JOIN filed_file f ON f.id = t.filed_file_id LEFT JOIN filed_file d ON d.made_from = f.id
                     JOIN intake i ON i.id = t.intake_id JOIN shelf s ON s.id = coalesce(f.shelf_id, i.shelf_id)
            WHERE t.intake_id = :intake ORDER BY e.number, t.frame_position, t.id
            SQL, ['intake' => $intakeId]) as $row) {
            $state = $row->text('state');
            $filed = 'filed' === $state;
            $lines[] = new ReceiptLine(
                $state, $intakeId, $row->text('shoot'), $row->text('label'), $row->text('source'),
                $filed ? $row->text('filed') : null, $filed ? self::places($row, 'filed') : [], $row->int('bytes'),
                self::digests($row), $row->int('modified_at'), self::time($row), match (true) {
                    'failed' === $state => $row->text('failure'),
                    'same' === $state => 'equal to '.$row->text('target'),
                    null !== $row->textOrNull('samples') => self::noted($row->textOrNull('failure')),
                    default => $row->textOrNull('failure') ?? '',
                },
            );
            if ($filed && null !== $dng = $row->textOrNull('dng')) {
                $lines[] = new ReceiptLine(
                    $state, $intakeId, $row->text('shoot'), $row->text('label'), $row->text('source'), $dng,
                    self::places($row, 'dng', 'dng_places'), $row->int('dng_bytes'),
                    self::digests($row, 'dng_digest', 'dng_second'), $row->int('modified_at'), self::time($row),
                    self::noted($row->textOrNull('dng_note')),
                );
            }
        }
        foreach ($this->rows->all(<<<'SQL'
            SELECT k.state, k.path, k.bytes, k.same_as, k.problem, coalesce(o.name, e.name) AS shoot,
                (SELECT string_agg(c.label, ', ') FROM intake_card ic JOIN card c ON c.id = ic.card_id
                WHERE ic.intake_id = k.intake_id) AS label
            FROM skipped k JOIN entry e ON e.id = k.entry_id LEFT JOIN shoot o ON o.id = e.shoot_id
            WHERE k.intake_id = :intake AND NOT EXISTS (SELECT FROM transfer t WHERE t.entry_id = k.entry_id
                AND t.frame_position = k.frame_position)
            ORDER BY e.number, k.frame_position
            SQL, ['intake' => $intakeId]) as $row) {
            $lines[] = new ReceiptLine(
                'filed' === $row->text('state') ? 'already_filed' : $row->text('state'), $intakeId, $row->text('shoot'),
                $row->text('label'), $row->text('path'), null, [], $row->int('bytes'), null,
                note: '' === $row->text('same_as') ? $row->text('problem') : 'equal to '.$row->text('same_as'),
            );
        }

        return $lines;
    }

    /**
     * Everything that is filed, or one shoot.
     *
     * @param list<int>|null $shoots
     *
     * @return \Generator<int, ReceiptLine>
     */
    public function filed(?array $shoots = null): \Generator
    {
        $last = 0;
        do {
            $page = $this->rows->all(\sprintf(<<<'SQL'
                SELECT f.id, f.intake_id, f.path AS filed, coalesce(f.bytes_now, f.bytes) AS bytes,
                coalesce(f.digest_now, f.digest) AS digest,
                CASE WHEN f.digest_now IS NULL THEN f.second_digest ELSE f.second_now END AS second_digest,
                f.original_path, f.filed_at, f.samples, o.name AS shoot, coalesce(f.dng_note, f.metadata_note) AS note,
                       (SELECT coalesce(jsonb_agg(p.root ORDER BY p.root <> s.root, p.id), '[]') FROM filed_copy k
                           JOIN place p ON p.id = k.place_id WHERE k.file_id = f.id AND k.state = 'whole') AS places,
                       t.modified_at, c.label
                FROM filed_file f JOIN filed_frame r ON r.id = f.frame_id JOIN shoot o ON o.id = r.shoot_id
                    JOIN shelf s ON s.id = f.shelf_id
                     LEFT JOIN LATERAL (SELECT modified_at, card_id FROM transfer x
                         WHERE x.filed_file_id = coalesce(f.made_from, f.id) AND x.state = 'filed' ORDER BY x.id DESC
                         LIMIT 1) AS t ON true LEFT JOIN card c ON c.id = t.card_id
                WHERE f.id > :last %s ORDER BY f.id LIMIT 2000
                SQL, null === $shoots ? '' : 'AND r.shoot_id IN (:shoots)'), [
                'last' => $last,
            ] + (null === $shoots ? [] : ['shoots' => $shoots]));
            foreach ($page as $row) {
                $last = $row->int('id');
                yield new ReceiptLine(
                    'filed',
                    $row->int('intake_id'),
                    $row->text('shoot'),
                    $row->textOrNull('label') ?? '',
                    $row->text('original_path'),
                    $row->text('filed'),
                    self::places($row, 'filed'),
                    $row->int('bytes'),
                    self::digests($row),
                    $row->intOrNull('modified_at'),
                    self::time($row),
                    null === $row->textOrNull('samples')
                        ? $row->textOrNull('note') ?? ''
                        : self::noted($row->textOrNull('note')),
                );
            }
        } while ([] !== $page);
    }

    private static function noted(?string $more): string
    {
        return self::MADE.(null === $more ? '' : '. '.$more);
    }

    /** @return list<string> where it was verified, nowhere else */
    private static function places(Row $row, string $path, string $places = 'places'): array
    {
        return array_map(
            static fn (string $root): string => $root.'/'.$row->text($path),
            array_values(array_unique(array_filter($row->json($places), is_string(...)))),
        );
    }

    private static function digests(Row $row, string $first = 'digest', string $second = 'second_digest'): ?Digests
    {
        $hex = $row->textOrNull($first);
        if (null === $hex) {
            return null;
        }
        [$kind, $hexOfSecond] = explode(':', $row->textOrNull($second) ?? ':', 2);

        return new Digests(
            Digest::fromHex($hex),
            SecondDigest::tryFrom($kind),
            '' === $hexOfSecond ? null : $hexOfSecond,
        );
    }

    private static function time(Row $row): ?string
    {
        $at = $row->textOrNull('filed_at');

        return null === $at ? null : (new \DateTimeImmutable($at))->format('c');
    }
}
