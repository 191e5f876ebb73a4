<?php

declare(strict_types=1);

// Fault trials: php bench/trials.php [KILLS [SEED]]. Called by ./velvet trials, on a home of its own.

use Velvet\Bench\Trials\AsideTrials;
use Velvet\Bench\Trials\TrialKind;
use Velvet\Bench\Trials\Trials;
use Velvet\Bench\Trials\TrialSum;
use Velvet\Bench\Trials\WordTrials;

require dirname(__DIR__).'/vendor/autoload.php';

$kills = (int) ($argv[1] ?? 300);
$seed = (int) ($argv[2] ?? random_int(1, 999_999));
if ($kills < 1) {
    fwrite(\STDERR, "Say how many kills: ./velvet trials [KILLS [SEED]].\n");
    exit(2);
}
$others = max(1, intdiv($kills, 15));
$folder = sys_get_temp_dir().'/velvet-trials-'.getmypid();
mkdir($folder);
putenv('PATH='.getenv('PATH').':/usr/sbin:/sbin');
$trials = new Trials(
    $folder,
    new Random\Randomizer(new Random\Engine\Mt19937($seed)),
    (string) getenv('VELVET_DATABASE'),
);
$words = new WordTrials($folder, new Random\Randomizer(new Random\Engine\Mt19937($seed)));
$aside = new AsideTrials($folder, new Random\Randomizer(new Random\Engine\Mt19937($seed)));
$kinds = [
    static fn (): TrialSum => $trials->killed($kills),
    static fn (): TrialSum => $trials->killed(intdiv($kills, 3) + 1, TrialKind::Metadata),
    static fn (): TrialSum => $trials->killed(intdiv($kills, 3) + 1, TrialKind::Dng),
    static fn (): TrialSum => $aside->killed(intdiv($kills, 3) + 1),
    static fn (): TrialSum => $trials->racing($others),
    static fn (): TrialSum => $trials->databaseKilled($others),
    static fn (): TrialSum => $trials->sourceChanges($others),
    static fn (): TrialSum => $trials->unreadable($others),
    static fn (): TrialSum => $words->placesGone($others),
    static fn (): TrialSum => $words->cardsChanged($others),
    static fn (): TrialSum => $words->cardsSwapped($others),
    static fn (): TrialSum => $words->rewritten($others),
];
if (0 === posix_geteuid()) {
    array_push(
        $kinds,
        static fn (): TrialSum => $trials->diskFull($others),
        static fn (): TrialSum => $trials->twinGone($others),
        static fn (): TrialSum => $words->renumbered($others),
        static fn (): TrialSum => $words->shelfOff($others),
    );
} else {
    echo "twin full, twin gone, device numbers, shelf off: not tried; that needs the right to mount\n";
}
echo "seed: $seed\n";
$losses = [];
foreach ($kinds as $kind) {
    $sum = $kind();
    echo $sum->line(), "\n";
    array_push($losses, ...$sum->losses);
}
array_push($losses, ...$trials->ledger());
foreach ($losses as $loss) {
    echo $loss, "\n";
}
if ([] === $losses) {
    exec('rm -rf '.escapeshellarg($folder));
    echo "No losses, no false words; the ledger's chain is whole.\n";
}
exit([] === $losses ? 0 : 1);
