<?php

declare(strict_types=1);

namespace Velvet\Core\Metadata;

use Velvet\Core\Bytes\IimBlock;
use Velvet\Core\Bytes\OlderText;
use Velvet\Core\Bytes\TiffEdit;
use Velvet\Core\Bytes\TiffType;
use Velvet\Core\Bytes\XmpPacket;
use Velvet\Core\Capture\Orientation;

/** Writes {@see Metadata} into packets, and reads it from them; in one place for all kinds of file. */
final class Packets
{
    private const KEYWORDS = 'dc:subject';
    private const RATING = 'xmp:Rating';
    private const RATINGS = ['-1', '0', '1', '2', '3', '4', '5'];
    private const ORIENTATION = 0x0112;
    private const USER_COMMENT = 0x9286;
    private const EXIF_VERSION = 0x9000;
    /** Exif 2.32, 4.6.5: the first 8 bytes name the character code. */
    private const UNICODE = "UNICODE\0";

    public static function intoXmp(XmpPacket $packet, Metadata $metadata, History $history): void
    {
        foreach (Field::cases() as $field) {
            $text = $metadata->text($field);
            // the first name that a picture had stays, whoever wrote it
            $isKept = Field::PreservedFileName === $field && null !== $packet->simple('xmpMM:PreservedFileName');
            if (null !== $text && !$isKept) {
                // True or False (ISO 16684-1, 8.2.1.1)
                $text = Field::CopyrightMarked === $field && '' !== $text ? ucfirst($text) : $text;
                foreach ($field->xmp() as $place) {
                    $packet->set($place[0], $place[1], $place[2] ?? '', $text);
                }
            }
        }
        if (null !== $metadata->keywords) {
            $packet->setList(self::KEYWORDS, $metadata->keywords, 'Bag');
            $packet->setKeywordPaths($metadata->paths);
        }
        if (null !== $metadata->rating) {
            $packet->setSimple(self::RATING, (string) $metadata->rating);
        }
        $original = $metadata->text(Field::PreservedFileName);
        if (null !== $original && '' !== $original) {
            $packet->derivedFrom($original);
        }
        $history->addTo($packet);
    }

    public static function fromXmp(XmpPacket $packet): Metadata
    {
        $texts = [];
        foreach (Field::cases() as $field) {
            $place = $field->xmp()[0];
            $text = $packet->text($place[0], $place[1], $place[2] ?? '');
            if (null !== $text && '' !== $text) {
                $texts[$field->value] = Field::CopyrightMarked === $field ? strtolower($text) : $text;
            }
        }
        $rating = $packet->simple(self::RATING);

        return new Metadata(
            $texts,
            $packet->list(self::KEYWORDS),
            $packet->keywordPaths(),
            \in_array($rating, self::RATINGS, true) ? (int) $rating : null,
        );
    }

    /** @return list<string> sentences on what was cut, since IIM has no room for it */
    public static function intoIim(IimBlock $block, Metadata $metadata): array
    {
        $notes = [];
        foreach (Field::cases() as $field) {
            $text = $metadata->text($field);
            $place = $field->iim();
            if (null !== $text && null !== $place && $block->set($place[0], $text, $place[1])) {
                $notes[] = \sprintf(
                    'The %s is longer than older readers (IIM) can take: it is whole in XMP and was cut there.',
                    str_replace('_', ' ', $field->value),
                );
            }
        }
        if (null !== $metadata->keywords && $block->setKeywords($metadata->keywords)) {
            $notes[] = 'A keyword is longer than older readers (IIM) can take: it is whole in XMP and was cut there.';
        }

        return $notes;
    }

    /** Texts are UTF-8, as Exif 3.0 allows and the guidelines of the Metadata Working Group (2.0, 3.2) ask for. */
    public static function intoExif(TiffEdit $edit, Metadata $metadata): void
    {
        foreach (Field::cases() as $field) {
            $tag = $field->exif();
            $text = $metadata->text($field);
            if (null !== $tag && null !== $text) {
                $edit->set($tag, TiffType::Ascii, '' === $text ? '' : $text."\0");
            }
        }
        $shown = self::shown($metadata);
        if (null !== $shown) {
            $edit->set(self::ORIENTATION, TiffType::Short, $edit->short($shown->value));
        }
        $description = $metadata->text(Field::Description);
        // an Exif directory is not made for the comment alone: it would lack what Exif demands of one
        if (null !== $description && '' !== $description && null !== $edit->value(self::EXIF_VERSION, true)) {
            $encoding = $edit->isLittleEndian() ? 'UTF-16LE' : 'UTF-16BE';
            $comment = mb_convert_encoding($description, $encoding, 'UTF-8');
            $edit->setInExif(self::USER_COMMENT, TiffType::Undefined, self::UNICODE.$comment);
        }
    }

    /**
     * A structure for a file that has none: it says how the picture is shown, and beside it what Exif demands, as it is
     * where nothing is known (Exif 2.32, 4.6.4): 72 pixels to the inch, chroma centred.
     */
    public static function exifShownAs(Orientation $shown): string
    {
        $short = static fn (int $tag, int $value): string => pack('nnNnn', $tag, TiffType::Short->value, 1, $value, 0);
        $rational = static fn (int $tag, int $at): string => pack('nnNN', $tag, TiffType::Rational->value, 1, $at);

        return pack('a2nNn', 'MM', 42, 8, 5)
            .$short(self::ORIENTATION, $shown->value).$rational(0x011A, 74).$rational(0x011B, 82)
            .$short(0x0128, 2).$short(0x0213, 1)
            .pack('N5', 0, 72, 1, 72, 1); // no further directory; the resolutions
    }

    /** How the picture is to be shown; null where it stays as it is. */
    public static function shown(Metadata $metadata): ?Orientation
    {
        return Orientation::tryFrom((int) $metadata->text(Field::Orientation));
    }

    /** What a file says that has no XMP: IIM, and behind it Exif (MWG guidelines 2.0, 4). */
    public static function fromOlder(?IimBlock $block, ?TiffEdit $exif): Metadata
    {
        $texts = [];
        foreach (Field::cases() as $field) {
            $text = null === $field->iim() ? '' : implode('; ', $block?->texts($field->iim()[0]) ?? []);
            if ('' === $text && null !== $field->exif()) {
                $text = rtrim((string) $exif?->value($field->exif()), "\0 ");
                $text = OlderText::utf8($text);
            }
            if ('' !== $text) {
                $texts[$field->value] = $text;
            }
        }
        $keywords = $block?->texts(25) ?? [];

        return new Metadata($texts, [] === $keywords ? null : $keywords);
    }
}
