<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Psr\Cache\CacheItemPoolInterface;
use Psr\Clock\ClockInterface;
use Velvet\Server\Store\AskedFolders;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\Snapshots;

/**
 * What is shown of a sheet's plan, kept for the next question as long as it would come out the same: nothing at all was
 * written in the database since, the shelf's folders hold the same names, and it is the same day. A new version of the
 * program empties the cache. Of each part one sheet is kept, the one that was looked at last.
 */
final readonly class KeptPlans
{
    public function __construct(
        private CacheItemPoolInterface $cache,
        private Snapshots $snapshots,
        private AskedFolders $folders,
        private ClockInterface $clock,
    ) {
    }

    /**
     * @template T of array
     *
     * @param 'sheet'|'frames' $part
     * @param \Closure(): T    $make
     *
     * @return T
     */
    public function of(Intake $intake, string $part, \Closure $make): array
    {
        // told before anything is read: what is written meanwhile makes it another word
        $from = [$intake->id(), $this->clock->now()->format('Y-m-d'), $this->snapshots->current()];
        $item = $this->cache->getItem('plan-'.$part);
        /**
         * @var array{
         *     from: array{int, string, string},
         *     asked: list<array{list<string>, string, string}>,
         *     shown: T,
         * }|null $kept
         */
        $kept = $item->get();
        if (null !== $kept && $from === $kept['from'] && AskedFolders::wouldAnswerTheSame($kept['asked'])) {
            return $kept['shown'];
        }
        [$shown, $asked] = $this->folders->noting($make);
        $this->cache->save($item->set(['from' => $from, 'asked' => $asked, 'shown' => $shown]));

        return $shown;
    }
}
