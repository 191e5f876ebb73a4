<?php

declare(strict_types=1);

namespace Velvet\Server\Store;

use Doctrine\DBAL\Connection;
use Velvet\Core\Style\HouseStyle;

/** The house styles there are. One is the standard; before any was saved it is the one that is built in. */
final readonly class Styles
{
    public function __construct(private Connection $database, private Rows $rows, private Locks $locks)
    {
    }

    /** @return non-empty-list<HouseStyle> the standard first */
    public function all(): array
    {
        $styles = array_map(
            self::read(...),
            $this->rows->all('SELECT document FROM house_style ORDER BY is_standard DESC, name'),
        );

        return [] === $styles ? [HouseStyle::standard()] : $styles;
    }

    public function standard(): HouseStyle
    {
        return $this->all()[0];
    }

    /** @throws NoSuchStyle */
    public function named(string $name): HouseStyle
    {
        foreach ($this->all() as $style) {
            if (mb_strtolower($style->name) === mb_strtolower(trim($name))) {
                return $style;
            }
        }
        throw NoSuchStyle::named($name, array_column($this->all(), 'name'));
    }

    /** The style of this name, or the standard where it was given up since. */
    public function namedOrStandard(string $name): HouseStyle
    {
        try {
            return $this->named($name);
        } catch (NoSuchStyle) {
            return $this->standard();
        }
    }

    /**
     * The style that is offered for a card: one that is tied to it or to a camera on it, else the one chosen for it
     * last time, else the standard.
     */
    public function offeredFor(Card $card): HouseStyle
    {
        $cameras = array_map(
            static fn (Row $row): string => $row->text('camera'),
            $this->rows->all('SELECT DISTINCT camera FROM card_frame WHERE card_id = :card', ['card' => $card->id()]),
        );
        foreach ($this->all() as $style) {
            if ($style->ties->fit($card->label, $cameras)) {
                return $style;
            }
        }
        $last = $this->rows->first(
            "SELECT i.style FROM intake i JOIN intake_card ic ON ic.intake_id = i.id JOIN card c ON c.id = ic.card_id
                WHERE c.label = :label AND i.state <> 'sheet' ORDER BY i.id DESC LIMIT 1",
            ['label' => $card->label],
        );

        return null === $last ? $this->standard() : $this->namedOrStandard($last->text('style'));
    }

    /** Saves a style under its name, in place of the one that has it. */
    /**
     * A new style; where its name is taken it gets a number.
     *
     * @return string the name that it got
     */
    public function add(HouseStyle $style): string
    {
        return $this->locks->with(Lock::AddedStyles, 0, function () use ($style): string {
            $names = array_column($this->all(), 'name');
            $name = $style->name;
            for ($n = 2; \in_array($name, $names, true); ++$n) {
                $name = $style->name.' '.$n;
            }
            $this->save($style->called($name));

            return $name;
        });
    }

    /** @throws StyleNameTaken */
    public function save(HouseStyle $style, ?string $insteadOf = null): void
    {
        $this->database->transactional(function () use ($style, $insteadOf): void {
            $this->keepBuiltIn();
            $json = json_encode($style->toArray(), \JSON_THROW_ON_ERROR | \JSON_UNESCAPED_UNICODE);
            if (null !== $insteadOf && $insteadOf !== $style->name) {
                $known = 'SELECT name FROM house_style WHERE name = :name FOR UPDATE';
                if (null !== $this->rows->first($known, ['name' => $style->name])) {
                    throw StyleNameTaken::by($style->name);
                }
                $this->database->executeStatement(
                    'UPDATE house_style SET name = :name, document = CAST(:document AS jsonb) WHERE name = :before',
                    ['name' => $style->name, 'document' => $json, 'before' => $insteadOf],
                );
                $this->database->executeStatement(
                    'UPDATE intake SET style = :name WHERE style = :before',
                    ['name' => $style->name, 'before' => $insteadOf],
                );

                return;
            }
            $this->database->executeStatement(
                'INSERT INTO house_style (name, document) VALUES (:name, CAST(:document AS jsonb))
                    ON CONFLICT (name) DO UPDATE SET document = excluded.document',
                ['name' => $style->name, 'document' => $json],
            );
        });
    }

    public function makeStandard(HouseStyle $style): void
    {
        $this->database->transactional(function () use ($style): void {
            $this->keepBuiltIn();
            $this->database->executeStatement('UPDATE house_style SET is_standard = false WHERE is_standard');
            $this->database->executeStatement(
                'UPDATE house_style SET is_standard = true WHERE name = :name',
                ['name' => $style->name],
            );
        });
    }

    /** @throws NoSuchStyle for the standard, which must stay */
    public function remove(HouseStyle $style): void
    {
        if ($style->name === $this->standard()->name) {
            throw NoSuchStyle::standardStays($style->name);
        }
        $this->database->executeStatement('DELETE FROM house_style WHERE name = :name', ['name' => $style->name]);
    }

    /** The built-in style becomes one like others as soon as any is saved. */
    private function keepBuiltIn(): void
    {
        $built = HouseStyle::standard();
        $this->database->executeStatement(
            'INSERT INTO house_style (name, document, is_standard) SELECT :name, CAST(:document AS jsonb), true
                WHERE NOT EXISTS (SELECT FROM house_style)',
            ['name' => $built->name, 'document' => json_encode($built->toArray(), \JSON_THROW_ON_ERROR)],
        );
    }

    private static function read(Row $row): HouseStyle
    {
        return HouseStyle::fromArray($row->json('document'));
    }
}
