<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Bytes\Digests;
use Velvet\Core\Bytes\Fingerprint;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Plan\PlannedWords;
use Velvet\Core\Style\DngChoice;

/**
 * A file on its way from a card to its shelf, as the plan settled it. What becomes of it happens by the methods of this
 * class alone, each of which refuses what cannot be at the step that it is at. Kept by Doctrine
 * (server/src/Store/mapping).
 */
class Transfer
{
    private FileStep $state = FileStep::Planned;
    private int $tries = 0;
    private ?string $digest = null;
    private ?string $secondDigest = null;
    private ?int $filedFile = null;
    private ?string $failure = null;
    private ?string $worker = null;
    private ?string $placing = null;

    private int $intake;
    private int $entry;
    private int $frame;
    private int $position;
    private int $card;
    private string $source;
    private string $target;
    private FileKind $kind;
    private int $bytes;
    private int $modifiedAt;
    private ?string $fingerprint;
    private ?string $picture;
    private ?string $capturedAt;
    /** @var array<mixed> */
    private array $facts;
    private ?int $counter;
    private bool $loose;
    private bool $equals;
    /** @var array<string, mixed>|null */
    private ?array $words;
    private ?int $repairs;
    private ?DngChoice $dng;

    /** @param int|null $id null until it is stored */
    public function __construct(
        FrameOnItsWay $frame,
        PlannedFile $file,
        private ?int $id = null,
    ) {
        $this->intake = $frame->intake;
        $this->entry = $frame->entry;
        $this->frame = $frame->id;
        $this->position = $frame->position;
        $this->card = $frame->card;
        $this->picture = $frame->picture;
        $this->capturedAt = $frame->capturedAt;
        $this->facts = $frame->facts;
        $this->counter = $frame->counter;
        $this->loose = $frame->loose;
        $this->source = $file->source;
        $this->target = $file->target;
        $this->kind = $file->kind;
        $this->bytes = $file->bytes;
        $this->modifiedAt = $file->modifiedAt;
        $this->fingerprint = $file->fingerprint;
        $this->equals = $file->equals;
        $this->words = $file->words?->toArray();
        $this->repairs = $file->repairs;
        $this->dng = DngChoice::No === $file->dng ? null : $file->dng;
    }

    // What it is

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The transfer is not stored yet.');
    }

    public function intake(): int
    {
        return $this->intake;
    }

    public function entry(): int
    {
        return $this->entry;
    }

    /** The frame on the card, by its id: the files of one are filed as one. */
    public function frame(): int
    {
        return $this->frame;
    }

    /** Of the frame in its entry, from 0. */
    public function position(): int
    {
        return $this->position;
    }

    public function card(): int
    {
        return $this->card;
    }

    /** Relative to the card. */
    public function source(): string
    {
        return $this->source;
    }

    /** Relative to the shelf. */
    public function target(): string
    {
        return $this->target;
    }

    public function kind(): FileKind
    {
        return $this->kind;
    }

    public function bytes(): int
    {
        return $this->bytes;
    }

    /** Unix seconds. */
    public function modifiedAt(): int
    {
        return $this->modifiedAt;
    }

    /** As it was when the plan was made; null where the file could not be read then. */
    public function fingerprint(): ?Fingerprint
    {
        return null === $this->fingerprint ? null : Fingerprint::fromHex($this->fingerprint);
    }

    /** Key of the picture to be shown. */
    public function picture(): ?string
    {
        return $this->picture;
    }

    /** `YYYY-MM-DD HH:MM:SS.mmm`, corrected. */
    public function capturedAt(): ?string
    {
        return $this->capturedAt;
    }

    /** @return array<mixed> as the sheet shows them */
    public function facts(): array
    {
        return $this->facts;
    }

    /** The number in its name, where it has one. */
    /** Whether it belongs to no frame. */
    public function isLoose(): bool
    {
        return $this->loose;
    }

    public function counter(): ?int
    {
        return $this->counter;
    }

    /** Whether it seems to be what another file of the intake is: it is compared with that, not copied. */
    public function equals(): bool
    {
        return $this->equals;
    }

    /** What it is to say; null where it holds no metadata. */
    public function words(): ?PlannedWords
    {
        return null === $this->words ? null : PlannedWords::fromArray($this->words);
    }

    /** The filed file that it puts right, by its id. */
    public function repairs(): ?int
    {
        return $this->repairs;
    }

    public function dng(): DngChoice
    {
        return $this->dng ?? DngChoice::No;
    }

    public function step(): FileStep
    {
        return $this->state;
    }

    public function tries(): int
    {
        return $this->tries;
    }

    /** Who has it; null while nobody does. */
    public function worker(): ?string
    {
        return $this->worker;
    }

    /** Of what is about to take its place, or was when an attempt was cut off; null before. */
    public function placing(): ?Digest
    {
        return null === $this->placing ? null : Digest::fromHex($this->placing);
    }

    /** Of what was read; null until it is done. */
    public function digest(): ?Digest
    {
        return null === $this->digest ? null : Digest::fromHex($this->digest);
    }

    /** Hexadecimal; null where none was wanted. */
    public function secondDigest(): ?string
    {
        return $this->secondDigest;
    }

    /** The filed file that it became, or that it equals, by its id. */
    public function filedFile(): ?int
    {
        return $this->filedFile;
    }

    /** A sentence; null unless it failed. */
    public function failure(): ?string
    {
        return $this->failure;
    }

    // What becomes of it

    /** A worker begins with it, or with one whose worker is gone. */
    public function begun(string $worker): void
    {
        $this->must(FileStep::Planned === $this->state || $this->state->isUnderWay(), FileStep::Copying);
        $this->state = FileStep::Copying;
        $this->worker = $worker;
        ++$this->tries;
    }

    /** All was read from the card; the copies, of this content, are to be verified and placed. */
    public function read(Digest $placing): void
    {
        $this->become(FileStep::Verifying);
        $this->placing = $placing->hex;
    }

    /** Every place has verified it. */
    public function filed(Digests $digests, int $file): void
    {
        $this->become(FileStep::Filed);
        $this->isWhat($digests, $file);
    }

    /** It proved equal, to the last byte, to one that is filed. */
    public function same(Digests $digests, int $file): void
    {
        $this->become(FileStep::Same);
        $this->isWhat($digests, $file);
    }

    /** It is not filed. */
    public function failed(string $why): void
    {
        $this->become(FileStep::Failed);
        $this->failure = $why;
    }

    /** It is tried again later. */
    public function putBack(): void
    {
        $this->become(FileStep::Planned);
    }

    /** It is begun again later for a reason that has nothing to do with it: that is no try. */
    public function givenBack(): void
    {
        $this->become(FileStep::Planned);
        $this->tries = max(0, $this->tries - 1);
    }

    /** The intake halts; when it goes on, the file is tried as if for the first time. */
    public function halted(): void
    {
        $this->become(FileStep::Planned);
        $this->tries = 0;
    }

    /** Its cause may be gone: what failed is tried again from the start. */
    public function retried(): void
    {
        $this->must(FileStep::Failed === $this->state, FileStep::Planned);
        $this->state = FileStep::Planned;
        $this->failure = null;
        $this->tries = 0;
    }

    private function isWhat(Digests $digests, int $file): void
    {
        $this->digest = $digests->content->hex;
        $this->secondDigest = $digests->second;
        $this->filedFile = $file;
    }

    private function become(FileStep $next): void
    {
        $this->must($this->state->isUnderWay() && $this->state->mayBecome($next), $next);
        $this->state = $next;
        if (!$next->isUnderWay()) {
            $this->worker = null;
        }
    }

    private function must(bool $may, FileStep $next): void
    {
        if (!$may) {
            throw NoSuchStep::from($this->source, $this->state, $next);
        }
    }
}
