<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

use Velvet\Core\Bytes\Digest;

/** A file that is being copied together with others: its temporary files, and what is known of it so far. */
final class FileInHand
{
    /** @var list<PartFile> */
    public array $parts = [];
    public ?CopiedFile $copied = null;
    public ?TransferFailure $failure = null;

    public function __construct(public readonly FileToCopy $file)
    {
    }

    /** @throws TransferFailure */
    public function makeParts(): void
    {
        foreach ($this->file->targets as $target) {
            $this->parts[] = PartFile::create($target, $this->file->token, $this->file->grounds[$target] ?? null);
        }
    }

    /** @throws SourceChanged */
    public function mustBeExpected(): void
    {
        $expected = $this->file->expected;
        if (null !== $expected && true !== $this->copied?->received->content->equals($expected)) {
            throw SourceChanged::content($this->file->source);
        }
    }

    /** @throws NameTaken for all of its places, before the first one is taken */
    public function mustBePlaceable(): void
    {
        foreach ($this->file->repairs ? [] : $this->parts as $part) {
            $part->mustBePlaceable($this->digest(), $this->file->cutOff);
        }
    }

    /** Of what its copies contain. */
    public function digest(): Digest
    {
        return $this->copied?->digest() ?? throw new \LogicException('It was not read yet.');
    }

    /** Null where it failed. */
    public function copied(): ?CopiedFile
    {
        return null === $this->failure ? $this->copied : null;
    }

    public function outcome(): CopiedFile|TransferFailure
    {
        return $this->failure ?? $this->copied ?? throw new \LogicException('It was not copied.');
    }

    public function fails(TransferFailure $failure): void
    {
        $this->failure = $failure;
        $this->discard();
    }

    public function discard(): void
    {
        foreach ($this->parts as $part) {
            $part->discard();
        }
    }
}
