<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Velvet\Core\Bytes\Digest;
use Velvet\Server\Store\Lot;
use Velvet\Server\Store\Places;
use Velvet\Server\Store\Row;
use Velvet\Server\Store\Shoots;

/** What is filed, as the browser shows it. */
final readonly class ShootsView
{
    public function __construct(private Shoots $shoots, private Places $places)
    {
    }

    /** @return list<array<string, mixed>> latest first */
    public function all(): array
    {
        return array_map($this->shoot(...), $this->shoots->all());
    }

    /** @return array<string, mixed>|null */
    public function one(int $id): ?array
    {
        $row = $this->shoots->one($id);

        return null === $row ? null : $this->shoot($row);
    }

    /** @return list<array<string, mixed>> */
    public function frames(int $id, int $offset, int $limit, Lot $lot): array
    {
        return array_map(static fn (Row $row): array => [
            'id' => $row->int('id'),
            'position' => $row->int('position'),
            'name' => $row->text('stem'),
            'picture' => $row->textOrNull('picture'),
            'verdict' => $row->text('verdict'),
            'stars' => $row->intOrNull('rating'),
            'tabs' => $row->ints('tabs'),
            'facts' => FactsView::of($row->json('facts')),
            'files' => array_map(static fn (mixed $file): array => \is_array($file) && \is_string($file[3])
                ? [
                    'path' => $file[0],
                    'kind' => $file[1],
                    'bytes' => $file[2],
                    'digest' => Digest::fromHex($file[3])->labelled(),
                    'from' => $file[4],
                ]
                : throw new \UnexpectedValueException('A filed file has no digest.'), $row->json('files')),
        ], $this->shoots->frames($id, $offset, $limit, $lot));
    }

    /** @return array{shoot: int, name: string, open: int} what is left of its first look */
    public static function firstLook(Row $row): array
    {
        return ['shoot' => $row->int('id'), 'name' => $row->text('name'), 'open' => $row->int('open')];
    }

    /** @return list<string> roots of the places that have some of it */
    private static function shelfFirst(Row $row): array
    {
        $roots = array_values(array_filter($row->json('roots'), is_string(...)));

        return array_values(array_unique([...array_intersect([$row->text('root')], $roots), ...$roots]));
    }

    /** @return array<string, mixed> */
    private function shoot(Row $row): array
    {
        return [
            'id' => $row->int('id'),
            'name' => $row->text('name'),
            'folder' => $row->text('folder'),
            'day' => $row->textOrNull('day'),
            'shelf' => $row->text('shelf'),
            'places' => array_map(
                static fn (string $root): string => $root.'/'.$row->text('folder'),
                self::shelfFirst($row),
            ),
            'frames' => $row->int('frames'),
            'frames_twinned' => $row->int('frames_twinned'),
            'one_drive' => !$this->places->areApart($row->int('shelf_id')),
            'bytes' => $row->int('bytes'),
            'open' => $row->int('open'),
            'struck' => $row->int('struck'),
            'aside' => $row->int('aside'),
            'outside' => $row->int('outside'),
            'waiting' => $row->int('waiting'),
            'twinned' => $row->bool('twinned'),
            'pictures' => $row->json('pictures'),
        ];
    }
}
