<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Symfony\Component\HttpFoundation\Response;
use Velvet\Server\Work\Metadata\WriteMetadata;
use Velvet\Server\Work\Metadata\WriteMetadataHandler;

/** A shoot with frames that are judged as a page does it. */
abstract class FirstLookTestCase extends ServerTestCase
{
    /** @return list<int> ids of frames of one shoot, in capture order */
    protected function filed(int $count, string $fractions = ''): array
    {
        for ($n = 0; $n < $count; ++$n) {
            '' === $fractions
                ? $this->shot(\sprintf('DCIM/100/T000%d.JPG', $n), \sprintf('2026:05:02 19:31:%02d', 10 * $n))
                : $this->shot(
                    \sprintf('DCIM/100/T000%d.JPG', $n),
                    '2026:05:02 19:31:40'.\sprintf($fractions, 2 * $n),
                );
        }
        $this->takeIn('Regatta');

        return array_map(
            static fn (mixed $id): int => \is_int($id) ? $id : 0,
            $this->database()->fetchFirstColumn('SELECT id FROM filed_frame ORDER BY id'),
        );
    }

    /** @param array<string, mixed> ...$judgements */
    protected function judge(array ...$judgements): Response
    {
        return $this->request('PATCH', '/api/shoots/1/verdicts', ['judgements' => $judgements]);
    }

    protected function follow(): void
    {
        ($this->get(WriteMetadataHandler::class))(new WriteMetadata());
    }

    /** @return array<mixed> */
    protected function pass(string $part): array
    {
        $pass = json_decode((string) $this->request('GET', '/api/shoots/1/verdicts')->getContent(), true);

        return \is_array($pass) && \is_array($pass[$part]) ? $pass[$part] : [];
    }
}
