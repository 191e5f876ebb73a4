<?php

declare(strict_types=1);

namespace Velvet\Bench;

/**
 * An intake of 40 frames with five keywords each, in a home whose catalogue has 60,000 keywords; beside the same with
 * none.
 */
final class KeywordsBench implements Bench
{
    private const FRAMES = 40;
    private const KEYWORDS = 60_000;
    private const GIVEN = ['Lantern 17', 'Lantern 5000', 'Harbour 31000', 'boats', 'Tarn Hollow'];

    public function run(string $folder): iterable
    {
        $home = new BenchHome($folder.'/home', 8425);
        try {
            $home->velvet('setup');
            $few = $this->intake($home, $folder, 'few', '2026-05-02 09:00:00');
            $home->sql(\sprintf(<<<'SQL'
                INSERT INTO keyword (name, folded) VALUES ('Places', 'places');
                INSERT INTO keyword (above, name, folded)
                    SELECT CASE WHEN n %% 3 > 0 THEN (SELECT id FROM keyword WHERE folded = 'places') END, word
                        || ' '
                        || n, lower(word)
                        || ' '
                        || n
                    FROM (SELECT n, CASE WHEN n %% 2 = 0 THEN 'Lantern' ELSE 'Harbour' END AS word
                        FROM generate_series(1, %d) n) AS words;
                SQL, self::KEYWORDS));
            $many = $this->intake($home, $folder, 'many', '2026-05-03 09:00:00');
            yield \sprintf(
                '%d frames with %d keywords each, of %d: %.2f s, of none: %.2f s, ratio %.2f',
                self::FRAMES,
                \count(self::GIVEN),
                self::KEYWORDS,
                $many,
                $few,
                $many / $few,
            );
        } finally {
            $home->velvet('stop');
        }
    }

    private function intake(BenchHome $home, string $folder, string $name, string $from): float
    {
        $card = "$folder/$name";
        BenchCard::draw($card, self::FRAMES, $from);
        mkdir("$folder/shelf-$name");

        return Timed::seconds(
            static fn () => $home->velvet(
                'intake',
                $card,
                '--shelf',
                "$folder/shelf-$name",
                ...array_map(static fn (string $keyword): string => "--keyword=$keyword", self::GIVEN),
            ),
        );
    }
}
