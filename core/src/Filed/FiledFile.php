<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Bytes\Digest;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Plan\PlannedWords;
use Velvet\Core\Style\DngChoice;

/**
 * A file that the ledger has as filed. What becomes of it happens by the methods of this class alone, each of which
 * refuses what cannot be in the state that the file is in. Kept by Doctrine (server/src/Store/mapping).
 */
class FiledFile
{
    private int $frame;
    private int $shelf;
    private int $intake;
    private string $path;
    private FileKind $kind;

    private string $originalPath;
    private string $fingerprint;
    private string $digest;
    private ?string $secondDigest;
    private int $bytes;
    private ?string $pictureDigest;

    private ?string $digestNow = null;
    private ?string $secondNow = null;
    private ?int $bytesNow = null;
    private ?int $modifiedAt;
    private bool $pictureReplaced = false;

    private ?string $sidecarPath = null;
    private ?string $sidecarDigest = null;
    private ?int $sidecarBytes = null;
    private ?int $sidecarModifiedAt = null;

    private bool $holdsMetadata;
    private bool $ownTaken = false;
    private bool $saidBeside = false;
    /** @var array<string, string> */
    private array $ofFile;
    private int $clock;
    private MetadataWork $metadata;
    /** @var array<string, mixed>|null */
    private ?array $outside = null;

    private DngWork $dng;
    private MoveWork $move;
    private ?int $madeFrom = null;
    private ?\DateTimeImmutable $checkedAt = null;

    /** @param int|null $id null until it is stored */
    private function __construct(
        FiledAs $as,
        Received $from,
        ?PlannedWords $words,
        private \DateTimeImmutable $filedAt,
        private ?int $id = null,
    ) {
        [$this->frame, $this->shelf, $this->intake, $this->path] = [$as->frame, $as->shelf, $as->intake, $as->path];
        $this->originalPath = $from->path;
        $this->kind = $from->kind;
        $this->fingerprint = $from->fingerprint;
        $this->digest = $from->content->digest->hex;
        $this->secondDigest = $from->content->second;
        $this->bytes = $from->content->bytes;
        $this->pictureDigest = $from->picture;
        $this->modifiedAt = $from->modifiedAt;
        $this->holdsMetadata = null !== $words;
        $this->ofFile = $words->ofFile ?? [];
        $this->clock = $words->clock ?? 0;
        $this->metadata = new MetadataWork($words?->wait() ?? false);
        $this->dng = new DngWork();
        $this->move = new MoveWork();
    }

    public function __clone()
    {
        [$this->metadata, $this->dng, $this->move] = [clone $this->metadata, clone $this->dng, clone $this->move];
    }

    /**
     * Every place has verified the file.
     *
     * @param PlannedWords|null $words what it is to say; null where it holds no metadata
     * @param DngChoice         $dng   what is to become of it then
     */
    public static function filed(
        FiledAs $as,
        Received $from,
        ?PlannedWords $words,
        DngChoice $dng,
        \DateTimeImmutable $at,
    ): self {
        $file = new self($as, $from, $words, $at);
        $file->dng = new DngWork($dng);

        return $file;
    }

    // What it is

    public function id(): int
    {
        return $this->id ?? throw new \LogicException('The filed file is not stored yet.');
    }

    public function frame(): int
    {
        return $this->frame;
    }

    public function shelf(): int
    {
        return $this->shelf;
    }

    public function intake(): int
    {
        return $this->intake;
    }

    /** Relative to its shelf. */
    public function path(): string
    {
        return $this->path;
    }

    public function name(): string
    {
        return basename($this->path);
    }

    public function kind(): FileKind
    {
        return $this->kind;
    }

    /** On the card that it came from. */
    public function originalPath(): string
    {
        return $this->originalPath;
    }

    public function received(): Content
    {
        return new Content(Digest::fromHex($this->digest), $this->bytes, $this->secondDigest);
    }

    /** What its copies contain now: what was received, or what was made of it since. */
    public function content(): Content
    {
        return $this->changed() ?? $this->received();
    }

    /** What was made of it since it was received; null where it is as it came. */
    public function changed(): ?Content
    {
        return null === $this->digestNow
            ? null
            : new Content(Digest::fromHex($this->digestNow), $this->bytesNow ?? 0, $this->secondNow);
    }

    /** Of what was received, as {@see \Velvet\Core\Bytes\Fingerprint::$hex}. */
    public function fingerprint(): string
    {
        return $this->fingerprint;
    }

    /** Unix seconds; null where an early ledger did not keep it. */
    public function modifiedAt(): ?int
    {
        return $this->modifiedAt;
    }

    /** Digest of the picture as it was received, hexadecimal; null where that could not be told. */
    public function pictureDigest(): ?string
    {
        return $this->pictureDigest;
    }

    /** Whether another program's picture is in it now: it clears no card then. */
    public function isPictureReplaced(): bool
    {
        return $this->pictureReplaced;
    }

    /** Relative to the shelf; null where there is none of ours. */
    public function sidecarPath(): ?string
    {
        return $this->sidecarPath;
    }

    public function sidecar(): ?Content
    {
        return null === $this->sidecarDigest
            ? null
            : new Content(Digest::fromHex($this->sidecarDigest), $this->sidecarBytes ?? 0);
    }

    /** Unix seconds. */
    public function sidecarModifiedAt(): ?int
    {
        return $this->sidecarModifiedAt;
    }

    /** Whether what the frame says is written into it, or into a sidecar of its own. */
    public function holdsMetadata(): bool
    {
        return $this->holdsMetadata;
    }

    /** Whether a sidecar holds what could stand in the file itself, since nothing can be written into that. */
    public function isSaidBeside(): bool
    {
        return $this->saidBeside;
    }

    /** Whether what it said itself when it came is known. */
    public function isOwnTaken(): bool
    {
        return $this->ownTaken;
    }

    /** @return array<string, string> what is said of this file alone, by the value of the field */
    public function ofFile(): array
    {
        return $this->ofFile;
    }

    /** Seconds by which the camera's clock was corrected. */
    public function clock(): int
    {
        return $this->clock;
    }

    public function metadataState(): MetadataState
    {
        return $this->metadata->state();
    }

    /** A sentence on what was cut of the metadata, or why none was written. */
    public function metadataNote(): ?string
    {
        return $this->metadata->note();
    }

    /** Which of the things that were asked for is the last one. */
    public function wanted(): int
    {
        return $this->metadata->wanted();
    }

    /** The content whose writing began and did not end yet. */
    public function writing(): ?Content
    {
        return $this->metadata->begun();
    }

    public function outside(): ?OutsideChange
    {
        return null === $this->outside ? null : OutsideChange::fromArray($this->outside);
    }

    /**
     * Whether something is to be written into it that can be written now: whose change is to stay must be settled
     * first, and a raw file that its DNG takes the place of waits for that.
     */
    public function isToBeWritten(): bool
    {
        return $this->metadata->isWaiting() && null === $this->outside && !$this->dng->replacesTheFile()
            && $this->move->whereabouts()->isKept();
    }

    public function dngState(): DngState
    {
        return $this->dng->state();
    }

    public function dngChoice(): DngChoice
    {
        return $this->dng->choice();
    }

    public function dngNote(): ?string
    {
        return $this->dng->note();
    }

    /** MD5 of the samples, hexadecimal, where it is a DNG of ours. */
    public function samples(): ?string
    {
        return $this->dng->samples();
    }

    /** The path on the shelf that the raw file within it had. */
    public function rawPath(): ?string
    {
        return $this->dng->rawPath();
    }

    /** The raw file that this is the DNG of, by its id, where both lie there. */
    public function madeFrom(): ?int
    {
        return $this->madeFrom;
    }

    public function mayBecomeDng(): bool
    {
        return FileKind::Raw === $this->kind && !$this->dng->state()->isUnderWay() && $this->liesInShoot();
    }

    public function mayGiveRawBack(): bool
    {
        return FileKind::Dng === $this->kind && DngChoice::Embed === $this->dng->choice()
            && null !== $this->dng->rawPath() && !$this->dng->state()->isUnderWay() && $this->liesInShoot();
    }

    public function whereabouts(): Whereabouts
    {
        return $this->move->whereabouts();
    }

    /** Where its copies are on their way to; null while they stay. */
    public function heading(): ?Whereabouts
    {
        return $this->move->heading();
    }

    /** The path to which they are moved, relative to the shelf; null where none is, or they are to be deleted. */
    public function movesTo(): ?string
    {
        return $this->move->to();
    }

    /** Why its copies are not where they are on their way to. */
    public function moveNote(): ?string
    {
        return $this->move->note();
    }

    /** The path that it has in its shoot, wherever it lies now. */
    public function homePath(): string
    {
        return $this->move->home() ?? $this->path;
    }

    /** Whether its copies can be taken to another folder now, or be deleted: nothing else is under way with them. */
    public function mayMove(Whereabouts $heading): bool
    {
        return null === $this->move->heading() && $this->move->whereabouts()->mayBecome($heading)
            && !$this->dng->state()->isUnderWay() && null === $this->outside;
    }

    private function liesInShoot(): bool
    {
        return Whereabouts::InShoot === $this->move->whereabouts() && null === $this->move->heading();
    }

    public function filedAt(): \DateTimeImmutable
    {
        return $this->filedAt;
    }

    public function checkedAt(): ?\DateTimeImmutable
    {
        return $this->checkedAt;
    }

    // What becomes of it

    /** Its copies were read again. */
    public function checked(\DateTimeImmutable $at): void
    {
        $this->checkedAt = $at;
    }

    /** What it said itself when it came is known from now on. */
    public function ownTaken(): void
    {
        $this->must(!$this->ownTaken, 'asked what it says', 'asked already');
        $this->ownTaken = true;
    }

    /** Its frame says something else from now on. */
    public function metadataAsked(): void
    {
        $this->must($this->holdsMetadata, 'asked to say anything', 'none that holds metadata');
        $this->metadata->ask();
    }

    /**
     * The new content is verified beside the old one and about to take its place.
     *
     * @param int $wanted {@see self::wanted()} as it was when what is said was asked
     */
    public function writingBegan(int $wanted, Content $new): void
    {
        $this->must($this->metadata->isWaiting(), 'written into', $this->metadata->state()->value);
        $this->must(null === $this->metadata->begun(), 'written into', 'being written');
        $this->metadata->begin($wanted, $new);
    }

    /** Nothing took its place: the old content is still there everywhere. */
    public function writingUndone(): void
    {
        $this->mustBeBeingWritten();
        $this->metadata->undo();
    }

    /**
     * The new content is on some drives only, for now.
     *
     * @return int how often that was so
     */
    public function writingStuck(): int
    {
        $this->mustBeBeingWritten();

        return $this->metadata->tryAgain();
    }

    /**
     * The new content took its place.
     *
     * @param int    $modifiedAt Unix seconds
     * @param string $note       on what was cut; empty: nothing
     */
    public function written(int $modifiedAt, string $note): void
    {
        $new = $this->mustBeBeingWritten();
        [$this->digestNow, $this->secondNow, $this->bytesNow] = [$new->digest->hex, $new->second, $new->bytes];
        $this->modifiedAt = $modifiedAt;
        $this->metadata->end($note);
    }

    /**
     * As {@see self::written()}, of the sidecar.
     *
     * @param string $path relative to the shelf
     */
    public function sidecarWritten(string $path, int $modifiedAt, string $note): void
    {
        $this->setSidecar($path, $this->mustBeBeingWritten(), $modifiedAt);
        $this->metadata->end('' === $note && $this->saidBeside ? (string) $this->metadata->note() : $note);
    }

    /**
     * Nothing can be written into it: a sidecar of its own is to hold what its frame says, now and later.
     *
     * @param string $why a sentence
     */
    public function sayBeside(string $why): void
    {
        $this->must($this->metadata->isWaiting(), 'spoken for beside', $this->metadata->state()->value);
        $this->must(null === $this->metadata->begun(), 'spoken for beside', 'being written');
        $this->must(!$this->isWrittenInto(), 'spoken for beside', 'written into before');
        $this->saidBeside = true;
        $this->metadata->remark($why);
    }

    /** Whether metadata stands in it, or beside it. */
    public function isWrittenInto(): bool
    {
        return null !== $this->digestNow || null !== $this->sidecarPath;
    }

    /** Nothing was written. */
    public function writingRefused(string $why): void
    {
        $this->must($this->metadata->isWaiting(), 'refused its metadata', $this->metadata->state()->value);
        $this->must(null === $this->metadata->begun(), 'refused its metadata', 'being written');
        $this->metadata->refuse($why);
    }

    /** Another program changed a copy; null: it is as we have it again. */
    public function changedOutside(?OutsideChange $change): void
    {
        $this->must(null === $change || null === $this->metadata->begun(), 'changed outside', 'being written');
        $this->outside = $change?->toArray();
    }

    /** The other program's content is the file's from now on, in every place. */
    public function outsideTaken(OutsideChange $change, bool $isSidecar): void
    {
        $this->must(null === $this->metadata->begun(), 'taken from outside', 'being written');
        if ($isSidecar) {
            $this->setSidecar($change->path, $change->content, $change->modifiedAt);
        } else {
            $this->digestNow = $change->content->digest->hex;
            $this->secondNow = null;
            $this->bytesNow = $change->content->bytes;
            $this->modifiedAt = $change->modifiedAt;
            $this->pictureReplaced = $change->pictureChanged;
        }
        $this->outside = null;
    }

    /** It says what its frame says, since its frame took that over from it. */
    public function agreed(): void
    {
        $this->must($this->holdsMetadata, 'asked to say anything', 'none that holds metadata');
        $this->must(null === $this->metadata->begun(), 'taken for written', 'being written');
        $this->metadata->agree();
    }

    /** The copy that another program changed was put back from another place. */
    public function putBack(): void
    {
        $this->must(null !== $this->outside, 'put back', 'as it was filed');
        $this->outside = null;
    }

    /** All copies are as they were received again; what its frame says is written anew. */
    public function repaired(int $modifiedAt, \DateTimeImmutable $at): void
    {
        $this->must(null === $this->dng->rawPath(), 'repaired', $this->kindAndState());
        if (null !== $this->digestNow) {
            $this->metadata->beginAnew(true);
        }
        $this->metadata->undo();
        $this->digestNow = $this->secondNow = $this->bytesNow = null;
        $this->modifiedAt = $modifiedAt;
        $this->filedAt = $at;
    }

    /**
     * Some copies are as they were received again, while another one has what was written since: they get that from
     * it.
     */
    public function repairedInPart(\DateTimeImmutable $at): void
    {
        $now = $this->changed();
        if (null === $now) {
            throw NotNow::may($this->path, 'repaired in part', 'as it was received');
        }
        $this->metadata->goOnWith($now);
        $this->digestNow = $this->secondNow = $this->bytesNow = null;
        $this->filedAt = $at;
    }

    /** It is to become a DNG. */
    public function dngAsked(DngChoice $choice): void
    {
        $this->must(DngChoice::No !== $choice, 'converted', 'not to be converted');
        $this->must($this->mayBecomeDng(), 'converted', $this->kindAndState());
        $this->dng->ask(DngState::Waiting, $choice);
    }

    /** Nothing was converted, or not taken out. */
    public function dngRefused(string $why): void
    {
        $this->must($this->dng->state()->isUnderWay(), 'refused its DNG', $this->kindAndState());
        $this->dng->refuse($why);
    }

    /**
     * Its DNG lies beside it.
     *
     * @param bool $frameSays whether its frame says anything
     *
     * @return self the DNG
     */
    public function dngMadeBeside(
        MadeDng $made,
        string $fingerprint,
        bool $frameSays,
        \DateTimeImmutable $at,
    ): self {
        $this->must(DngState::Waiting === $this->dng->state(), 'converted', $this->kindAndState());
        $this->must($this->dng->choice()->keepsRaw(), 'kept beside its DNG', 'to become it');
        $dng = $this->beside($made->path, $made->content, $fingerprint, $at);
        $dng->metadata = new MetadataWork($this->saysAnything($frameSays));
        $dng->dng = DngWork::ofMade($made->samples);
        $this->dng->end();

        return $dng;
    }

    /** From now on it is its DNG; what was received is remembered by its digest. The raw file's copies are to go. */
    public function becameDng(MadeDng $made, bool $frameSays): void
    {
        $this->must(DngState::Waiting === $this->dng->state(), 'made a DNG', $this->kindAndState());
        $this->must(!$this->dng->choice()->keepsRaw(), 'made a DNG', 'to stay beside it');
        $this->dng->took($this->path, $made->samples);
        $this->path = $made->path;
        $this->kind = FileKind::Dng;
        $new = $made->content;
        [$this->digestNow, $this->secondNow, $this->bytesNow] = [$new->digest->hex, $new->second, $new->bytes];
        $this->outside = null;
        $this->holdsMetadata = true;
        $this->metadata->beginAnew($this->saysAnything($frameSays));
    }

    /** The raw file's copies are gone where they were. */
    public function rawLeft(): void
    {
        $this->must(DngState::Leaving === $this->dng->state(), 'left by its raw file', $this->kindAndState());
        $this->dng->end();
    }

    /** The raw file within it is to be taken out. */
    public function rawAskedBack(): void
    {
        $this->must($this->mayGiveRawBack(), 'asked for the raw file within it', $this->kindAndState());
        $this->dng->ask(DngState::Returning, DngChoice::Embed);
    }

    /**
     * It is the raw file again, as it was received.
     *
     * @param bool $frameSays whether its frame says anything
     *
     * @return self its DNG, which lies beside it from now on
     */
    public function rawTakenOut(bool $frameSays): self
    {
        $this->must(DngState::Returning === $this->dng->state(), 'made a raw file again', $this->kindAndState());
        $now = $this->changed();
        if (null === $now || null === $this->dng->rawPath() || null === $this->dng->samples()) {
            throw NotNow::may($this->path, 'made a raw file again', 'one');
        }
        $dng = $this->beside($this->path, $now, $this->fingerprint, $this->filedAt);
        [$dng->metadata, $this->metadata] = [$this->metadata, clone $this->metadata];
        [$dng->outside, $dng->ownTaken] = [$this->outside, $this->ownTaken];
        $dng->dng = DngWork::ofMade($this->dng->samples());
        $this->path = $this->dng->rawPath();
        $this->kind = FileKind::Raw;
        $this->digestNow = $this->secondNow = $this->bytesNow = null;
        $this->outside = null;
        $this->metadata->beginAnew($this->saysAnything($frameSays));
        $this->dng->gaveBack();

        return $dng;
    }

    /** No copy of its DNG is left: the raw file was received again, and is to become a DNG as before. */
    public function rawReceivedAgain(int $modifiedAt, \DateTimeImmutable $at): void
    {
        $this->path = $this->dng->rawPath() ?? throw NotNow::may($this->path, 'received again', $this->kindAndState());
        $this->kind = FileKind::Raw;
        $this->digestNow = $this->secondNow = $this->bytesNow = null;
        $this->outside = null;
        $this->metadata->beginAnew(true);
        $this->modifiedAt = $modifiedAt;
        $this->filedAt = $at;
        $this->dng->beginAnew();
    }

    /**
     * Its copies are to be moved, or deleted.
     *
     * @param string|null $to relative to the shelf; null where no copy is moved
     */
    public function moveAsked(Whereabouts $heading, ?string $to): void
    {
        $this->must($this->mayMove($heading), 'moved', $this->move->whereabouts()->value);
        $this->must(
            \in_array($heading, [Whereabouts::Deleted, Whereabouts::Forgotten], true) === (null === $to),
            'moved',
            'without a path of its own there',
        );
        $this->move->ask($heading, $to);
    }

    /** @param string $why its copies cannot be moved now, a sentence */
    public function moveStuck(string $why): void
    {
        $this->must(null !== $this->move->heading(), 'kept from moving', 'to stay');
        $this->move->wait($why);
    }

    /** Its copies lie where they were to be moved, its sidecar's too; of those that were to be deleted none is left. */
    public function moved(): void
    {
        $this->must(null !== $this->move->heading(), 'moved', 'to stay');
        $this->must(null === $this->metadata->begun(), 'moved', 'being written');
        $from = $this->path;
        if (null !== $to = $this->move->to()) {
            $this->path = $to;
            $this->sidecarPath = null === $this->sidecarPath
                ? null
                : AsideFolder::sidecar($this->sidecarPath, $from, $to);
            $this->outside = null; // what another program writes meanwhile is found again there
        }
        $this->move->end($from);
    }

    /** A DNG of its own frame, shelf and intake, made from it. */
    private function beside(string $path, Content $content, string $fingerprint, \DateTimeImmutable $at): self
    {
        $dng = new self(
            new FiledAs($this->frame, $this->shelf, $this->intake, $path),
            new Received($this->originalPath, FileKind::Dng, $content, $fingerprint, $this->modifiedAt ?? 0),
            new PlannedWords([], [], $this->ofFile, $this->clock),
            $at,
        );
        $dng->modifiedAt = $this->modifiedAt;
        $dng->madeFrom = $this->id();

        return $dng;
    }

    /** A file that holds metadata is written into where its frame says anything, or its camera's clock was wrong. */
    private function saysAnything(bool $frameSays): bool
    {
        return $frameSays || 0 !== $this->clock;
    }

    private function setSidecar(string $path, Content $content, int $modifiedAt): void
    {
        $this->sidecarPath = $path;
        $this->sidecarDigest = $content->digest->hex;
        $this->sidecarBytes = $content->bytes;
        $this->sidecarModifiedAt = $modifiedAt;
    }

    private function mustBeBeingWritten(): Content
    {
        return $this->metadata->begun() ?? throw NotNow::may($this->path, 'written', 'not being written');
    }

    private function kindAndState(): string
    {
        return \sprintf('a file of kind %s, DNG %s', $this->kind->value, $this->dng->state()->value);
    }

    private function must(bool $may, string $what, string $state): void
    {
        if (!$may) {
            throw NotNow::may($this->path, $what, $state);
        }
    }
}
