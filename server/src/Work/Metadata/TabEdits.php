<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

use Velvet\Core\Filed\Tab;
use Velvet\Core\Filed\TabColour;
use Velvet\Core\Filed\TabRefused;
use Velvet\Core\Filed\TabWriting;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Tabs;
use Velvet\Server\Store\Transaction;

/** Tabs are made, changed and deleted; this holds for every frame that has them, and the files follow. */
final readonly class TabEdits
{
    public function __construct(
        private Tabs $tabs,
        private TabWords $words,
        private Transaction $transaction,
        private Locks $locks,
        private MetadataQueue $queue,
        private Happenings $happenings,
    ) {
    }

    /**
     * @param TabColour|null $colour null: the one that fewest have
     *
     * @throws TabRefused
     */
    public function add(string $name, ?TabColour $colour = null, TabWriting $writes = TabWriting::Nothing): Tab
    {
        return $this->alone(function () use ($name, $colour, $writes): Tab {
            $all = $this->tabs->all();
            $name = self::free($name, $all);

            return $this->tabs->add(
                $name,
                $colour ?? Tab::colourBeside($all),
                $writes,
                Tab::keyOf($name, array_column($all, 'key')),
            );
        });
    }

    /**
     * Tabs by their names, whatever their case; those that are not there are made, all or none of them.
     *
     * @param list<string> $names
     *
     * @return array{list<Tab>, list<string>} and the names of those that were made
     *
     * @throws TabRefused
     */
    public function named(array $names): array
    {
        return $this->transaction->of(function () use ($names): array {
            $tabs = $made = [];
            foreach ($names as $name) {
                $tab = $this->tabs->called(Tab::name($name));
                if (null === $tab) {
                    $tab = $this->add($name);
                    $made[] = $tab->name;
                }
                $tabs[] = $tab;
            }

            return [$tabs, $made];
        });
    }

    /**
     * @param string|null $name null: it stays, as do the others
     *
     * @throws TabRefused
     */
    public function change(Tab $tab, ?string $name, ?TabColour $colour, ?TabWriting $writes): void
    {
        $this->alone(function () use ($tab, $name, $colour, $writes): void {
            $others = array_values(array_filter(
                $this->tabs->all(),
                static fn (Tab $one): bool => $one->id !== $tab->id,
            ));
            $name = null === $name ? $tab->name : self::free($name, $others);
            $wanted = new Tab(
                $tab->id,
                $name,
                $colour ?? $tab->colour,
                $writes ?? $tab->writes,
                $name === $tab->name ? $tab->key : Tab::keyOf($name, array_column($others, 'key')),
            );
            $this->tabs->keep($wanted);
            if (!$wanted->writesLike($tab)) {
                $this->follow($this->tabs->frames($tab), $tab, $wanted);
            }
        });
        $this->queue->begin();
    }

    /** It is taken off every frame, and what it wrote out of their files. */
    public function delete(Tab $tab): void
    {
        $this->alone(function () use ($tab): void {
            $frames = $this->tabs->frames($tab);
            $this->tabs->remove($tab);
            $this->follow($frames, $tab, null);
        });
        $this->queue->begin();
    }

    /** @param list<int> $frames that had the one, and have the other now */
    private function follow(array $frames, Tab $before, ?Tab $now): void
    {
        $words = $this->words->between([$before], null === $now ? [] : [$now]);
        if ($words->areWritten() && [] !== $frames) {
            $this->words->say($frames, $words);
            $this->queue->ask($frames);
        }
    }

    /**
     * @template T
     *
     * @param \Closure(): T $do
     *
     * @return T
     */
    private function alone(\Closure $do): mixed
    {
        return $this->transaction->of(function () use ($do): mixed {
            $this->locks->untilCommitted(Lock::Tabs);
            $done = $do();
            $this->happenings->tell('tabs', []);

            return $done;
        });
    }

    /** @param list<Tab> $others */
    private static function free(string $typed, array $others): string
    {
        $name = Tab::name($typed);
        foreach ($others as $other) {
            if ($other->isCalled($name)) {
                throw TabRefused::taken($other->name);
            }
        }

        return $name;
    }
}
