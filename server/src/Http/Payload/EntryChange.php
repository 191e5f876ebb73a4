<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

use Symfony\Component\Validator\Constraints as Assert;

final readonly class EntryChange implements Payload
{
    /** What the style says, in place of a choice of the entry's own. */
    private const AS_THE_STYLE = '';

    /**
     * @param bool|null         $strays         whether the frames around its time-lapse go into a folder of their own
     * @param string|null       $rights         the name of a rights set of the style; empty: none
     * @param string|null       $dng            a {@see DngChoice}, or empty for what the style says
     * @param list<string>|null $addKeywords    paths as they are typed
     * @param list<string>|null $removeKeywords the same
     * @param int|null          $into           a shoot that is there already; 0: one of its own
     */
    public function __construct(
        public ?string $name = null,
        public ?string $kind = null,
        public ?string $client = null,
        public ?string $trip = null,
        public ?bool $strays = null,
        public ?string $description = null,
        public ?string $rights = null,
        #[Assert\Choice(
            [self::AS_THE_STYLE, 'no', 'beside', 'instead', 'embed'],
            message: 'must be no, beside, instead or embed, or empty for what the style says',
        )]
        public ?string $dng = null,
        public ?array $addKeywords = null,
        public ?array $removeKeywords = null,
        public ?int $into = null,
    ) {
    }

    /** @return array<string, string> those of {@see \Velvet\Core\Naming\EntryWords} that it gives */
    public function words(): array
    {
        $words = [
            'name' => $this->name, 'kind' => $this->kind, 'client' => $this->client, 'trip' => $this->trip,
        ];

        return array_filter($words, static fn (?string $word): bool => null !== $word);
    }
}
