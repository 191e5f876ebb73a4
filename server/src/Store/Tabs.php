<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;
use Velvet\Core\Filed\Tab;
use Velvet\Core\Filed\TabColour;
use Velvet\Core\Filed\TabWriting;

/** The tabs that there are, in the order in which they were made, and the frames that have them. */
final readonly class Tabs
{
    private const HAS = "f.tabs <> '[]' AND f.tabs @> to_jsonb(CAST(:tab AS int))";

    public function __construct(private Connection $database, private Rows $rows)
    {
    }

    /** @return list<Tab> */
    public function all(): array
    {
        return array_map(
            static fn (Row $row): Tab => new Tab(
                $row->int('id'),
                $row->text('name'),
                TabColour::from($row->text('colour')),
                TabWriting::from($row->text('writes')),
                $row->text('key'),
            ),
            $this->rows->all('SELECT id, name, colour, writes, key FROM tab ORDER BY id'),
        );
    }

    public function find(int $id): ?Tab
    {
        foreach ($this->all() as $tab) {
            if ($tab->id === $id) {
                return $tab;
            }
        }

        return null;
    }

    /** Whatever its case. */
    public function called(string $name): ?Tab
    {
        foreach ($this->all() as $tab) {
            if ($tab->isCalled($name)) {
                return $tab;
            }
        }

        return null;
    }

    /** @return array<int, int> how many frames have a tab, by its id; those that no frame has are left out */
    public function uses(): array
    {
        $uses = [];
        foreach ($this->rows->all(<<<'SQL'
            SELECT t.value::int AS tab, count(*) AS frames
            FROM filed_frame f, jsonb_array_elements_text(f.tabs) AS t WHERE f.tabs <> '[]' GROUP BY t.value
            SQL) as $row) {
            $uses[$row->int('tab')] = $row->int('frames');
        }

        return $uses;
    }

    public function add(string $name, TabColour $colour, TabWriting $writes, string $key): Tab
    {
        $id = $this->rows->one(
            'INSERT INTO tab (name, colour, writes, key) VALUES (:name, :colour, :writes, :key) RETURNING id',
            ['name' => $name, 'colour' => $colour->value, 'writes' => $writes->value, 'key' => $key],
        )->int('id');

        return new Tab($id, $name, $colour, $writes, $key);
    }

    public function keep(Tab $tab): void
    {
        $this->database->executeStatement(
            'UPDATE tab SET name = :name, colour = :colour, writes = :writes, key = :key WHERE id = :id',
            [
                'id' => $tab->id, 'name' => $tab->name, 'colour' => $tab->colour->value,
                'writes' => $tab->writes->value, 'key' => $tab->key,
            ],
        );
    }

    /** Takes it off every frame, too. */
    public function remove(Tab $tab): void
    {
        $this->database->executeStatement(
            'UPDATE filed_frame f SET tabs = (SELECT coalesce(jsonb_agg(t.value ORDER BY t.ordinality), \'[]\')
                FROM jsonb_array_elements(f.tabs) WITH ORDINALITY AS t WHERE t.value <> to_jsonb(CAST(:tab AS int)))
                WHERE '.self::HAS,
            ['tab' => $tab->id],
        );
        $this->database->executeStatement('DELETE FROM tab WHERE id = :tab', ['tab' => $tab->id]);
    }

    /**
     * Within a transaction: nobody else changes what they say before its end.
     *
     * @return list<int> the frames that have it, in the order in which they were filed
     */
    public function frames(Tab $tab): array
    {
        return array_map(
            static fn (Row $row): int => $row->int('id'),
            // in the order in which judging takes them, too: neither waits for the other for ever
            $this->rows->all(
                'SELECT f.id FROM filed_frame f WHERE '.self::HAS.' ORDER BY f.id FOR UPDATE',
                ['tab' => $tab->id],
            ),
        );
    }

    /**
     * @param list<int> $frames
     *
     * @return array<int, list<int>> ids of the tabs of each of them, by the frame
     */
    public function of(array $frames): array
    {
        $of = [];
        $rows = [] === $frames ? [] : $this->rows->all(
            'SELECT id, tabs FROM filed_frame WHERE id IN (:frames) ORDER BY id',
            ['frames' => $frames],
        );
        foreach ($rows as $row) {
            $of[$row->int('id')] = $row->ints('tabs');
        }

        return $of;
    }
}
