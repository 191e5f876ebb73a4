<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Pictures;

use Velvet\Core\Bytes\FileBytes;
use Velvet\Core\Bytes\FileUnreadable;
use Velvet\Core\Bytes\SystemReason;
use Velvet\Core\Capture\Capture;
use Velvet\Core\Capture\Orientation;
use Velvet\Core\Capture\PictureMeasures;
use Velvet\Core\Capture\ShownPicture;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Card\Signature;
use Velvet\Core\Metadata\ShownJpeg;
use Velvet\Server\Store\CardContents;
use Velvet\Server\Store\MeasuredPictures;

/**
 * The pictures shown in the browser, drawn from what lies embedded in the files and kept by the files' fingerprint: a
 * picture drawn for a card serves its filed copy too. The web server sends them; this only makes what is missing.
 */
final readonly class Pictures
{
    public function __construct(
        private string $home,
        private CardContents $contents,
        private Capture $capture,
        private Decoder $decoder,
        private Drawers $drawers,
        private MeasuredPictures $measured,
    ) {
    }

    /**
     * Where the picture lies below the home folder, whether drawn yet or not.
     *
     * @param Orientation|null $as how it is shown since it was rotated; null: as it came
     */
    public static function path(PictureSize $size, string $fingerprint, ?Orientation $as = null): string
    {
        return \sprintf(
            'pictures/%d/%s/%s%s.jpg',
            $size->value,
            substr($fingerprint, 0, 2),
            substr($fingerprint, 2),
            null === $as ? '' : '-'.$as->value,
        );
    }

    /**
     * Draws the picture unless it is there. One that was never measured, since another led its frame when the card was
     * read, is measured by the way.
     *
     * @param string           $fingerprint 32 hexadecimal digits
     * @param Orientation|null $as          how it is shown since it was rotated, whatever its file says by now; null:
     *                                      as it came
     *
     * @throws PictureUndrawable
     */
    public function draw(PictureSize $size, string $fingerprint, ?Orientation $as = null): void
    {
        $target = $this->home.'/'.self::path($size, $fingerprint, $as);
        if (is_file($target)) {
            return;
        }
        $file = $this->source($fingerprint);
        if (PictureSize::Whole === $size && $this->copied($file, $as, $target)) {
            return;
        }
        $isMeasured = null !== $as || $this->measured->has($fingerprint);
        [$drawing, $focus] = $this->drawing($file, $size, $size, !$isMeasured, $as);
        self::keepDrawn($drawing, $target);
        if (!$isMeasured) {
            $measures = PictureMeasures::of($drawing->grey, max(1, $drawing->width), $focus);
            $this->measured->keep([$fingerprint => $measures]);
        }
    }

    /**
     * Draws the small picture unless it is there, and measures it. Both come from one decoding.
     *
     * @throws PictureUndrawable
     */
    public function drawAndMeasure(string $fingerprint): PictureMeasures
    {
        $target = $this->home.'/'.self::path(PictureSize::Strip, $fingerprint);
        $size = is_file($target) ? null : PictureSize::Strip;
        [$drawing, $focus] = $this->drawing($this->source($fingerprint), PictureSize::Strip, $size, true);
        if (null !== $size) {
            self::keepDrawn($drawing, $target);
        }

        return PictureMeasures::of($drawing->grey, max(1, $drawing->width), $focus);
    }

    /**
     * @param PictureSize      $for  what the picture in the file must be good for
     * @param PictureSize|null $size that is wanted
     * @param Orientation|null $as   how it is to be shown; null: as the file says
     *
     * @return array{Drawing, array{float, float}|null} and where the camera focused, as the file says that it is shown
     *
     * @throws PictureUndrawable
     */
    private function drawing(
        string $file,
        PictureSize $for,
        ?PictureSize $size,
        bool $measured,
        ?Orientation $as = null,
    ): array {
        try {
            $picture = $this->capture->picture($file, !$for->isOfTheLargest());
        } catch (FileUnreadable $e) {
            throw PictureUndrawable::because($e->reason);
        }
        $decoded = null === $picture ? $this->decoded($file, $for) : $this->developed($file, $picture, $for);
        if (null !== $decoded) {
            $bytes = max(1, (int) ftell($decoded)); // it was written to its end
            $turn = null === $as ? Orientation::AsStored : $this->orientation($file)->undone()->then($as);
            $order = new DrawingOrder(0, $bytes, $turn, $size, $measured);
        } else {
            \assert(null !== $picture);
            $decoded = @fopen($picture->path, 'r');
            $order = DrawingOrder::of($picture, $size, $measured, $as);
        }

        return false === $decoded
            ? throw PictureUndrawable::because(SystemReason::last())
            : [$this->drawers->draw($decoded, $order), $picture?->focus];
    }

    /**
     * What has no picture inside.
     *
     * @return resource as {@see Decoder} gives it
     *
     * @throws PictureUndrawable
     */
    private function decoded(string $file, PictureSize $for)
    {
        $head = (string) @file_get_contents($file, false, null, 0, Signature::HEAD);

        return match (Signature::kind($head)) {
            FileKind::Movie => $this->decoder->movie($file),
            FileKind::Audio => $this->decoder->sound($file),
            default => $this->decoder->raw($file, PictureSize::Whole !== $for),
        };
    }

    /**
     * A raw file whose picture inside is small for what is wanted.
     *
     * @return resource|null null where it will do, or LibRaw does not know the file
     */
    private function developed(string $file, ShownPicture $picture, PictureSize $for)
    {
        if (!self::isToBeDeveloped($file, $picture, $for)) {
            return null;
        }
        try {
            return $this->decoder->raw($file, $picture->isHalfEnoughFor($for->value));
        } catch (PictureUndrawable) {
            return null;
        }
    }

    /** The smallest pictures are always those inside: thousands are wanted at once. */
    private static function isToBeDeveloped(string $file, ShownPicture $picture, PictureSize $for): bool
    {
        return PictureSize::Strip !== $for
            && \in_array(FileKind::ofName($file), [FileKind::Raw, FileKind::Dng], true)
            && !$picture->isEnoughFor($for->value);
    }

    /**
     * A JPEG that browsers show is handed on as it is, at its full size: to decode and encode it again would take
     * seconds, and lose.
     *
     * @return bool false where it must be drawn
     *
     * @throws PictureUndrawable
     */
    private function copied(string $file, ?Orientation $as, string $target): bool
    {
        try {
            $picture = $this->capture->picture($file, false);
            $from = @fopen($file, 'r');
            $bytes = FileBytes::open($file);
        } catch (FileUnreadable $e) {
            throw PictureUndrawable::because($e->reason);
        }
        $pieces = null === $picture || self::isToBeDeveloped($file, $picture, PictureSize::Whole)
            ? null
            : ShownJpeg::of($bytes, $picture->range, $as ?? $picture->shown, PictureSize::Whole->value);
        if (null === $pieces || false === $from) {
            return false;
        }
        self::keep($target, static function ($to) use ($pieces, $from): bool {
            foreach ($pieces as $piece) {
                // it may be larger than this process
                [$wanted, $copied] = \is_string($piece)
                    ? [\strlen($piece), @fwrite($to, $piece)]
                    : [$piece->length, @stream_copy_to_stream($from, $to, $piece->length, $piece->offset)];
                if ($wanted !== $copied) {
                    return false;
                }
            }

            return true;
        });

        return true;
    }

    /**
     * In which a decoder shows it.
     *
     * @throws PictureUndrawable
     */
    private function orientation(string $file): Orientation
    {
        try {
            return $this->capture->orientation($file);
        } catch (FileUnreadable $e) {
            throw PictureUndrawable::because($e->reason);
        }
    }

    /** @throws PictureUndrawable */
    private static function keepDrawn(Drawing $drawing, string $target): void
    {
        self::keep($target, static fn ($to): bool => \strlen($drawing->jpeg) === @fwrite($to, $drawing->jpeg));
    }

    /**
     * @param \Closure(resource): bool $write into a file that is seen when it is whole
     *
     * @throws PictureUndrawable
     */
    private static function keep(string $target, \Closure $write): void
    {
        if (!is_dir(\dirname($target)) && !@mkdir(\dirname($target), 0o755, true) && !is_dir(\dirname($target))) {
            throw PictureUndrawable::because('the folder for pictures cannot be made');
        }
        $part = $target.'.'.getmypid();
        try {
            $to = @fopen($part, 'w');
            if (false === $to || !$write($to) || !fclose($to) || !@rename($part, $target)) {
                throw PictureUndrawable::because('the disk of the program does not take it');
            }
        } finally {
            if (is_file($part)) {
                unlink($part);
            }
        }
    }

    /** @throws PictureUndrawable */
    private function source(string $fingerprint): string
    {
        foreach ($this->contents->paths($fingerprint) as $file) {
            if (is_file($file)) {
                return $file;
            }
        }
        throw PictureUndrawable::because('the card or drive it lies on is not there');
    }
}
