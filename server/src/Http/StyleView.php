<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Doctrine\ORM\EntityManagerInterface;
use Velvet\Core\Capture\CameraBody;
use Velvet\Core\Capture\ShotTime;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Naming\FrameNaming;
use Velvet\Core\Plan\EntryToFile;
use Velvet\Core\Plan\FoldersOnDisk;
use Velvet\Core\Plan\FrameToFile;
use Velvet\Core\Plan\IntakePlan;
use Velvet\Core\Plan\PlannedMetadata;
use Velvet\Core\Shoot\InRun;
use Velvet\Core\Shoot\SequenceKind;
use Velvet\Core\Style\HouseStyle;
use Velvet\Server\Store\CameraNames;
use Velvet\Server\Store\CardContents;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Shelf;
use Velvet\Server\Store\Styles;
use Velvet\Server\Work\Keywords\Keywords;

/** The house styles, with samples computed from frames that are really there. */
final readonly class StyleView
{
    private const SAMPLE_NAME = 'Lantern Regatta';
    private const SAMPLE_KIND = 'Reportage';
    private const SAMPLE_CLIENT = 'Harbour office';
    private const SAMPLE_TRIP = 'Tarn Hollow';

    public function __construct(
        private CardContents $contents,
        private Styles $styles,
        private CameraNames $cameras,
        private EntityManagerInterface $entities,
        private Keywords $keywords,
    ) {
    }

    /** @return array<string, mixed> */
    public function all(): array
    {
        $styles = $this->styles->all();

        return [
            'styles' => array_map(static fn (HouseStyle $style): array => $style->toArray(), $styles),
            'standard' => $styles[0]->name,
            'cameras' => $this->cameras->seen(),
            'shelves' => array_map(
                static fn (Shelf $shelf): string => $shelf->name,
                $this->entities->getRepository(Shelf::class)->findBy([], ['name' => 'ASC']),
            ),
        ];
    }

    /** @return list<array<string, mixed>> */
    public function samples(HouseStyle $style): array
    {
        $names = $this->cameras->all();

        $metadata = new PlannedMetadata($style, $this->keywords->about([], PlannedMetadata::mayGive($style)));

        return array_values(
            array_filter(
                array_map(
                    static fn (Row $row): ?array => self::sample($row, $style, $names, $metadata),
                    $this->contents->samples(),
                ),
                is_array(...),
            ),
        );
    }

    /**
     * @param array<string, string> $names of cameras
     *
     * @return array<string, mixed>|null
     */
    private static function sample(Row $row, HouseStyle $style, array $names, PlannedMetadata $metadata): ?array
    {
        $time = ShotTime::fromText($row->text('captured_at'));
        if (null === $time) {
            return null;
        }
        $day = $style->division->boundary->dayOf($time);
        $named = '' !== trim($row->text('name'));
        $name = $named ? $row->text('name') : self::SAMPLE_NAME;
        $file = new CardFile($row->text('path'), FileKind::ofName($row->text('path')), 0, 0);
        $naming = FrameNaming::of(
            $time,
            $file,
            $names[$row->text('camera')] ?? '',
            CameraBody::named($row->text('camera'), $row->textOrNull('model') ?? '', $row->textOrNull('serial') ?? ''),
            $row->text('label'),
        )->inRun(new InRun(SequenceKind::Bracket, 1, 1));
        $plan = IntakePlan::of(
            [
                new EntryToFile(
                    1,
                    $day,
                    $name,
                    [new FrameToFile(0, [$file], $naming)],
                    self::SAMPLE_KIND,
                    self::SAMPLE_CLIENT,
                    trip: self::SAMPLE_TRIP,
                ),
            ],
            new FoldersOnDisk([]),
            $style,
        )->entries[0];

        return [
            'original' => $file->name(),
            'captured_at' => $time->text(),
            'picture' => $row->textOrNull('picture'),
            'day' => $day,
            'name' => $name,
            'named' => $named,
            'folder' => $plan->folder,
            'file' => substr($plan->frames[0]->filedAs[0], \strlen($plan->folder) + 1),
            'says' => $metadata->of($plan->entry, $naming, $file->name(), false)->toArray(),
        ];
    }
}
