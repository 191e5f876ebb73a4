<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

use Doctrine\DBAL\Connection;
use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Filed\FiledFile;
use Velvet\Core\Filed\MetadataState;
use Velvet\Core\Metadata\Metadata;
use Velvet\Core\Metadata\MetadataRefused;
use Velvet\Core\Style\SidecarName;
use Velvet\Server\Store\FiledFiles;
use Velvet\Server\Store\JsonRows;
use Velvet\Server\Store\Rows;

/** What filed frames say: what was asked for here, and beneath it what their files said themselves when they came. */
final readonly class FrameSays
{
    public function __construct(
        private Connection $database,
        private Rows $rows,
        private JsonRows $jsonRows,
        private Keywords $keywords,
        private FiledFiles $files,
    ) {
    }

    /** What is to be written into a file of a frame. */
    public function of(FiledFile $file): Metadata
    {
        $this->takeOwn($file->frame());
        $frame = $this->rows->one(
            "SELECT f.says, f.rating, (SELECT coalesce(jsonb_agg(keyword_id ORDER BY id), '[]') FROM frame_keyword k
                WHERE k.frame_id = f.id) AS keywords FROM filed_frame f WHERE f.id = :id",
            ['id' => $file->frame()],
        );
        $has = array_values(array_filter($frame->json('keywords'), is_int(...)));
        $tree = $this->keywords->about($has);
        [$flat, $nested] = $tree->written(array_map($tree->path(...), $has));

        return new Metadata(
            Metadata::fromArray(['texts' => $frame->json('says')])->texts + $file->ofFile(),
            $flat,
            $nested,
            $frame->intOrNull('rating'),
        );
    }

    /**
     * What the files of a frame say themselves, each taken in once, before anything of ours is written into it: their
     * keywords become the frame's.
     */
    public function takeOwn(int $frameId): void
    {
        foreach ($this->files->notAsked($frameId) as $file) {
            $said = self::said(Holder::of($file, $this->files->places($file), SidecarName::Stem));
            $ids = $this->keywords->idsSaidBy($said);
            $this->files->change($file->id(), fn (FiledFile $now) => $this->take($now, $said, $ids));
        }
    }

    /** @param list<int> $ids of the keywords that it says */
    private function take(FiledFile $file, Metadata $said, array $ids): void
    {
        if ($file->isOwnTaken()) {
            return; // another one did it meanwhile
        }
        $file->ownTaken();
        // of several files that say different things the first one holds
        $own = Metadata::fromArray(
            $this->rows->one(
                "SELECT coalesce(own, '{}') AS own FROM filed_frame WHERE id = :id FOR UPDATE",
                ['id' => $file->frame()],
            )->json('own'),
        );
        $this->database->executeStatement(
            'UPDATE filed_frame SET own = CAST(:own AS jsonb) WHERE id = :id',
            [
                'own' => json_encode(
                    ['texts' => (object) ($own->texts + $said->texts), 'rating' => $own->rating ?? $said->rating],
                    \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE,
                ),
                'id' => $file->frame(),
            ],
        );
        $this->give(
            array_map(static fn (int $keyword): array => ['frame' => $file->frame(), 'keyword' => $keyword], $ids),
        );
        // files that were written before this one came get its keywords, too
        foreach ([] === $ids ? [] : $this->files->ofFrame($file->frame()) as $other) {
            if ($other->id() !== $file->id()) {
                $this->files->change($other->id(), static function (FiledFile $other): void {
                    if (MetadataState::Written === $other->metadataState()) {
                        $other->metadataAsked();
                    }
                });
            }
        }
    }

    /** @param list<array{frame: int, keyword: int}> $rows */
    public function give(array $rows): void
    {
        $this->jsonRows->execute(
            'INSERT INTO frame_keyword (frame_id, keyword_id) SELECT r.frame, r.keyword FROM ROWS
                FROM (jsonb_to_recordset(CAST(:rows AS jsonb)) AS (frame bigint, keyword int))
                    WITH ORDINALITY AS r(frame, keyword, n)
                JOIN keyword k ON k.id = r.keyword ORDER BY r.n ON CONFLICT DO NOTHING',
            $rows,
        );
    }

    /** What a file, or its sidecar, says; nothing where there is none or it cannot be read. */
    private static function said(Holder $holder): Metadata
    {
        // a sidecar that is not ours is another program's change, which is offered
        $path = null === $holder->content ? null : $holder->paths()[0] ?? null;
        try {
            return null === $path || !is_file($path) ? new Metadata() : $holder->kind->read(FileBytes::open($path));
        } catch (MetadataRefused|FileUnreadable) {
            return new Metadata(); // the writing says why
        }
    }
}
