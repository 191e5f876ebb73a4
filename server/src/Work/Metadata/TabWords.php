<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Metadata;

use Velvet\Core\Filed\Tab;
use Velvet\Core\Filed\TabWriting;
use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Metadata\Field;
use Velvet\Server\Store\FiledFrames;
use Velvet\Server\Store\Tabs;
use Velvet\Server\Work\Keywords\Keywords;

/** What tabs write into files: their name, as a keyword of the catalogue or as the label. */
final readonly class TabWords
{
    public function __construct(private Tabs $tabs, private FiledFrames $frames, private Keywords $keywords)
    {
    }

    /**
     * @param list<int> $on  ids of tabs that frames get
     * @param list<int> $off ids of tabs that they lose
     */
    public function words(array $on, array $off): WordsOfTabs
    {
        $tabs = [] === $on && [] === $off ? [] : $this->tabs->all();
        $among = static fn (array $ids): array => array_values(
            array_filter($tabs, static fn (Tab $tab): bool => \in_array($tab->id, $ids, true)),
        );

        return $this->between($among($off), $among($on));
    }

    /**
     * @param list<Tab> $lost   by frames
     * @param list<Tab> $gotten by the same frames
     */
    public function between(array $lost, array $gotten): WordsOfTabs
    {
        $remove = [];
        $paths = self::paths($lost);
        $tree = $this->keywords->about([], $paths);
        foreach ($paths as $path) {
            $remove[] = $tree->find($tree->placed($path))?->id;
        }

        return new WordsOfTabs(
            $this->keywords->ids(self::paths($gotten)),
            array_values(array_filter($remove, is_int(...))),
            [] !== array_filter(
                [...$lost, ...$gotten],
                static fn (Tab $tab): bool => TabWriting::Label === $tab->writes,
            ),
        );
    }

    /**
     * Within a transaction: frames say what their tabs write from now on.
     *
     * @param list<int> $frames whose tabs are what they are to be
     */
    public function say(array $frames, WordsOfTabs $words): void
    {
        $this->frames->take($frames, $words->remove);
        $this->frames->give($frames, $words->add);
        if (!$words->isLabel) {
            return;
        }
        $labels = [];
        foreach ($this->tabs->all() as $tab) {
            if (TabWriting::Label === $tab->writes) {
                $labels[$tab->id] = $tab->name;
            }
        }
        $saying = [];
        foreach ($this->tabs->of($frames) as $frame => $tabs) {
            $saying[array_values(array_intersect($tabs, array_keys($labels)))[0] ?? 0][] = $frame;
        }
        foreach ($saying as $tab => $of) {
            $this->frames->say($of, [Field::Label->value => $labels[$tab] ?? ''], null);
        }
    }

    /**
     * @param list<Tab> $tabs
     *
     * @return list<KeywordPath> of those that are written as keywords
     */
    private static function paths(array $tabs): array
    {
        return array_map(
            static fn (Tab $tab): KeywordPath => KeywordPath::typed($tab->name),
            array_values(array_filter($tabs, static fn (Tab $tab): bool => TabWriting::Keyword === $tab->writes)),
        );
    }
}
