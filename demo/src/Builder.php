<?php

declare(strict_types=1);

namespace Velvet\Demo;

use Velvet\Demo\Scene\Harbour;
use Velvet\Demo\Scene\Pottery;
use Velvet\Demo\Scene\TideClock;

/** Builds the demo's cards in a folder: a bay with three cards, a tray with the second slot, and two empty drives. */
final readonly class Builder
{
    /** A frame's edges, in units of the scenes. */
    private const LONG = 1200;
    private const SHORT = 800;

    /** Pixels a unit of the few frames that are as large as a sensor's. */
    private const LARGE = 5;

    private Harbour $harbour;
    private Pottery $pottery;
    private TideClock $tide;

    /** @param positive-int $scale pixels a unit */
    public function __construct(private string $folder, int $scale = 2)
    {
        $this->harbour = new Harbour($scale);
        $this->pottery = new Pottery($scale);
        $this->tide = new TideClock($scale);
    }

    /** Draws every frame, on as many processes as asked for; then adds what is special about each card. */
    public function build(int $processes): void
    {
        foreach ([
            'bay/'.Scenario::REGATTA,
            'bay/'.Scenario::KILN,
            'bay/'.Scenario::TIDE,
            'tray',
            'drives/Studio',
            'drives/Twin',
            'earlier',
        ] as $folder) {
            if (!is_dir($this->folder.'/'.$folder)) {
                mkdir($this->folder.'/'.$folder, 0o755, true);
            }
        }
        $shots = Scenario::shots();
        // each process draws what is next until nothing is left: a byte in the pipe for each share
        $shares = self::shares($shots);
        $pipe = stream_socket_pair(\STREAM_PF_UNIX, \STREAM_SOCK_STREAM, 0);
        if (false === $pipe) {
            throw new \RuntimeException('The drawing processes cannot be told what to draw.');
        }
        [$next, $told] = $pipe;
        stream_set_read_buffer($next, 0); // or the first process takes them all
        $children = [];
        for ($n = 0; $n < $processes; ++$n) {
            $child = pcntl_fork();
            if (0 === $child) {
                fclose($told);
                while ('' !== ($byte = (string) fread($next, 1))) {
                    $share = $shares[\ord($byte)];
                    array_map($this->take(...), $share);
                    if ('pottery' === $share[0]->scene) {
                        $this->takeBeside($share);
                    }
                }
                exit(0);
            }
            $children[] = $child;
        }
        fwrite($told, implode('', array_map(chr(...), array_keys($shares))));
        fclose($told);
        foreach ($children as $child) {
            pcntl_waitpid($child, $status);
            if (0 !== $status) {
                throw new \RuntimeException('A drawing process failed.');
            }
        }
        $this->finish($shots);
    }

    /**
     * Frames of one base are drawn by one process, which keeps the base, and all that show pots by the one that turned
     * them; the largest share comes first.
     *
     * @param list<Shot> $shots
     *
     * @return list<non-empty-list<Shot>>
     */
    private static function shares(array $shots): array
    {
        $shares = [];
        foreach ($shots as $shot) {
            $shares['pottery' === $shot->scene ? $shot->scene : $shot->card.$shot->draw->base][] = $shot;
        }
        usort($shares, static fn (array $a, array $b): int => \count($b) <=> \count($a));

        return $shares;
    }

    private function take(Shot $shot): void
    {
        [$w, $h] = $shot->portrait ? [self::SHORT, self::LONG] : [self::LONG, self::SHORT];
        $draw = $shot->draw;
        $picture = match ($shot->scene) {
            'harbour' => $this->harbour->frame(
                $w,
                $h,
                $draw->subject,
                $draw->night,
                $draw->view,
                $draw->base.($shot->portrait ? 'p' : ''),
                $shot->stem,
                $draw->rain,
                $draw->blur,
                $draw->stops,
            ),
            'pottery' => $this->pottery->frame(
                $w,
                $h,
                $draw->subject,
                $draw->base,
                $shot->card.$shot->stem,
                $draw->stops,
                $draw->blur,
            ),
            default => $this->tide->frame($w, $h, $draw->t, $shot->card.$shot->stem),
        };
        if ($shot->large) {
            $picture = $picture->sized(self::LARGE * self::LONG, self::LARGE * self::SHORT)->finished();
        }
        if ($shot->portrait) {
            $picture = $picture->turned(1)->finished(); // as the sensor saw it: the camera was held upright
        }
        $this->write($shot, 'JPG', FrameFiles::jpeg($picture, $shot->exposure));
        if ($shot->raw) {
            $this->write($shot, 'TRW', FrameFiles::raw($picture, $shot->exposure));
        }
    }

    private function write(Shot $shot, string $extension, string $bytes): void
    {
        $this->put('bay/'.$shot->card.'/'.$shot->stem.'.'.$extension, $bytes, self::writtenAt($shot));
    }

    private function put(string $path, string $bytes, int $time): void
    {
        $path = $this->folder.'/'.$path;
        if (!is_dir(\dirname($path))) {
            @mkdir(\dirname($path), 0o755, true);
        }
        file_put_contents($path, $bytes);
        touch($path, $time);
    }

    /** The demo's cards keep wall clocks two hours ahead of UTC, as in Tarn Hollow in May. */
    private static function writtenAt(Shot $shot): int
    {
        return (new \DateTimeImmutable(
            preg_replace('/^(\d+):(\d+):/', '$1-$2-', $shot->exposure->time).' +02:00',
        ))->getTimestamp() + 1;
    }

    /** @param list<Shot> $shots */
    private function finish(array $shots): void
    {
        $regatta = array_values(
            array_filter($shots, static fn (Shot $shot): bool => Scenario::REGATTA === $shot->card),
        );
        $bay = $this->folder.'/bay/';

        // a spoken note beside one frame, a camera's own files, and one JPEG that was cut short
        $this->put('bay/LANTERN/'.$regatta[21]->stem.'.WAV', MovieAndNote::note(2.5), self::writtenAt($regatta[21]));
        $this->put(
            'bay/LANTERN/MISC/AUTPRINT.MRK',
            "[HDR]\r\nGEN REV = 01.10\r\nGEN CRT = \"Tarn Optical\" -01.00\r\n",
            self::writtenAt($regatta[0]),
        );
        $this->put(
            'bay/LANTERN/MISC/HERON5.SET',
            "TARN OPTICAL HERON 5\r\n".str_repeat("\0\1\4\3", 512),
            self::writtenAt($regatta[0]),
        );
        $cut = $bay.'LANTERN/'.$regatta[57]->stem.'.JPG';
        $whole = (string) file_get_contents($cut);
        $this->put(
            'bay/LANTERN/'.$regatta[57]->stem.'.JPG',
            substr($whole, 0, (int) (\strlen($whole) * 0.6)),
            self::writtenAt($regatta[57]),
        );

        // the first day of the kiln as it was when that card was filed the first time
        foreach ($shots as $shot) {
            if (Scenario::KILN === $shot->card && str_starts_with($shot->exposure->time, '2026:04:30')) {
                foreach (['JPG', 'TRW'] as $extension) {
                    $this->sameFile(
                        $bay.'KILN/'.$shot->stem.'.'.$extension,
                        $this->folder.'/earlier/KILN/'.$shot->stem.'.'.$extension,
                    );
                }
            }
        }
        // the second slot: what body A wrote to both of its cards, the cut file whole
        foreach ($regatta as $shot) {
            foreach (str_contains($shot->stem, 'TARNA') ? ['JPG', 'TRW'] : [] as $extension) {
                $second = $this->folder.'/tray/'.Scenario::REGATTA_SECOND_SLOT.'/'.$shot->stem.'.'.$extension;
                $this->sameFile($bay.'LANTERN/'.$shot->stem.'.'.$extension, $second);
                if ($shot === $regatta[57] && 'JPG' === $extension) {
                    unlink($second);
                    file_put_contents($second, $whole);
                    touch($second, self::writtenAt($shot));
                }
            }
        }
    }

    /**
     * A movie of the pots, and a picture that somebody else's program stripped of its date.
     *
     * @param list<Shot> $kiln
     */
    private function takeBeside(array $kiln): void
    {
        [$w, $h] = [480, 320];
        $movie = array_map(
            fn (int $n): string => $this->pottery->frame(self::LONG, self::SHORT, 'three', 'movie', 'movie'.$n)
                ->sized($w, $h)->finished()->jpeg(78),
            range(0, 11),
        );
        $last = self::writtenAt($kiln[30]);
        $this->put('bay/KILN/DCIM/100TARNA/TARA0401.MOV', MovieAndNote::movie($movie, $w, $h, 6, $last), $last);
        $stray = $this->pottery->frame(self::LONG, self::SHORT, 'one', 'stray', 'stray');
        $this->put(
            'bay/KILN/DCIM/100TARNA/BY HAND.JPG',
            $stray->sized(900, 600)->finished()->jpeg(84),
            self::writtenAt($kiln[38]) + 140,
        );
    }

    /** The same bytes under another path; a link, since nobody writes to cards. */
    private function sameFile(string $from, string $to): void
    {
        if (is_file($from)) {
            if (!is_dir(\dirname($to))) {
                mkdir(\dirname($to), 0o755, true);
            }
            link($from, $to);
        }
    }
}
