<?php

declare(strict_types=1);

namespace Velvet\Bench;

use Velvet\Core\Ledger\LedgerLine;

/**
 * A ledger of 100,000 frames is kept in a backup, and brought back into a home that is not there yet, as on a new
 * machine; beside PostgreSQL's own pg_dump and pg_restore of the same catalogue, which compare nothing.
 */
final class BackupBench implements Bench
{
    private const FRAMES = 100_000;
    private const SHOOTS = 200;

    public function run(string $folder): iterable
    {
        [$old, $new] = [new BenchHome($folder.'/old', 8425), new BenchHome($folder.'/new', 8426)];
        try {
            $old->velvet('setup');
            $old->sql(self::catalogue());
            $old->sql('COPY ledger_line (at, event, details, before, seal) FROM STDIN', self::lines());
            mkdir($folder.'/kept');
            $ours = Timed::seconds(static fn () => $old->velvet('backup', $folder.'/kept'));
            $file = (string) current((array) glob($folder.'/kept/*'));
            $dump = $folder.'/plain.dump';
            $theirs = $old->tool('pg_dump', '-Fc', '-f', $dump, 'velvet');
            yield \sprintf(
                '%d frames kept and compared: %.1f s, pg_dump %.1f s (compares nothing), ratio %.1f; %.1f MB, '
                    .'pg_dump %.1f MB',
                self::FRAMES,
                $ours,
                $theirs,
                $ours / $theirs,
                (int) filesize($file) / 1e6,
                (int) filesize($dump) / 1e6,
            );
            $old->sql('CREATE DATABASE plain');
            $theirs = $old->tool('pg_restore', '-d', 'plain', $dump);
            $new->velvet('setup'); // Debian's and Composer's packages are there: what is measured is the way back
            $restored = Timed::seconds(static fn () => $new->velvet('restore', $file));
            $started = Timed::seconds(static fn () => $new->velvet('start'));
            if (self::FRAMES !== (int) $new->sql('SELECT count(*) FROM filed_file')) {
                throw new \RuntimeException('Not all of it came back.');
            }
            yield \sprintf(
                '%d frames brought back and compared: %.1f s, pg_restore %.1f s (compares nothing), ratio %.1f; '
                    .'started after %.1f s more',
                self::FRAMES,
                $restored,
                $theirs,
                $restored / $theirs,
                $started,
            );
        } finally {
            $old->velvet('stop');
            if (is_dir($folder.'/new')) {
                $new->velvet('stop');
            }
        }
    }

    private static function catalogue(): string
    {
        return \sprintf(<<<'SQL'
            INSERT INTO shelf (name, root, twin_root) VALUES ('Studio', '/mnt/studio', '/mnt/twin');
            INSERT INTO place (shelf_id, root, drive, since)
                VALUES (1, '/mnt/studio', 'one', now()), (1, '/mnt/twin', 'two', now());
            INSERT INTO intake (state, shelf_id, day_starts, opened_at, started_at, finished_at)
                VALUES ('stopped', 1, '04:00', now(), now(), now());
            INSERT INTO shoot (shelf_id, folder, name, created_at)
                SELECT 1, '2026/shoot ' || n, 'Shoot ' || n, now() FROM generate_series(1, %2$d) n;
            INSERT INTO filed_frame (shoot_id, captured_at, facts, stem)
                SELECT 1 + n %% %2$d, timestamp '2026-01-01' + n * interval '7 s',
                    '{"make": "Tarn Optical", "model": "Heron 5", "iso": 800, "f_number": 2.8, "exposure_s": 0.004,
                        "lens": "Tarn 24-70mm F2.8"}', 'T' || n
                FROM generate_series(1, %1$d) n;
            INSERT INTO filed_file (frame_id, shelf_id, intake_id, path, kind, bytes, fingerprint, digest,
                original_path, filed_at)
                SELECT n, 1, 1, '2026/shoot ' || 1 + n %% %2$d || '/T' || n || '.jpg', 'jpeg', 9000000 + n,
                md5('f' || n), md5('d' || n),
                    'DCIM/100TARN/T' || n || '.JPG', now() FROM generate_series(1, %1$d) n;
            INSERT INTO filed_copy (file_id, place_id, state, digest, bytes, stamp, fingerprint, verified_at)
                SELECT n, p, 'whole', md5('d' || n), 9000000 + n, '1 2 3 ' || n, md5('f' || n), now()
                FROM generate_series(1, %1$d) n, generate_series(1, 2) p;
            SQL, self::FRAMES, self::SHOOTS);
    }

    /** @return \Generator<string> rows as COPY takes them */
    private static function lines(): \Generator
    {
        $before = LedgerLine::FIRST_SEAL;
        $at = new \DateTimeImmutable('2026-01-01');
        for ($n = 1; $n <= self::FRAMES; ++$n) {
            $line = LedgerLine::after(
                $before,
                $at,
                'file_filed',
                [
                    'file' => $n,
                    'path' => "2026/T$n.jpg",
                    'digest' => md5((string) $n),
                    'places' => ['/mnt/studio', '/mnt/twin'],
                ],
            );
            yield implode("\t", [$line->at, $line->event, $line->details, $line->before, $line->seal])."\n";
            $before = $line->seal;
        }
    }
}
