<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;

/** Short names that the photographer gives to camera bodies. */
final readonly class CameraNames
{
    public function __construct(private Connection $database, private Rows $rows)
    {
    }

    /** @return array<string, string> by camera, as frames name it */
    public function all(): array
    {
        $names = [];
        foreach ($this->rows->all('SELECT camera, name FROM camera_name') as $row) {
            $names[$row->text('camera')] = $row->text('name');
        }

        return $names;
    }

    /** @return list<array{camera: string, name: string, frames: int}> every body that was seen */
    public function seen(): array
    {
        return array_map(static fn (Row $row): array => [
            'camera' => $row->text('camera'), 'name' => $row->text('name'), 'frames' => $row->int('frames'),
        ], $this->rows->all(
            "SELECT f.camera, coalesce(n.name, '') AS name, count(*) AS frames FROM card_frame f
                LEFT JOIN camera_name n ON n.camera = f.camera WHERE f.camera <> '' GROUP BY f.camera, n.name
                ORDER BY count(*) DESC, f.camera LIMIT 50",
        ));
    }

    public function give(string $camera, string $name): void
    {
        $name = mb_substr(trim($name), 0, 40);
        if ('' === $name) {
            $this->database->executeStatement('DELETE FROM camera_name WHERE camera = :camera', ['camera' => $camera]);
        } else {
            $this->database->executeStatement(
                'INSERT INTO camera_name (camera, name) VALUES (:camera, :name) ON CONFLICT (camera) DO UPDATE
                    SET name = excluded.name',
                ['camera' => $camera, 'name' => $name],
            );
        }
    }
}
