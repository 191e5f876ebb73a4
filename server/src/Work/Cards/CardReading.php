<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Cards;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Symfony\Component\Messenger\MessageBusInterface;
use Velvet\Core\Capture\Capture;
use Velvet\Core\Capture\FrameReading;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\CardProblem;
use Velvet\Core\Card\CardUnreadable;
use Velvet\Core\Card\CardWalk;
use Velvet\Core\Card\Frame;
use Velvet\Core\Card\Housekeeping;
use Velvet\Core\Card\Insertion;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\CardState;
use Velvet\Server\Store\FiledCopies;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\JsonRows;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Rows;
use Velvet\Server\Work\Pictures\DrawPictures;
use Velvet\Server\Work\Sheets\Sheets;

/** Reads a card into the database: what lies on it, each frame's facts, and which frames the ledger has already. */
final readonly class CardReading
{
    private const BATCH = 60;
    /** Frames whose pictures are drawn by one worker at a time. */
    private const DRAWN_TOGETHER = 240;

    public function __construct(
        private EntityManagerInterface $entities,
        private Connection $database,
        private JsonRows $jsonRows,
        private Rows $rows,
        private Capture $capture,
        private FiledOnCard $filed,
        private Happenings $happenings,
        private MessageBusInterface $bus,
        private ClockInterface $clock,
        private Sheets $sheets,
        private Locks $locks,
    ) {
    }

    /** One reading of a card at a time: a page and a command may ask for it at once, and the second finds it read. */
    public function read(Card $card): void
    {
        $this->entities->flush();
        $this->locks->with(Lock::CardReading, $card->id(), fn () => $this->readAlone($card));
    }

    private function readAlone(Card $card): void
    {
        $this->entities->refresh($card);
        $before = $card->insertion;
        $insertion = Insertion::at($card->root);
        $card->state = CardState::Reading;
        $card->framesRead = 0;
        $this->entities->flush();
        $this->tell($card);
        try {
            $this->readListing($card, null !== $insertion && $before === $insertion);
            $card->state = CardState::Read;
            $card->problem = null;
            $card->insertion = $insertion;
        } catch (CardUnreadable $e) {
            $card->state = CardState::Unreadable;
            $card->problem = $e->getMessage();
            $card->insertion = $card->listing = null;
        }
        $card->readAt = $this->clock->now();
        $this->entities->flush();
        $this->sheets->cardWasRead($card);
        $this->tell($card);
    }

    /**
     * @param bool $isSameStay whether the card was not out since it was read last
     *
     * @throws CardUnreadable
     */
    private function readListing(Card $card, bool $isSameStay): void
    {
        $listing = CardWalk::of($card->root);
        $frames = $listing->frames();
        $seal = $listing->seal();
        // the word was given for what was on the card then
        $card->oneDriveIsEnough = $card->oneDriveIsEnough && $seal === $card->listing;
        $card->listing = $seal;
        $card->files = \count($listing->files);
        $card->bytes = $listing->bytes();
        $card->frames = \count($frames->frames);
        $card->problems = array_map(
            static fn (CardProblem $problem): array => [
                'code' => $problem->code,
                'path' => $problem->path,
                'text' => $problem->text,
                'behind' => $problem->leavesFramesBehind,
            ],
            $listing->problems,
        );
        $this->entities->flush();

        $unread = $this->keepUnchanged($card, $frames->frames, $isSameStay);
        $this->insertOthers($card, $frames->others);
        $card->framesRead = $card->frames - \count($unread);
        $drawn = $this->draw($card, 0);
        foreach (array_chunk($unread, self::BATCH) as $batch) {
            if (!is_dir($card->root)) {
                throw CardUnreadable::pulled($card->root);
            }
            $this->insert(
                $card,
                array_map(
                    fn (Frame $frame): FrameReading => FrameReading::of($frame, $card->root, $this->capture),
                    $batch,
                ),
            );
            $card->framesRead += \count($batch);
            $this->entities->flush();
            $this->tell($card);
            if (0 === $card->framesRead % self::DRAWN_TOGETHER) {
                $drawn = $this->draw($card, $drawn);
            }
        }
        $this->draw($card, $drawn);
        $this->filed->compare($card);
    }

    /**
     * Frames whose files have the same names, sizes and times as at the last reading are as they were; all else on
     * record goes. A card that was out may be another one of the same label: its files must look the same inside, too.
     * What could not be read then is tried again: the reader may have been at fault.
     *
     * @param list<Frame> $frames
     *
     * @return list<Frame> those that must be read
     */
    private function keepUnchanged(Card $card, array $frames, bool $isSameStay): array
    {
        $known = $fingerprints = [];
        foreach ($this->rows->all("SELECT f.path, string_agg(concat_ws('|', c.path, c.stamp), E'\\n'
            ORDER BY c.position) AS signature, jsonb_agg(c.fingerprint ORDER BY c.position) AS fingerprints
            FROM card_frame f JOIN card_file c ON c.frame_id = f.id WHERE f.card_id = :card AND f.is_read
            GROUP BY f.id HAVING f.state <> 'unreadable' AND bool_and(c.fingerprint IS NOT NULL)
            AND NOT f.problems @> '[{\"code\": \"part_unreadable\"}]'", ['card' => $card->id()]) as $row) {
            $known[$row->text('path')] = $row->text('signature');
            $fingerprints[$row->text('path')] = $row->json('fingerprints');
        }
        $unread = $kept = [];
        foreach ($frames as $frame) {
            $signature = implode(
                "\n",
                array_map(
                    static fn (CardFile $file): string => implode('|', [$file->path, $file->stamp]),
                    $frame->files,
                ),
            );
            $path = $frame->leading()->path;
            if (
                ($known[$path] ?? null) === $signature
                && ($isSameStay || self::fingerprints($card, $frame) === $fingerprints[$path])
            ) {
                $kept[] = ['path' => $frame->leading()->path];
            } else {
                $unread[] = $frame;
            }
        }
        $this->database->executeStatement(
            'DELETE FROM card_file WHERE card_id = :card AND frame_id IS NULL',
            ['card' => $card->id()],
        );
        $this->database->executeStatement(
            'DELETE FROM card_frame WHERE card_id = :card AND path NOT IN (SELECT path
                FROM jsonb_to_recordset(CAST(:kept AS jsonb)) AS r(path text))',
            ['card' => $card->id(), 'kept' => json_encode($kept, \JSON_THROW_ON_ERROR)],
        );

        return $unread;
    }

    /** @return list<string> of its files, as they are on the card now */
    private static function fingerprints(Card $card, Frame $frame): array
    {
        return array_map(
            static fn (CardFile $file): string => FiledCopies::fingerprint($card->root.'/'.$file->path),
            $frame->files,
        );
    }

    /** @param list<CardFile> $others */
    private function insertOthers(Card $card, array $others): void
    {
        $this->jsonRows->execute(
            'INSERT INTO card_file (card_id, position, path, kind, bytes, modified_at, stamp, housekeeping)
                SELECT :card, 0, path, kind, bytes, modified_at, stamp, housekeeping
                FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(path text, kind text, bytes bigint,
                    modified_at bigint, stamp text, housekeeping text)',
            array_map(
                static fn (CardFile $file): array => [
                    'path' => $file->path,
                    'kind' => $file->kind->value,
                    'bytes' => $file->bytes,
                    'modified_at' => $file->modifiedAt,
                    'stamp' => $file->stamp,
                    'housekeeping' => Housekeeping::rule($file, $card->root),
                ],
                $others,
            ),
            ['card' => $card->id()],
        );
    }

    /** @param list<FrameReading> $readings */
    private function insert(Card $card, array $readings): void
    {
        $frames = $files = [];
        foreach ($readings as $reading) {
            $path = $reading->frame->leading()->path;
            $frames[] = [
                'path' => $path,
                'captured_at' => $reading->facts->capturedAt?->text(),
                'camera' => $reading->camera(),
                'facts' => $reading->facts->toArray(),
                'model' => $reading->facts->model ?? '',
                'serial' => $reading->facts->serial ?? '',
                'exposure_value' => $reading->exposed()->value,
                'exposure_bias' => $reading->facts->exposureBias,
                'problems' => $reading->problems,
                'bytes' => $reading->frame->bytes(),
                'picture' => $reading->picture,
                'state' => $reading->isReadable() ? 'new' : 'unreadable',
            ];
            foreach ($reading->frame->files as $position => $file) {
                $files[] = [
                    'frame' => $path,
                    'position' => $position,
                    'path' => $file->path,
                    'kind' => $file->kind->value,
                    'bytes' => $file->bytes,
                    'modified_at' => $file->modifiedAt,
                    'stamp' => $file->stamp,
                    'fingerprint' => $reading->fingerprints[$position]?->hex,
                ];
            }
        }
        $this->database->transactional(function () use ($card, $frames, $files): void {
            $this->jsonRows->execute(
                'INSERT INTO card_frame (card_id, path, captured_at, camera, facts, model, serial, exposure_value,
                    exposure_bias, problems, bytes, picture, state, is_read)
                    SELECT :card, path, captured_at, camera, facts, model, serial, exposure_value, exposure_bias,
                    problems, bytes, picture, state, true
                    FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(path text, captured_at timestamp(3),
                        camera text, facts jsonb, model text, serial text, exposure_value real, exposure_bias real,
                        problems jsonb, bytes bigint, picture text, state text)',
                $frames,
                ['card' => $card->id()],
            );
            $this->jsonRows->execute(
                'INSERT INTO card_file (card_id, frame_id, position, path, kind, bytes, modified_at, stamp,
                    fingerprint) SELECT :card, f.id, r.position, r.path, r.kind, r.bytes, r.modified_at, r.stamp,
                    r.fingerprint
                    FROM jsonb_to_recordset(CAST(:rows AS jsonb)) AS r(frame text, position smallint, path text,
                        kind text, bytes bigint, modified_at bigint, stamp text, fingerprint text)
                    JOIN card_frame f ON f.card_id = :card AND f.path = r.frame',
                $files,
                ['card' => $card->id()],
            );
        });
    }

    /**
     * Has the pictures of all frames behind this one drawn, in the background while the reading goes on.
     *
     * @return int the last frame, by its number in the database
     */
    private function draw(Card $card, int $after): int
    {
        $last = $this->rows->one(
            'SELECT coalesce(max(id), :after) AS last FROM card_frame WHERE card_id = :card',
            ['card' => $card->id(), 'after' => $after],
        )->int('last');
        if ($last > $after) {
            $this->bus->dispatch(new DrawPictures($card->id(), $after, $last));
        }

        return $last;
    }

    private function tell(Card $card): void
    {
        $this->happenings->tell(
            'card',
            [
                'id' => $card->id(),
                'state' => $card->state->value,
                'frames' => $card->frames,
                'frames_read' => $card->framesRead,
            ],
        );
    }
}
