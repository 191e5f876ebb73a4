<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Doctrine\ORM\EntityManagerInterface;
use Velvet\Core\Capture\ShotTime;
use Velvet\Core\Card\CableMount;
use Velvet\Core\Copy\Drives;
use Velvet\Core\Drive\DriveTable;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\CardContents;
use Velvet\Server\Store\CardState;
use Velvet\Server\Store\IntakeWork;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Shelf;
use Velvet\Server\Store\Shoots;
use Velvet\Server\Watch\Bays;
use Velvet\Server\Watch\Cable;
use Velvet\Server\Watch\DemoBays;
use Velvet\Server\Watch\Eject;
use Velvet\Server\Work\Cards\CardClearance;
use Velvet\Server\Work\Dng\ShootRaws;
use Velvet\Server\Work\Metadata\MetadataQueue;

/** The cards that are in and the shelves there are, as the browser shows them. */
final readonly class BaysView
{
    public function __construct(
        private EntityManagerInterface $entities,
        private CardContents $contents,
        private IntakeWork $work,
        private Bays $bays,
        private DemoBays $demo,
        private CardClearance $clearance,
        private MetadataQueue $queue,
        private ShootRaws $raws,
        private Eject $eject,
        private DriveTable $drives,
        private Cable $cable,
        private Shoots $shoots,
    ) {
    }

    /** @return array<string, mixed> */
    public function all(): array
    {
        $cards = $this->entities->getRepository(Card::class)->findBy(['present' => true], ['label' => 'ASC']);
        $sums = $this->contents->inShort(array_map(static fn (Card $card): int => $card->id(), $cards));
        $newest = $this->shoots->newestOpen();

        return [
            'cards' => array_map(fn (Card $card): array => $this->card($card, $sums[$card->id()] ?? null), $cards),
            'away' => array_map(
                static fn (Card $card): array => [
                    'id' => $card->id(),
                    'label' => $card->label,
                    'frames' => $card->frames,
                    'frames_read' => $card->framesRead,
                ],
                $this->entities->getRepository(Card::class)->findBy(
                    ['present' => false, 'state' => [CardState::Waiting, CardState::Reading, CardState::Unreadable]],
                    ['label' => 'ASC'],
                ),
            ),
            'under_way' => $this->work->shown(),
            'first_look' => null === $newest ? null : ShootsView::firstLook($newest),
            'to_write' => $this->queue->left(),
            'to_convert' => $this->raws->left(),
            'roots' => $this->bays->roots(),
            'camera_unseen' => $this->cable->hasCamera() && [] === array_filter(
                $cards,
                static fn (Card $card): bool => null !== CableMount::label($card->root),
            ),
            'shelves' => array_map(
                $this->shelf(...),
                $this->entities->getRepository(Shelf::class)->findBy([], ['id' => 'ASC']),
            ),
            'tray' => $this->demo->exists() ? $this->demo->tray() : null,
        ];
    }

    /** @return array<string, mixed> */
    private function card(Card $card, ?Row $sum): array
    {
        $read = CardState::Read === $card->state;
        $clearance = $read ? $this->clearance->of($card) : null;

        return [
            'id' => $card->id(),
            'label' => $card->label,
            'root' => $card->root,
            'state' => $card->state->value,
            'problem' => $card->problem,
            'files' => $card->files,
            'bytes' => $card->bytes,
            'capacity' => $card->capacity,
            'frames' => $card->frames,
            'frames_read' => $card->framesRead,
            'first' => self::time($sum?->textOrNull('first')),
            'last' => self::time($sum?->textOrNull('last')),
            'days' => $sum?->int('days') ?? 0,
            'new' => $sum?->int('new') ?? 0,
            'pictures' => array_values(array_filter($sum?->json('pictures') ?? [], is_string(...))),
            'clearance' => null === $clearance ? null : CardView::clearance($clearance),
            'problems' => array_column($card->problems, 'text'),
            'ejectable' => $this->eject->knows($card->root),
            'sheet' => $sum?->intOrNull('sheet'),
            'sheet_state' => $sum?->textOrNull('sheet_state'),
        ];
    }

    /** @return array<string, mixed> */
    private function shelf(Shelf $shelf): array
    {
        $places = [];
        $drives = $shelf->drives($this->drives);
        foreach ($shelf->roots() as $i => $root) {
            $isThere = $drives->has($root);
            $free = $isThere ? @disk_free_space($root) : false;
            $total = $isThere ? @disk_total_space($root) : false;
            $places[] = [
                'role' => 0 === $i ? 'shelf' : 'twin', 'root' => $root, 'present' => $isThere,
                'writable' => is_writable($root),
                'free' => false === $free ? null : (int) $free, 'total' => false === $total ? null : (int) $total,
            ];
        }

        return [
            'id' => $shelf->id(),
            'name' => $shelf->name,
            'places' => $places,
            'same_drive' => \count($shelf->roots()) > 1 && !Drives::at($this->drives, $shelf->roots())->areApart(),
        ];
    }

    private static function time(?string $databaseTime): ?string
    {
        return null === $databaseTime ? null : ShotTime::fromText($databaseTime)?->text();
    }
}
