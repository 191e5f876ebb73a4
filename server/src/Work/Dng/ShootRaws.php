<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Dng;

use Doctrine\DBAL\Connection;
use Symfony\Component\Messenger\MessageBusInterface;
use Velvet\Core\Filed\FiledFile;
use Velvet\Core\Style\DngChoice;
use Velvet\Server\Store\FiledFiles;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Rows;

/**
 * Of a selection of filed frames: which raw files can become DNG, and which lie within theirs; either is done in the
 * background.
 */
final readonly class ShootRaws
{
    private const OF = 'FROM filed_file f JOIN filed_frame r ON r.id = f.frame_id WHERE r.shoot_id = :shoot
        AND r.id IN (SELECT value::bigint FROM jsonb_array_elements_text(CAST(:frames AS jsonb))) AND ';
    private const UNDER_WAY = "f.dng_state IN ('waiting', 'leaving', 'returning')";
    private const CONVERTIBLE = "f.kind = 'raw' AND f.dng_state IN ('none', 'refused', 'made') AND NOT EXISTS (SELECT
        FROM filed_file d WHERE d.made_from = f.id)";
    private const INSIDE = "f.kind = 'dng' AND f.dng_choice = 'embed' AND f.raw_path IS NOT NULL AND f.dng_state IN ('made', 'refused')";

    public function __construct(
        private Connection $database,
        private FiledFiles $files,
        private Rows $rows,
        private MessageBusInterface $bus,
        private Happenings $happenings,
    ) {
    }

    /**
     * @param list<int> $frames
     *
     * @return array{raws: int, inside: int, made: int, waiting: int, refused: list<string>} raw files that can be
     *     converted, that lie within their DNGs, that are DNG, that wait for either; and why some were not
     */
    public function of(int $shoot, array $frames): array
    {
        $of = ['shoot' => $shoot, 'frames' => json_encode($frames, \JSON_THROW_ON_ERROR)];
        $sum = $this->rows->one(
            'SELECT count(*) FILTER (WHERE '.self::CONVERTIBLE.') AS raws, count(*) FILTER (WHERE '.self::INSIDE.') AS
                inside, count(*) FILTER (WHERE f.samples IS NOT NULL) AS made,
                count(*) FILTER (WHERE '.self::UNDER_WAY.') AS waiting '.self::OF.'true',
            $of,
        );

        return [
            'raws' => $sum->int('raws'), 'inside' => $sum->int('inside'), 'made' => $sum->int('made'),
            'waiting' => $sum->int('waiting'),
            'refused' => array_map(
                static fn (Row $row): string => $row->text('dng_note'),
                $this->rows->all('SELECT f.dng_note '.self::OF."f.dng_state = 'refused' ORDER BY f.id", $of),
            ),
        ];
    }

    /**
     * @param list<int> $frames
     * @param DngChoice $choice beside or embed: only at the intake the raw file is on its card as well
     */
    public function convert(int $shoot, array $frames, DngChoice $choice): void
    {
        \assert(DngChoice::Beside === $choice || DngChoice::Embed === $choice);
        $this->ask(self::CONVERTIBLE, $shoot, $frames, static function (FiledFile $file) use ($choice): bool {
            $may = $file->mayBecomeDng();
            if ($may) {
                $file->dngAsked($choice);
            }

            return $may;
        });
    }

    /** @param list<int> $frames */
    public function takeOut(int $shoot, array $frames): void
    {
        $this->ask(self::INSIDE, $shoot, $frames, static function (FiledFile $file): bool {
            $may = $file->mayGiveRawBack();
            if ($may) {
                $file->rawAskedBack();
            }

            return $may;
        });
    }

    /** Files that are still to be converted or taken out, those of intakes under way not counted. */
    public function left(): int
    {
        return $this->rows->one(
            'SELECT count(*) AS n FROM filed_file f JOIN intake i ON i.id = f.intake_id WHERE '.self::UNDER_WAY." AND i.state IN ('done', 'stopped')",
        )->int('n');
    }

    /**
     * @param list<int>                  $frames
     * @param \Closure(FiledFile): bool $ask    whether it could be asked for
     */
    private function ask(string $which, int $shoot, array $frames, \Closure $ask): void
    {
        $files = $this->rows->all(
            'SELECT f.id '.self::OF.$which.' ORDER BY f.id',
            ['shoot' => $shoot, 'frames' => json_encode($frames, \JSON_THROW_ON_ERROR)],
        );
        $asked = $this->database->transactional(fn (): int => \count(
            array_filter($files, fn (Row $row): bool => $this->files->change($row->int('id'), $ask)),
        ));
        if ($asked > 0) {
            $this->bus->dispatch(new ConvertRaws());
            $this->happenings->tell('dng', ['intake' => null]);
        }
    }
}
