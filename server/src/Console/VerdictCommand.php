<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Exception\InvalidArgumentException;
use Symfony\Component\Console\Exception\InvalidOptionException;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Velvet\Core\Filed\Rotation;
use Velvet\Core\Filed\Tab;
use Velvet\Core\Filed\TabRefused;
use Velvet\Core\Filed\Verdict;
use Velvet\Core\Filed\VerdictsUnreadable;
use Velvet\Core\Filed\VerdictTable;
use Velvet\Core\Metadata\Metadata;
use Velvet\Server\Store\FrameFinder;
use Velvet\Server\Store\FrameSearch;
use Velvet\Server\Store\Marks;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Shoots;
use Velvet\Server\Store\Tabs;
use Velvet\Server\Work\Metadata\ShootMetadata;
use Velvet\Server\Work\Metadata\SidecarImport;
use Velvet\Server\Work\Metadata\TabEdits;
use Velvet\Server\Work\Metadata\WordsChange;
use Velvet\Server\Work\Metadata\WriteMetadata;
use Velvet\Server\Work\Metadata\WriteMetadataHandler;

/** @phpstan-import-type Change from SidecarImport */
#[AsCommand('velvet:verdict', 'Judges, tabs and rotates filed frames, and takes verdicts in and out as a table.')]
final class VerdictCommand extends Command
{
    private const DOES = 'keep, strike, open, stars, tab, untab, rotate, take, list, export or import';
    private const ACTS = ['keep' => Verdict::Kept, 'strike' => Verdict::Struck, 'open' => Verdict::Open];

    public function __construct(
        private readonly FrameFinder $finder,
        private readonly Shoots $shoots,
        private readonly ShootMetadata $metadata,
        private readonly WriteMetadataHandler $writing,
        private readonly Tabs $tabs,
        private readonly TabEdits $tabEdits,
        private readonly Marks $marks,
        private readonly SidecarImport $sidecars,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        SearchOptions::declare($this);
        $this->addArgument('do', InputArgument::REQUIRED, self::DOES)
            ->addArgument(
                'of',
                InputArgument::IS_ARRAY,
                'files; for stars, how many, for tab, untab and take, a name, for rotate, right or left, and then '
                    .'files; '
                    .'none where frames are searched',
            )
            ->addOption('shoot', null, InputOption::VALUE_REQUIRED, 'files are named as in this shoot; search in it')
            ->addOption('by', null, InputOption::VALUE_REQUIRED, 'who judges; of an import: beside the verdicts')
            ->addOption('format', null, InputOption::VALUE_REQUIRED, 'of an export: csv or json')
            ->addOption('wait', null, InputOption::VALUE_NONE, 'return when the files say it in every connected place')
            ->addOption('json', null, InputOption::VALUE_NONE, 'one JSON document instead of text');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $say = new Say($output);
        $json = true === $input->getOption('json');
        $do = $input->getArgument('do');
        $of = $input->getArgument('of');
        $of = array_values(array_filter(\is_array($of) ? $of : [], is_string(...)));
        $name = $input->getOption('shoot');
        $shoots = \is_string($name) ? $this->shoots->called($name) : null;
        if ([] === $shoots) {
            return $say->refusal(
                \sprintf('There is no shoot called “%s”; no verdict was changed.', \is_string($name) ? $name : ''),
                $json,
            );
        }
        try {
            $search = SearchOptions::read($input, $shoots, $this->tabCalled(...));
        } catch (TabRefused $e) {
            return $say->refusal($e->getMessage(), $json);
        }
        if ('export' === $do) {
            return $this->export($search, $input->getOption('format'), $say, $output);
        }
        if ('list' === $do) {
            return $this->list($search, $json, $say);
        }
        $by = self::name($input->getOption('by'));
        $unread = [];
        if ('import' === $do && SidecarImport::isMeant($say->absolute($of[0] ?? ''))) {
            [$changes, $unknown, $unread] = $this->sidecars->changes(array_map($say->absolute(...), $of), $shoots);
        } elseif ('import' === $do) {
            try {
                [$changes, $unknown] = $this->taken(VerdictTable::read($say->absolute($of[0] ?? '')), $shoots, $say);
            } catch (VerdictsUnreadable|TabRefused $e) {
                return $say->refusal($e->getMessage(), $json);
            }
        } else {
            try {
                [$meant, $files] = $this->meant(\is_string($do) ? $do : '', $of, $search->isNarrow(), $by);
                [$found, $unknown] = [] === $files
                    ? [$this->searched($search), []]
                    : $this->found($files, $shoots, $say);
                $changes = $this->changes($meant, $found, $say);
            } catch (TabRefused $e) {
                return $say->refusal($e->getMessage(), $json);
            }
        }
        $frames = 0;
        foreach ($changes as ['shoot' => $shoot, 'frames' => $ids, 'change' => $change]) {
            if ('import' === $do && null !== $by) {
                $this->metadata->putBeside($shoot, $ids, $by, $change->verdict, $change->rating);
                $frames += \count($ids);
            } else {
                $frames += 0 === $this->metadata->change($shoot, $ids, $change) ? 0 : \count($ids);
            }
        }
        if (true === $input->getOption('wait')) {
            ($this->writing)(new WriteMetadata());
        }
        foreach ($unread as $why) {
            $say->note($why);
        }
        foreach ($unknown as $path) {
            $say->note(\sprintf('%s is no file of a filed frame; nothing was changed for it.', $path));
        }
        if ($json) {
            $say->json(['frames' => $frames, 'unknown' => $unknown] + ([] === $unread ? [] : ['unread' => $unread]));
        } else {
            $say->line(\sprintf(
                '%d %s %s.',
                $frames,
                1 === $frames ? 'frame' : 'frames',
                'rotate' === $do ? 'rotated' : 'judged',
            ));
        }

        return [] === [...$unknown, ...$unread] ? Command::SUCCESS : Command::FAILURE;
    }

    /**
     * @param list<string> $of
     * @param bool         $isSearched whether frames are meant by a search
     *
     * @return array{array{tab: string|null, whose: string|null, change: WordsChange}, list<string>} what is to be done:
     *     the tab of a name given, somebody's marks taken over, or else the change; and the files that are meant, none
     *     where frames are searched
     *
     * @throws TabRefused
     */
    private function meant(string $do, array $of, bool $isSearched, ?string $by): array
    {
        $tab = $whose = null;
        if ('stars' === $do) {
            $stars = array_shift($of) ?? '';
            if (1 !== preg_match('/^[0-5]$/', $stars)) {
                throw new InvalidArgumentException('Say how many stars, from 0 to 5, and then the files.');
            }
            $change = new WordsChange(rating: (int) $stars, by: $by);
        } elseif ('take' === $do) {
            $whose = self::name(array_shift($of))
                ?? throw new InvalidArgumentException('Say whose marks, and then the files.');
            $change = new WordsChange();
        } elseif ('tab' === $do) {
            $tab = array_shift($of) ?? '';
            $change = new WordsChange();
        } elseif ('rotate' === $do) {
            $change = new WordsChange(rotate: Rotation::tryFrom(array_shift($of) ?? '')
                ?? throw new InvalidArgumentException('Say whether to the right or to the left, and then the files.'));
        } elseif ('untab' === $do) {
            $change = new WordsChange(untab: [$this->tabCalled(array_shift($of) ?? '')->id]);
        } else {
            $verdict = self::ACTS[$do] ?? throw new InvalidArgumentException(
                'There are: '.str_replace(' or ', ' and ', self::DOES).'.',
            );
            $change = new WordsChange(verdict: $verdict, by: $by);
        }

        if (([] === $of) !== $isSearched) {
            throw new InvalidArgumentException(
                'Say which files, or what is searched'.([] === $of ? '.' : ', not both.'),
            );
        }

        return [['tab' => $tab, 'whose' => $whose, 'change' => $change], $of];
    }

    /**
     * @param array{tab: string|null, whose: string|null, change: WordsChange} $meant as {@see self::meant()} has it
     * @param array<int, non-empty-list<int>>                                  $found frames by their shoot; without any
     *                                                                                no tab is made
     *
     * @return list<Change>
     *
     * @throws TabRefused
     */
    private function changes(array $meant, array $found, Say $say): array
    {
        ['tab' => $tab, 'whose' => $whose, 'change' => $change] = $meant;

        return match (true) {
            [] === $found => [],
            null !== $tab => self::forAll($found, new WordsChange(tabs: $this->tabs([$tab], $say))),
            null !== $whose => $this->takenOver($found, $whose),
            default => self::forAll($found, $change),
        };
    }

    /**
     * @param array<int, non-empty-list<int>> $found frames by their shoot
     *
     * @return list<Change>
     */
    private static function forAll(array $found, WordsChange $change): array
    {
        return array_map(
            static fn (int $shoot, array $ids): array => ['shoot' => $shoot, 'frames' => $ids, 'change' => $change],
            array_keys($found),
            $found,
        );
    }

    /**
     * What somebody says of frames becomes their verdict; those that they say the same of are changed at one stroke.
     *
     * @param array<int, non-empty-list<int>> $found frames by their shoot
     *
     * @return list<Change>
     */
    private function takenOver(array $found, string $whose): array
    {
        $changes = [];
        foreach ($found as $shoot => $ids) {
            foreach ($this->marks->of($whose, $ids) as ['frames' => $some, 'verdict' => $verdict, 'stars' => $stars]) {
                $change = new WordsChange(rating: $stars, verdict: $verdict, by: $whose);
                $changes[] = ['shoot' => $shoot, 'frames' => $some, 'change' => $change];
            }
        }

        return $changes;
    }

    private static function name(mixed $said): ?string
    {
        $name = \is_string($said) ? trim(mb_substr(Metadata::clean($said), 0, 60)) : '';

        return '' === $name ? null : $name;
    }

    /** @return array<int, non-empty-list<int>> frames by their shoot */
    private function searched(FrameSearch $search): array
    {
        $frames = [];
        foreach ($this->finder->judged($search) as $row) {
            $frames[$row->int('shoot_id')][] = $row->int('id');
        }

        return $frames;
    }

    private function list(FrameSearch $search, bool $json, Say $say): int
    {
        $frames = $this->told($search);
        if ($json) {
            $say->json(['count' => \count($frames), 'frames' => $frames]);

            return Command::SUCCESS;
        }
        foreach ($frames as $frame) {
            $say->line(rtrim(\sprintf(
                '%-6s  %-5s  %s  %s%s',
                $frame['verdict'],
                str_repeat('*', max(0, $frame['stars'] ?? 0)),
                $frame['path'],
                implode(', ', $frame['tabs']),
                null === $frame['by'] ? '' : ' (by '.$frame['by'].')',
            )));
        }
        $say->note(\sprintf('%d %s.', \count($frames), 1 === \count($frames) ? 'frame' : 'frames'));

        return Command::SUCCESS;
    }

    /**
     * @return list<array{id: int, shoot: string, path: string, verdict: string, stars: int|null, tabs: list<string>,
     *     by: string|null}>
     */
    private function told(FrameSearch $search): array
    {
        return array_map(static fn (Row $row): array => [
            'id' => $row->int('id'),
            'shoot' => $row->text('shoot'),
            'path' => $row->text('path'),
            'verdict' => $row->text('verdict'),
            'stars' => $row->intOrNull('rating'),
            'tabs' => array_values(array_filter($row->json('tabs'), is_string(...))),
            'by' => $row->textOrNull('judged_by'),
        ], $this->finder->judged($search));
    }

    /**
     * @param list<string>             $files
     * @param non-empty-list<int>|null $shoots
     *
     * @return array{array<int, non-empty-list<int>>, list<string>} frames by their shoot, and the files that none has
     */
    private function found(array $files, ?array $shoots, Say $say): array
    {
        $frames = $unknown = [];
        foreach ($files as $file) {
            $found = null === $shoots
                ? $this->finder->at($say->absolute($file))
                : $this->finder->named($shoots, $file);
            if (null === $found) {
                $unknown[] = $file;
            } else {
                $frames[$found['shoot']][$found['frame']] = $found['frame'];
            }
        }

        return [array_map(array_values(...), $frames), $unknown];
    }

    /**
     * @param list<array{path: string, verdict: Verdict, stars: int|null, tabs: list<string>|null}> $lines
     * @param non-empty-list<int>|null $shoots null: of all of them
     *
     * @return array{list<Change>, list<string>} frames of one shoot with the same verdict, stars and tabs are changed
     *     at one stroke
     *
     * @throws TabRefused
     */
    private function taken(array $lines, ?array $shoots, Say $say): array
    {
        $names = array_values(array_unique(array_merge([], ...array_map(
            static fn (array $line): array => $line['tabs'] ?? [],
            $lines,
        ))));
        $ids = array_combine($names, $this->tabs($names, $say));
        $all = array_column($this->tabs->all(), 'id');
        $changes = $unknown = [];
        foreach ($lines as ['path' => $path, 'verdict' => $verdict, 'stars' => $stars, 'tabs' => $named]) {
            $found = $this->finder->below($path);
            if (null === $found || (null !== $shoots && !\in_array($found['shoot'], $shoots, true))) {
                $unknown[] = $path;
                continue;
            }
            $tabs = array_map(static fn (string $name): int => $ids[$name], $named ?? []);
            $others = null === $named ? [] : array_diff($all, $tabs);
            $key = implode(' ', [$found['shoot'], $verdict->value, $stars, '+', ...$tabs, '-', ...$others]);
            $changes[$key] ??= [
                'shoot' => $found['shoot'],
                'frames' => [$found['frame']],
                'change' => new WordsChange(
                    rating: $stars,
                    verdict: $verdict,
                    tabs: $tabs,
                    untab: array_values($others),
                ),
            ];
            $changes[$key]['frames'] = array_values(array_unique([...$changes[$key]['frames'], $found['frame']]));
        }

        return [array_values($changes), $unknown];
    }

    /**
     * @param list<string> $names of tabs; those that are not there are made, and told
     *
     * @return list<int>
     *
     * @throws TabRefused
     */
    private function tabs(array $names, Say $say): array
    {
        [$tabs, $made] = $this->tabEdits->named($names);
        foreach ($made as $name) {
            $say->note(\sprintf('There was no tab “%s”; it was made.', $name));
        }

        return array_column($tabs, 'id');
    }

    /** @throws TabRefused */
    private function tabCalled(string $name): Tab
    {
        return $this->tabs->called($name)
            ?? throw TabRefused::unknown($name, array_column($this->tabs->all(), 'name'));
    }

    private function export(FrameSearch $search, mixed $format, Say $say, OutputInterface $output): int
    {
        $frames = $this->told($search);
        if ('json' === $format) {
            $say->json(['frames' => $frames]);
        } elseif ('csv' === $format) {
            $output->write(VerdictTable::csv($frames), false, OutputInterface::OUTPUT_RAW);
        } else {
            throw new InvalidOptionException('Say in which format: --format=csv or json.');
        }

        return Command::SUCCESS;
    }
}
