<?php

declare(strict_types=1);

namespace Velvet\Core\Ledger;

use Velvet\Core\Bytes\Digests;

/** What a receipt says of one file. */
final readonly class ReceiptLine
{
    /**
     * @param string       $state      filed, same (equal to a filed one), failed, or why it was not copied:
     *                                 already_filed, left_out, unreadable
     * @param string       $card       its label
     * @param string       $original   path on the card
     * @param string|null  $path       relative to the shelf; null where it is not filed
     * @param list<string> $places     absolute paths of its verified copies
     * @param int|null     $modifiedAt Unix seconds
     * @param string|null  $filedAt    RFC 3339
     * @param string       $note       what it equals, or why it is not filed
     */
    public function __construct(
        public string $state,
        public int $intake,
        public string $shoot,
        public string $card,
        public string $original,
        public ?string $path,
        public array $places,
        public int $bytes,
        public ?Digests $digests,
        public ?int $modifiedAt = null,
        public ?string $filedAt = null,
        public string $note = '',
    ) {
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return [
            'state' => $this->state, 'intake' => $this->intake, 'shoot' => $this->shoot, 'card' => $this->card,
            'original' => $this->original, 'path' => $this->path, 'places' => $this->places, 'bytes' => $this->bytes,
            'digest' => $this->digests?->content->labelled(), 'second_digest' => $this->digests?->labelled()[1] ?? null,
            'filed_at' => $this->filedAt, 'note' => $this->note,
        ];
    }
}
