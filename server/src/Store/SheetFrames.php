<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Velvet\Core\Capture\CameraBody;
use Velvet\Core\Capture\Exposed;
use Velvet\Core\Capture\ShotTime;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Naming\FrameNaming;
use Velvet\Core\Plan\FrameState;
use Velvet\Core\Plan\FrameToFile;
use Velvet\Core\Shoot\Clocks;
use Velvet\Core\Shoot\TimedFrame;

/** Reads frames with their files from the database. */
final readonly class SheetFrames
{
    public function __construct(private Rows $rows, private SheetClocks $clocks, private CameraNames $cameraNames)
    {
    }

    /**
     * @return list<TimedFrame> all frames of the sheet's cards, times corrected, with what division and order need and
     *     no more; the loose files of each card come behind the last frame, to which they belong therefore
     */
    public function timed(Intake $intake): array
    {
        $clocks = $this->clocks->of($intake->id());
        $timed = $loose = [];
        foreach ($this->rows->all(
            'SELECT f.id, f.captured_at, f.camera, f.path, f.loose FROM card_frame f
                JOIN intake_card ic ON ic.card_id = f.card_id WHERE ic.intake_id = :intake ORDER BY f.id',
            ['intake' => $intake->id()],
        ) as $row) {
            $frame = new TimedFrame(
                $row->int('id'),
                $clocks->corrected(self::time($row), $row->text('camera')),
                $row->text('camera'),
                $row->text('path'),
            );
            if ($row->bool('loose')) {
                $loose[] = $frame;
            } else {
                $timed[] = $frame;
            }
        }

        return [...$timed, ...TimedFrame::behind($loose, $timed)];
    }

    /** @return array<int, list<SheetFrame>> by entry, in the order of the sheet */
    public function ofIntake(int $intakeId): array
    {
        // told by their numbers, the database knows how many rows to expect
        $labels = $numbers = [];
        $cards = 'SELECT k.id, k.label FROM card k JOIN intake_card ic ON ic.card_id = k.id
            WHERE ic.intake_id = :intake';
        foreach ($this->rows->all($cards, ['intake' => $intakeId]) as $card) {
            $labels[$card->int('id')] = $card->text('label');
        }
        $entries = 'SELECT id FROM entry WHERE intake_id = :intake ORDER BY number';
        foreach ($this->rows->all($entries, ['intake' => $intakeId]) as $entry) {
            $numbers[] = $entry->int('id');
        }
        if ([] === $numbers) {
            return [];
        }
        $files = $this->files(array_keys($labels));
        $clocks = $this->clocks->of($intakeId);
        $names = $this->cameraNames->all();
        $framesOf = [];
        foreach ($this->rows->each(<<<'SQL'
            SELECT ef.entry_id, f.id, f.card_id, f.captured_at, f.camera, f.model, f.serial, f.exposure_value,
                f.exposure_bias, f.problems::text AS problems, f.picture,
                CASE WHEN f.left_out AND f.state = 'new' THEN 'left_out' ELSE f.state END AS state,
                m.brightness, m.black, m.clipped, m.sharpness
            FROM entry_frame ef JOIN card_frame f ON f.id = ef.frame_id
                LEFT JOIN measured_picture m ON m.picture = f.picture
            WHERE ef.entry_id IN (:entries) AND f.card_id IN (:cards) ORDER BY ef.position
            SQL, ['entries' => $numbers, 'cards' => array_keys($labels)]) as $row) {
            $id = $row->int('id');
            $framesOf[$row->int('entry_id')][] = self::frame(
                $row,
                $files[$id] ?? new FrameFiles(),
                $clocks,
                $names,
                $labels[$row->int('card_id')],
            );
            unset($files[$id]);
        }
        $inOrder = [];
        foreach ($numbers as $entry) {
            $inOrder[$entry] = $framesOf[$entry] ?? [];
        }

        return $inOrder;
    }

    /**
     * @param list<int> $cards
     *
     * @return array<int, FrameFiles> by the frame's id
     */
    private function files(array $cards): array
    {
        $files = [];
        $of = <<<'SQL'
            SELECT c.frame_id, c.path, c.kind, c.bytes, c.modified_at, c.fingerprint, ff.path AS filed,
                c.repairs_file_id, rf.path AS repairs
            FROM card_file c
            LEFT JOIN filed_file ff ON ff.id = c.filed_file_id LEFT JOIN filed_file rf ON rf.id = c.repairs_file_id
            WHERE c.card_id IN (:cards) AND c.frame_id IS NOT NULL ORDER BY c.frame_id, c.position
            SQL;
        foreach ($this->rows->each($of, ['cards' => $cards]) as $file) {
            $repairs = $file->intOrNull('repairs_file_id');
            ($files[$file->int('frame_id')] ??= new FrameFiles())->add(
                new CardFile(
                    $file->text('path'),
                    FileKind::from($file->text('kind')),
                    $file->int('bytes'),
                    $file->int('modified_at'),
                ),
                $file->textOrNull('fingerprint'),
                $file->textOrNull('filed'),
                null === $repairs ? null : new FiledAt($repairs, $file->text('repairs')),
            );
        }

        return $files;
    }

    /**
     * What was read in the files, for those frames that are looked at or copied: a sheet has thousands.
     *
     * @param list<int> $ids of frames
     *
     * @return array<int, array<mixed>> what {@see \Velvet\Core\Capture\CaptureFacts::toArray()} gave, by the frame's id
     */
    public function facts(array $ids): array
    {
        $facts = [];
        $of = 'SELECT id, facts FROM card_frame WHERE id IN (:ids)';
        foreach ([] === $ids ? [] : $this->rows->all($of, ['ids' => $ids]) as $row) {
            $facts[$row->int('id')] = $row->json('facts');
        }

        return $facts;
    }

    /**
     * When the frames of a sheet were taken, in order, and how bright each is; null for what is not known.
     *
     * @return array<int, array{frames: list<int>, cameras: list<string>, ticks: list<int|null>,
     *     brightness: list<float|null>}> by the entry's id: ids; seconds on the corrected wall clock since
     *     1970-01-01T00:00:00; 0 to 1
     */
    public function tape(Intake $intake): array
    {
        $clocks = $this->clocks->of($intake->id());
        $tape = [];
        foreach ($intake->entries as $entry) {
            $tape[$entry->id()] = ['frames' => [], 'cameras' => [], 'ticks' => [], 'brightness' => []];
        }
        foreach ($this->rows->each(<<<'SQL'
            SELECT ef.entry_id, f.id, f.camera, f.captured_at, round(m.brightness::numeric, 3)::float AS brightness
            FROM entry_frame ef JOIN entry e ON e.id = ef.entry_id JOIN card_frame f ON f.id = ef.frame_id
                LEFT JOIN measured_picture m ON m.picture = f.picture
            WHERE e.intake_id = :intake AND NOT f.loose ORDER BY ef.position
            SQL, ['intake' => $intake->id()]) as $row) {
            $time = $clocks->corrected(self::time($row), $row->text('camera'));
            $of = $row->int('entry_id');
            $tape[$of]['frames'][] = $row->int('id');
            $tape[$of]['cameras'][] = $row->text('camera');
            $tape[$of]['ticks'][] = null === $time ? null : (int) floor($time->ticks() / 1000);
            $tape[$of]['brightness'][] = $row->floatOrNull('brightness');
        }

        return $tape;
    }

    /** @param array<string, string> $names of cameras */
    private static function frame(
        Row $row,
        FrameFiles $of,
        Clocks $clocks,
        array $names,
        string $label,
    ): SheetFrame {
        $files = $of->files;
        \assert([] !== $files);
        $camera = $row->text('camera');
        $time = $clocks->corrected(self::time($row), $camera);

        return new SheetFrame(
            new FrameToFile(
                $row->int('id'),
                $files,
                FrameNaming::of(
                    $time,
                    $files[0],
                    $names[$camera] ?? '',
                    self::body($camera, $row->text('model'), $row->text('serial')),
                    $label,
                ),
                FrameState::from($row->text('state')),
                $of->sameAs,
                $of->fingerprints,
                array_map(static fn (?FiledAt $copy): ?string => $copy?->path, $of->repairs),
                new Exposed(
                    $time?->ticks(),
                    $camera,
                    $row->floatOrNull('exposure_value'),
                    $row->floatOrNull('exposure_bias'),
                ),
            ),
            $row->int('card_id'),
            $camera,
            $row->text('problems'),
            $row->textOrNull('picture'),
            MeasuredPictures::of($row),
            $of->repairs,
        );
    }

    private static function body(string $camera, string $model, string $serial): CameraBody
    {
        static $bodies = []; // thousands of frames, a handful of cameras

        /** @var array<string, CameraBody> $bodies */
        return $bodies[$camera."\0".$model."\0".$serial] ??= CameraBody::named($camera, $model, $serial);
    }

    private static function time(Row $row): ?ShotTime
    {
        $time = $row->textOrNull('captured_at');

        return null === $time ? null : ShotTime::fromText($time);
    }
}
