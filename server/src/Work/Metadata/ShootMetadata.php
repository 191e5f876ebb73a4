<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

use Velvet\Core\Capture\Orientation;
use Velvet\Core\Filed\FrameWords;
use Velvet\Core\Filed\Rotation;
use Velvet\Core\Filed\Verdict;
use Velvet\Core\Metadata\Field;
use Velvet\Core\Metadata\Metadata;
use Velvet\Server\Store\FiledFiles;
use Velvet\Server\Store\FiledFrames;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\Marks;
use Velvet\Server\Store\MetadataStep;
use Velvet\Server\Store\MetadataSteps;
use Velvet\Server\Store\Transaction;
use Velvet\Server\Work\Keywords\Keywords;

/**
 * What a selection of filed frames says, and changes to it; every change can be undone, and the files follow in the
 * background.
 */
final readonly class ShootMetadata
{
    private const MOST_TOLD = 500;

    public function __construct(
        private Transaction $transaction,
        private FiledFrames $frames,
        private MetadataSteps $steps,
        private Keywords $keywords,
        private TabWords $tabs,
        private Marks $marks,
        private FrameMetadata $says,
        private MetadataQueue $queue,
        private FiledFiles $files,
        private Happenings $happenings,
    ) {
    }

    /**
     * @param list<int> $frames
     *
     * @return array{frames: int, texts: list<array{field: string, text: string|null, frames: int}>,
     *     keywords: list<array{id: int, path: list<string>, frames: int}>, rating: array{value: int|null, mixed: bool},
     *     waiting: int, refused: list<string>}
     *     a text is null where frames say different things
     */
    public function of(int $shoot, array $frames): array
    {
        $this->takeOwn($shoot, $frames);
        $values = $counts = $uses = [];
        $ratings = [];
        foreach ($this->frames->wordsOf($shoot, $frames) as $words) {
            foreach ($words->texts() as $field => $text) {
                $values[$field][$text] = true;
                $counts[$field] = ($counts[$field] ?? 0) + 1;
            }
            $ratings[$words->rating()] = true;
            foreach ($words->keywords as $keyword) {
                $uses[$keyword] = ($uses[$keyword] ?? 0) + 1;
            }
        }
        $all = \count($frames);
        $texts = [];
        foreach (Field::cases() as $field) {
            if (isset($counts[$field->value]) && $field->isTyped()) {
                $said = array_keys($values[$field->value]);
                $texts[] = [
                    'field' => $field->value,
                    'text' => 1 === \count($said) && $counts[$field->value] === $all ? $said[0] : null,
                    'frames' => $counts[$field->value],
                ];
            }
        }
        arsort($uses); // of those that are used as often the one that comes first
        $tree = $this->keywords->about(array_keys($uses));
        $keywords = [];
        foreach ($uses as $id => $n) {
            $keywords[] = ['id' => $id, 'path' => $tree->path($id)->names, 'frames' => $n];
        }
        [$waiting, $refused] = $this->files->toldOfWriting($shoot, $frames);

        return [
            'frames' => $all, 'texts' => $texts, 'keywords' => $keywords,
            'rating' => [
                'value' => 1 === \count($ratings) ? array_key_first($ratings) : null,
                'mixed' => \count($ratings) > 1,
            ],
            'waiting' => $waiting,
            'refused' => $refused,
        ];
    }

    /**
     * @param list<int> $frames
     *
     * @return int number of the change among those of the shoot; 0 where nothing was changed
     */
    public function change(int $shoot, array $frames, WordsChange $change): int
    {
        $ofTabs = $this->tabs->words($change->tabs, $change->untab);
        $isWritten = $change->isWritten() || $ofTabs->areWritten();
        if ($isWritten) {
            $this->takeOwn($shoot, $frames);
        }
        $meant = self::ids($this->frames->wordsOf($shoot, [...$frames, ...$change->struck]));
        if ([] === $meant) {
            return 0;
        }
        $ids = $this->keywords->ids($change->add);
        $turn = $this->transaction->of(function () use ($shoot, $meant, $change, $ids, $ofTabs, $isWritten): int {
            $turn = $this->steps->takeTurn($shoot);
            if (null !== $change->operation && $this->steps->knows($change->operation)) {
                return 0;
            }
            $before = $this->frames->wordsToChange($meant);
            $all = self::ids($before);
            $changed = array_values(array_diff($all, $change->struck));
            $shown = null === $change->rotate ? [] : $this->frames->shown($changed);
            if (null !== $change->rotate && [] === $shown) {
                return 0;
            }
            // what they are taken back to is written into their files
            $before = array_map(static fn (FrameWords $words): FrameWords => isset($shown[$words->frame])
                ? $words->shownAs($shown[$words->frame])
                : $words, $before);
            $label = $change->label(\count([] === $shown ? $before : $shown));
            $this->steps->add($shoot, $label, $before, $change->operation);
            if ($change->judges()) {
                $this->marks->keep($all, $change->by);
            }
            $this->frames->say(
                $changed,
                array_map(static fn (string $text): string => trim(Metadata::clean($text)), $change->texts),
                $change->rating,
                $change->verdict,
                $change->by,
            );
            $struck = array_values(array_intersect($all, $change->struck));
            $this->frames->say($struck, [], null, Verdict::Struck, $change->by);
            $this->rotate($shown, $change->rotate);
            $this->frames->take($changed, $change->remove);
            $this->frames->give($changed, $ids);
            $this->keywords->used($ids);
            if ($change->isOfTabs()) {
                $this->frames->tab($changed, $change->tabs, $change->untab);
                $this->tabs->say($changed, $ofTabs);
            }
            $toWrite = $isWritten ? $changed : [];
            if (null !== $change->verdict || [] !== $change->struck) {
                $toWrite = [...$toWrite, ...$this->frames->writingStruck($all)];
            }
            if ([] !== $toWrite) {
                $this->queue->ask($toWrite);
            }
            if (null !== $change->verdict || null !== $change->rating || $change->isOfTabs() || [] !== $shown) {
                $this->tell($shoot, $turn, $all, array_keys($shown));
            }

            return $turn;
        });
        if ($isWritten || null !== $change->verdict || [] !== $change->struck) {
            $this->queue->begin();
        }

        return $turn;
    }

    /** @param array<int, Orientation> $shown how frames are shown so far */
    private function rotate(array $shown, ?Rotation $how): void
    {
        if (null === $how) {
            return;
        }
        $frames = [];
        foreach ($shown as $frame => $from) {
            $frames[$how->of($from)->value][] = $frame;
        }
        foreach ($frames as $to => $some) {
            $this->frames->say($some, [Field::Orientation->value => (string) $to], null);
        }
    }

    /**
     * @return array{undo: string|null, undo_step: int|null, redo: string|null, redo_step: int|null} as
     *     {@see MetadataSteps::history()} has it
     */
    public function history(int $shoot): array
    {
        return $this->steps->history($shoot);
    }

    /** @return int number of this change among those of the shoot */
    public function undo(int $shoot): int
    {
        $turn = $this->transaction->of(function () use ($shoot): int {
            $turn = $this->steps->takeTurn($shoot);
            $step = $this->steps->last($shoot);
            if (null !== $step) {
                $this->steps->undone($step, $this->takeBack($shoot, $turn, $step));
            }

            return $turn;
        });
        $this->queue->begin();

        return $turn;
    }

    /**
     * Makes again what was undone.
     *
     * @return int number of this change among those of the shoot
     */
    public function redo(int $shoot): int
    {
        $turn = $this->transaction->of(function () use ($shoot): int {
            $turn = $this->steps->takeTurn($shoot);
            $step = $this->steps->next($shoot);
            if (null === $step) {
                return $turn;
            }
            $now = $this->now($step->after);
            $again = [];
            foreach ($step->after as $after) {
                if (isset($now[$after->frame])) {
                    $again[] = $now[$after->frame]->saying($after);
                }
            }
            $others = [];
            foreach ($again as $words) {
                if ($words->judgedBy !== $now[$words->frame]->judgedBy) {
                    $others[$words->judgedBy ?? ''][] = $words->frame;
                }
            }
            foreach ($others as $by => $frames) {
                $this->marks->keep($frames, (string) $by);
            }
            $this->keep($shoot, $turn, $now, $again);
            $this->steps->madeAgain($step);

            return $turn;
        });
        $this->queue->begin();

        return $turn;
    }

    /** @return list<FrameWords> what its frames said until then */
    private function takeBack(int $shoot, int $turn, MetadataStep $step): array
    {
        $now = $this->now($step->before);
        $back = [];
        foreach ($step->before as $before) {
            if (isset($now[$before->frame])) {
                $back[] = $now[$before->frame]->backTo($before);
            }
        }
        $this->keep($shoot, $turn, $now, $back);

        return array_values($now);
    }

    /**
     * @param list<FrameWords> $words
     *
     * @return array<int, FrameWords> of those of their frames that are still there, by the frame
     */
    private function now(array $words): array
    {
        $now = [];
        foreach ($this->frames->wordsToChange(self::ids($words)) as $one) {
            $now[$one->frame] = $one;
        }

        return $now;
    }

    /**
     * @param array<int, FrameWords> $now
     * @param list<FrameWords>       $then
     */
    private function keep(int $shoot, int $turn, array $now, array $then): void
    {
        $this->frames->keepWords($then);
        $this->marks->drop(self::ids($then));
        $struckToo = array_flip($this->frames->writingStruck(self::ids($then)));
        $others = array_filter($then, static fn (FrameWords $words): bool => !$words->readsAs(
            $now[$words->frame],
            isset($struckToo[$words->frame]),
        ));
        $this->queue->ask(self::ids(array_values($others)));
        $judged = array_filter(
            $then,
            static fn (FrameWords $words): bool => $words->verdict !== $now[$words->frame]->verdict
                || $words->rating !== $now[$words->frame]->rating
                || $words->judgedBy !== $now[$words->frame]->judgedBy
                || $words->tabs !== $now[$words->frame]->tabs
                || $words->shown() !== $now[$words->frame]->shown(),
        );
        $this->tell($shoot, $turn, self::ids(array_values($judged)), self::ids(array_values(array_filter(
            $judged,
            static fn (FrameWords $words): bool => $words->shown() !== $now[$words->frame]->shown(),
        ))));
    }

    /**
     * Tells every page what was judged, and how; of very many frames only that they were.
     *
     * @param list<int> $frames
     * @param list<int> $rotated of these
     */
    private function tell(int $shoot, int $turn, array $frames, array $rotated = []): void
    {
        if ([] === $frames) {
            return;
        }
        $many = \count($frames) > self::MOST_TOLD;
        $pictures = $many || [] === $rotated ? [] : $this->frames->pictures($rotated);
        $beside = $many ? [] : $this->marks->beside($frames);
        $this->happenings->tell('judged', ['shoot' => $shoot, 'turn' => $turn, 'frames' => $many ? null : array_map(
            static fn (FrameWords $words): array => [
                'id' => $words->frame, 'verdict' => $words->verdict->value, 'stars' => $words->rating,
                'by' => $words->judgedBy, 'beside' => $beside[$words->frame] ?? [], 'tabs' => $words->tabs,
            ] + (isset($pictures[$words->frame]) ? ['picture' => $pictures[$words->frame]] : []),
            $this->frames->wordsOf($shoot, $frames),
        )]);
    }

    /**
     * Puts what somebody says of frames beside their verdicts, which stay.
     *
     * @param list<int>    $frames
     * @param Verdict|null $verdict null: as it is
     * @param int|null     $stars   null: none
     */
    public function putBeside(int $shoot, array $frames, string $by, ?Verdict $verdict, ?int $stars): void
    {
        $this->transaction->of(function () use ($shoot, $frames, $by, $verdict, $stars): void {
            $turn = $this->steps->takeTurn($shoot);
            $this->marks->put($frames, $by, $verdict, $stars);
            $this->tell($shoot, $turn, $frames);
        });
    }

    /** @param list<int> $frames */
    private function takeOwn(int $shoot, array $frames): void
    {
        foreach ($this->files->framesNotAsked($shoot, $frames) as $frame) {
            $this->says->takeOwn($frame);
        }
    }

    /**
     * @param list<FrameWords> $words
     *
     * @return list<int>
     */
    private static function ids(array $words): array
    {
        return array_map(static fn (FrameWords $one): int => $one->frame, $words);
    }
}
