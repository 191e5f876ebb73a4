<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

/** What frames of a pass can be told apart by. Each is said once, and by each frame as its number: they are many. */
final class PassFacets
{
    /** @var array<string, int> numbers, by what it is and the value */
    private array $numbers = [];
    /** @var list<array{by: string, value: string}> */
    private array $facets = [];

    /**
     * @param list<array{string, string|null}> $said by what, and the value; null: the frame does not say it
     *
     * @return list<int>
     */
    public function of(array $said): array
    {
        $numbers = [];
        foreach ($said as [$by, $value]) {
            if (null !== $value && '' !== $value) {
                $number = $this->numbers[$by.' '.$value] ??= \count($this->facets);
                $this->facets[$number] ??= ['by' => $by, 'value' => $value];
                $numbers[] = $number;
            }
        }

        return $numbers;
    }

    /** @return list<array{by: string, value: string}> in the order of their numbers */
    public function all(): array
    {
        return $this->facets;
    }
}
