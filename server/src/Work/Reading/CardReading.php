<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Reading;

use Doctrine\DBAL\Exception as DatabaseTrouble;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Symfony\Component\Messenger\MessageBusInterface;
use Velvet\Core\Bytes\Fingerprint;
use Velvet\Core\Capture\Capture;
use Velvet\Core\Capture\CardReader;
use Velvet\Core\Capture\FrameReading;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\CardProblem;
use Velvet\Core\Card\CardUnreadable;
use Velvet\Core\Card\CardWalk;
use Velvet\Core\Card\Frame;
use Velvet\Core\Card\Housekeeping;
use Velvet\Core\Card\Insertion;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\CardContents;
use Velvet\Server\Store\CardState;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Work\Cards\FiledOnCard;
use Velvet\Server\Work\Pictures\DrawPictures;
use Velvet\Server\Work\Sheets\Sheets;

/** Reads a card into the database: what lies on it, each frame's facts, and which frames the ledger has already. */
final readonly class CardReading
{
    /** Frames that are written down together: those of so many seconds, since a card may be slow, or so many. */
    private const SECONDS = 0.25;
    private const BATCH = 240;
    /** Frames that a card fetches while others are read. */
    private const AHEAD = 24;
    /** Frames whose pictures are drawn by one worker at a time. */
    private const DRAWN_TOGETHER = 240;

    public function __construct(
        private EntityManagerInterface $entities,
        private CardContents $contents,
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
        $this->locks->with(Lock::Card, $card->id(), function () use ($card): void {
            try {
                $this->readAlone($card);
            } catch (\Throwable $e) {
                $this->stopped($card, $e);
                throw $e;
            }
        });
    }

    /** Nobody waits for a reading that does not go on. */
    private function stopped(Card $card, \Throwable $error): void
    {
        try {
            $this->contents->readingStopped($card, Insertion::at($card->root), \sprintf(
                'An error stopped the reading of the card at “%s”: %s. Nothing on it was changed. Take it out and '
                    .'put it in again; if it stays so, look into the log.',
                $card->root,
                rtrim($error->getMessage(), '.'),
            ));
            $this->happenings->tell('bays', []);
        } catch (DatabaseTrouble) {
            // the database is what went: it is read again when that is there
        }
    }

    private function readAlone(Card $card): void
    {
        $this->entities->refresh($card);
        $insertion = Insertion::at($card->root);
        $isSameStay = null !== $insertion && null !== $card->listing && $card->insertion === $insertion;
        $card->state = CardState::Reading;
        $card->framesRead = 0;
        $this->entities->flush();
        $this->tell($card);
        try {
            $this->readListing($card, $isSameStay);
            $card->state = CardState::Read;
            $card->problem = null;
        } catch (CardUnreadable $e) {
            $card->state = CardState::Unreadable;
            $card->problem = $e->getMessage();
            $card->listing = null;
        }
        $card->insertion = $insertion;
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
        $frames = $listing->frames($card->root);
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

        $loose = $frames->loose($card->root);
        $together = null === $loose ? [] : [$loose];
        $unread = $this->keepUnchanged($card, [...$frames->frames, ...$together], $isSameStay);
        $this->contents->addOthers($card, array_map(
            static fn (CardFile $file): array => [$file, Housekeeping::rule($file, $card->root)],
            array_values(array_filter(
                $frames->others,
                static fn (CardFile $file): bool => !\in_array($file, $loose->files ?? [], true),
            )),
        ));
        if (null !== $loose && [$loose] === \array_slice($unread, -1)) {
            array_pop($unread);
            $this->contents->addLoose($card, (new CardReader($this->capture, $card->root))->read($loose));
        }
        $card->framesRead = $card->frames - \count($unread);
        $drawn = $this->draw($card, 0);
        $toDraw = 0;
        foreach ($this->readings($card, $unread) as $readings) {
            $this->contents->add($card, $readings);
            $card->framesRead += \count($readings);
            $this->entities->flush();
            $this->tell($card);
            $toDraw += \count($readings);
            if ($toDraw >= self::DRAWN_TOGETHER) {
                $drawn = $this->draw($card, $drawn);
                $toDraw = 0;
            }
        }
        $this->draw($card, $drawn);
        $this->filed->compare($card);
    }

    /**
     * @param list<Frame> $frames
     *
     * @return \Generator<non-empty-list<FrameReading>>
     *
     * @throws CardUnreadable
     */
    private function readings(Card $card, array $frames): \Generator
    {
        $reader = new CardReader($this->capture, $card->root, $this->contents->offset($card));
        $readings = [];
        $since = microtime(true);
        $ahead = 0;
        foreach ($frames as $n => $frame) {
            for (; $ahead < \count($frames) && $ahead <= $n + self::AHEAD; ++$ahead) {
                FrameReading::fetch($frames[$ahead], $card->root);
            }
            if ([] === $readings && !is_dir($card->root)) {
                throw CardUnreadable::pulled($card->root);
            }
            $readings[] = $reader->read($frame);
            $isLast = $n === \count($frames) - 1;
            if ($isLast || \count($readings) >= self::BATCH || microtime(true) - $since >= self::SECONDS) {
                yield $readings;
                $readings = [];
                $since = microtime(true);
            }
        }
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
        $read = $this->contents->read($card);
        $unread = $kept = [];
        foreach ($frames as $frame) {
            $path = $frame->leading()->path;
            $stamps = array_map(static fn (CardFile $file): string => $file->path.'|'.$file->stamp, $frame->files);
            if (
                isset($read[$path])
                && $read[$path]['stamps'] === $stamps
                && ($isSameStay || self::fingerprints($card, $frame) === $read[$path]['fingerprints'])
            ) {
                $kept[] = $path;
            } else {
                $unread[] = $frame;
            }
        }
        $this->contents->keepOnly($card, $kept);

        return $unread;
    }

    /** @return list<string> of its files, as they are on the card now */
    private static function fingerprints(Card $card, Frame $frame): array
    {
        return array_map(
            static fn (CardFile $file): string => Fingerprint::ofPath($card->root.'/'.$file->path),
            $frame->files,
        );
    }

    /**
     * Has the pictures of all frames behind this one drawn, in the background while the reading goes on.
     *
     * @return int the last frame, by its number in the database
     */
    private function draw(Card $card, int $after): int
    {
        $last = $this->contents->last($card, $after);
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
