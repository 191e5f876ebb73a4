<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Velvet\Core\Filed\Whereabouts;
use Velvet\Server\Store\AsideFrames;
use Velvet\Server\Store\FrameFinder;
use Velvet\Server\Store\Shoots;
use Velvet\Server\Work\Aside\AsideDone;
use Velvet\Server\Work\Aside\AsideRefused;
use Velvet\Server\Work\Aside\FileMoves;
use Velvet\Server\Work\Aside\SettingAside;

#[AsCommand('velvet:aside', 'Sets the struck frames of a shoot aside, or brings frames back.')]
final class AsideCommand extends Command
{
    private const BETWEEN = 50_000; // microseconds

    public function __construct(
        private readonly SettingAside $acts,
        private readonly FileMoves $moves,
        private readonly AsideFrames $aside,
        private readonly Shoots $shoots,
        private readonly FrameFinder $finder,
    ) {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('do', InputArgument::REQUIRED, 'set-aside or bring-back')
            ->addArgument('of', InputArgument::REQUIRED | InputArgument::IS_ARRAY, 'a shoot, or files to bring back')
            ->addOption('json', null, InputOption::VALUE_NONE, 'one JSON document instead of text');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $say = new Say($output);
        $json = true === $input->getOption('json');
        $of = $input->getArgument('of');
        $of = array_values(array_filter(\is_array($of) ? $of : [], is_string(...)));
        $isBack = 'bring-back' === $input->getArgument('do');
        $meant = [];
        $unknown = [];
        foreach ($of as $one) {
            $found = $isBack ? $this->finder->at($say->absolute($one)) : null;
            $shoots = null === $found ? $this->shoots->called($one) : [];
            foreach ($shoots as $shoot) {
                $meant[$shoot] = null;
            }
            if (null !== $found) {
                $meant[$found['shoot']] = [...$meant[$found['shoot']] ?? [], $found['frame']];
            } elseif ([] === $shoots) {
                $unknown[] = $one;
            }
        }
        foreach ($unknown as $one) {
            $say->note(\sprintf(
                $isBack ? '%s is neither a shoot nor a file of a filed frame.' : 'There is no shoot called “%s”.',
                $one,
            ));
        }
        if ([] === $meant) {
            return $say->refusal('Nothing was moved.', $json);
        }
        $this->moves->all(); // what was cut off before goes on first
        $sum = new AsideDone(0, 0, 0, []);
        foreach ($meant as $shoot => $frames) {
            try {
                $to = $isBack ? Whereabouts::InShoot : Whereabouts::SetAside;
                $sum = $sum->and($this->acts->act($shoot, $to, $frames));
            } catch (AsideRefused $e) {
                if (1 === \count($meant)) {
                    return $say->refusal($e->getMessage(), $json);
                }
                $say->note($e->getMessage());
            }
        }
        $this->moves->all();
        while ([] !== array_filter(array_keys($meant), $this->aside->isUnderWay(...))) {
            usleep(self::BETWEEN); // a worker has some of them in hand
            $this->moves->all();
        }
        $notes = array_merge($sum->left, ...array_map($this->aside->notes(...), array_keys($meant)));
        array_map($say->note(...), $notes);
        if ($json) {
            $say->json(['frames' => $sum->frames, 'files' => $sum->files, 'bytes' => $sum->bytes]);
        } else {
            $say->line(\sprintf(
                '%d %s with %d %s %s.',
                $sum->frames,
                1 === $sum->frames ? 'frame' : 'frames',
                $sum->files,
                1 === $sum->files ? 'file' : 'files',
                $isBack ? 'brought back' : 'set aside',
            ));
        }

        return [] === $notes && [] === $unknown && $sum->frames > 0 ? Command::SUCCESS : Command::FAILURE;
    }
}
