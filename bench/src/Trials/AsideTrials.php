<?php

declare(strict_types=1);

namespace Velvet\Bench\Trials;

/**
 * Kills `velvet set-aside` and `velvet bring-back` at random moments: at each of them every file is in each place once,
 * under the one name or the other, and begun again the whole act is done.
 */
final readonly class AsideTrials
{
    private const FRAMES = 40;
    private const KEPT = 10;
    private const MOST_BYTES = 20_000;

    public function __construct(private string $folder, private \Random\Randomizer $random)
    {
    }

    public function killed(int $kills): TrialSum
    {
        $sum = new TrialSum('setting aside and bringing back killed');
        $name = 'Lantern Regatta '.bin2hex($this->random->getBytes(4));
        $place = new TrialPlace(
            $this->folder.'/aside-'.$this->random->getInt(0, 999_999),
            self::FRAMES,
            $this->random,
            shoot: $name,
            mostBytes: self::MOST_BYTES,
        );
        $losses = 0 === ConsoleProcess::intake($place)->wait() ? [] : ['the card was not taken in'];
        $names = array_map(basename(...), array_keys($place->tree($place->shelf)));
        self::run(['velvet:verdict', 'strike', ...\array_slice($names, self::KEPT), '--shoot', $name]);
        $acts = ['set-aside', 'bring-back'];
        $trees = [];
        $seconds = 0.0;
        foreach ($acts as $act) {
            $began = microtime(true);
            self::run(['velvet:aside', $act, $name]);
            $seconds = max($seconds, microtime(true) - $began);
            $trees[$act] = $place->tree($place->shelf);
        }
        if (self::FRAMES !== \count($trees['set-aside']) || $trees['set-aside'] === $trees['bring-back']) {
            $losses[] = 'nothing was set aside';
        }
        $sum->trial($losses);
        for ($n = 0; $sum->faults < $kills; ++$n) {
            $act = $acts[$n % 2];
            $process = new ConsoleProcess(['velvet:aside', $act, $name]);
            usleep($this->random->getInt(0, (int) ($seconds * 1_000_000)));
            if ($process->runs()) {
                $process->kill();
                $sum->fault($act.' '.self::moment($place, $trees[$act], $trees[$acts[1 - $n % 2]]));
            }
            $losses = self::mustHoldAll($place, 'killed while '.$act);
            self::run(['velvet:aside', $act, $name]);
            foreach ([$place->shelf, $place->twin] as $root) {
                if ($place->tree($root) !== $trees[$act]) {
                    $losses[] = "after $act, begun again, $root is not what it should be: "
                        .implode(', ', array_keys($place->tree($root)));
                }
            }
            $sum->trial($losses);
        }
        $place->remove();

        return $sum;
    }

    /**
     * @param array<string, string> $done what the shelf is when the act is over
     * @param array<string, string> $old  what it was before
     */
    private static function moment(TrialPlace $place, array $done, array $old): string
    {
        $now = $place->tree($place->shelf);

        return match (true) {
            $now === $old => 'before a file was moved',
            $now === $done => 'when all were moved',
            default => 'in between',
        };
    }

    /** @return list<string> */
    private static function mustHoldAll(TrialPlace $place, string $when): array
    {
        $losses = [];
        $expected = array_values($place->content);
        sort($expected);
        foreach ([$place->shelf, $place->twin] as $root) {
            $found = array_values($place->tree($root));
            sort($found);
            if ($found !== $expected) {
                $losses[] = $when.": files are lost, doubled or changed in $root";
            }
        }

        return $losses;
    }

    /** @param list<string> $command */
    private static function run(array $command): void
    {
        (new ConsoleProcess($command))->wait();
    }
}
