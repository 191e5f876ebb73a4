<?php

declare(strict_types=1);

namespace Velvet\Server\Watch;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\Process\Exception\ExceptionInterface as ProcessTrouble;
use Symfony\Component\Process\ExecutableFinder;
use Symfony\Component\Process\Process;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\IntakeWork;
use Velvet\Server\Work\Cards\BlockDevice;

/** Lets go of a card, so that it can be pulled out: through udisks, or, in the demo, by laying it back on the table. */
final readonly class Eject
{
    private const PATIENCE = 30; // seconds

    public function __construct(
        private DemoBays $demo,
        private Bays $bays,
        private IntakeWork $work,
        private EntityManagerInterface $entities,
    ) {
    }

    /** Whether there is a way to eject what lies there. */
    public function knows(string $root): bool
    {
        return $this->demo->holds($root) || (null !== BlockDevice::at($root) && null !== self::udisks());
    }

    /** @throws NotEjected */
    public function card(Card $card): void
    {
        if ($this->work->isCopying($card)) {
            throw NotEjected::underWay($card->label);
        }
        if ($this->demo->holds($card->root)) {
            if (!$this->demo->takeOut(basename($card->root))) {
                throw NotEjected::refused($card->label, 'it lies on the table already');
            }
        } else {
            $this->unmount($card);
        }
        $this->bays->look();
        $this->entities->clear();
    }

    /** @throws NotEjected */
    private function unmount(Card $card): void
    {
        $device = BlockDevice::at($card->root);
        $udisks = self::udisks();
        if (null === $device || null === $udisks) {
            throw NotEjected::noWay($card->label);
        }
        try {
            $process = new Process(
                [$udisks, 'unmount', '--no-user-interaction', '-b', $device],
                timeout: self::PATIENCE,
            );
            if (0 !== $process->run()) {
                throw NotEjected::refused($card->label, trim($process->getErrorOutput()));
            }
            // a reader that cannot be switched off has let go of the card all the same
            (new Process(
                [$udisks, 'power-off', '--no-user-interaction', '-b', $device],
                timeout: self::PATIENCE,
            ))->run();
        } catch (ProcessTrouble $e) {
            throw NotEjected::refused($card->label, $e->getMessage());
        }
    }

    private static function udisks(): ?string
    {
        return (new ExecutableFinder())->find('udisksctl');
    }
}
