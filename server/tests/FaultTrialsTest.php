<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Velvet\Bench\Trials\AsideTrials;
use Velvet\Bench\Trials\TrialKind;
use Velvet\Bench\Trials\Trials;
use Velvet\Bench\Trials\WordTrials;

/**
 * A short series of `./velvet trials`, on real processes: workers and the database are killed with SIGKILL at random
 * moments.
 */
final class FaultTrialsTest extends ServerTestCase
{
    public function testWhateverIsKilledNothingIsLost(): void
    {
        $database = getenv('VELVET_DATABASE');
        self::assertIsString($database);
        $seed = random_int(1, 999_999);
        $trials = new Trials($this->folder, new \Random\Randomizer(new \Random\Engine\Mt19937($seed)), $database);
        $sums = [
            $trials->killed(6),
            $trials->killed(4, TrialKind::Metadata),
            $trials->killed(4, TrialKind::Dng),
            $trials->racing(1),
            $trials->sourceChanges(1),
            $trials->databaseKilled(1),
        ];
        self::assertSame([], array_merge($trials->ledger(), ...array_column($sums, 'losses')), "seed $seed");
        self::assertGreaterThanOrEqual(6, $sums[0]->faults);
        self::assertSame(1, $sums[5]->faults);
    }

    public function testWhatIsSetAsideWhenItIsKilledIsThereOnceAndTheActIsDoneWhole(): void
    {
        $seed = random_int(1, 999_999);
        $sum = (new AsideTrials($this->folder, new \Random\Randomizer(new \Random\Engine\Mt19937($seed))))->killed(4);
        self::assertSame([], $sum->losses, "seed $seed");
        self::assertSame(4, $sum->faults);
    }

    public function testNoFaultMakesAFalseWord(): void
    {
        $seed = random_int(1, 999_999);
        $trials = new WordTrials($this->folder, new \Random\Randomizer(new \Random\Engine\Mt19937($seed)));
        $sums = [$trials->placesGone(7), $trials->cardsChanged(5), $trials->cardsSwapped(1), $trials->rewritten(1)];
        self::assertSame([], array_merge(...array_column($sums, 'losses')), "seed $seed");
        self::assertSame([7, 5, 1, 1], array_column($sums, 'faults'));
    }
}
