<?php

declare(strict_types=1);

namespace Velvet\Core\Capture;

/**
 * Something about a file that a photographer should know before copying it, in a sentence. The file is copied all the
 * same.
 */
final readonly class CaptureProblem implements \JsonSerializable
{
    public const NO_CAPTURE_TIME = 'no_capture_time';
    public const OTHER_CONTENT = 'other_content';
    /** Codes of what may be lost, or may not be the picture that it was. */
    public const DAMAGE = ['empty', 'cut_short', 'no_index', 'broken', 'not_a_picture', 'part_unreadable'];
    /** Of these, what seems so, too, when bytes could only not be had. */
    private const DAMAGE_SEEN = ['cut_short', 'no_index', 'broken'];

    private function __construct(public string $code, public string $text)
    {
    }

    public static function empty(string $name): self
    {
        return new self(
            'empty',
            \sprintf('%s is empty (0 bytes): the camera made the file but wrote no picture into it.', $name),
        );
    }

    public static function unreadable(string $name, string $reason): self
    {
        return new self(
            'unreadable',
            \sprintf('%s could not be read (%s). It is untouched on the card.', $name, $reason),
        );
    }

    public static function notAPicture(string $name): self
    {
        return new self(
            'not_a_picture',
            \sprintf(
                '%s does not begin like any picture that is known here. It can be copied as it is, byte for byte.',
                $name,
            ),
        );
    }

    public static function cutShort(string $name): self
    {
        return new self(
            'cut_short',
            \sprintf(
                '%s ends before its picture does: the card or camera stopped while writing it. What is there can be '
                    .'copied; keep the card and try a recovery program on it.',
                $name,
            ),
        );
    }

    public static function recordingCutShort(string $name): self
    {
        return new self(
            'cut_short',
            \sprintf(
                '%s stops short of its end: the card or camera gave out while it was written. It is copied as it is, '
                    .'and plays as far as it goes; keep the card and try a recovery program on it.',
                $name,
            ),
        );
    }

    public static function withoutIndex(string $name): self
    {
        return new self(
            'no_index',
            \sprintf(
                '%s has no index: the camera was stopped before it had finished the movie. It is copied as it is; put '
                    .'the card back into the camera, which may finish it, or try a recovery program on a copy.',
                $name,
            ),
        );
    }

    public static function broken(string $name, string $what): self
    {
        return new self(
            'broken',
            \sprintf('%s is damaged (%s). What could be read was; it can be copied as it is.', $name, $what),
        );
    }

    public static function partUnreadable(string $name, string $reason): self
    {
        return new self(
            'part_unreadable',
            \sprintf(
                'A part of %s could not be read (%s). The card may be failing: copy it now, and keep it. What could '
                    .'be read of this file was.',
                $name,
                $reason,
            ),
        );
    }

    public static function otherContent(string $name, string $holds): self
    {
        return new self(
            self::OTHER_CONTENT,
            \sprintf(
                '%s holds %s, whatever its name says. It is read as what it is, and copied under the extension it has.',
                $name,
                $holds,
            ),
        );
    }

    public static function noCaptureTime(string $name): self
    {
        return new self(
            self::NO_CAPTURE_TIME,
            \sprintf('%s holds no capture date. The file’s own time stands in for it and may be wrong.', $name),
        );
    }

    public static function noTimeAtAll(string $name): self
    {
        return new self(
            'no_time',
            \sprintf('%s holds no capture date, and its file time was never set. It is filed as undated.', $name),
        );
    }

    public static function nonsense(string $name, string $what): self
    {
        return new self(
            'nonsense',
            \sprintf('%s says something impossible (%s), which is taken as unknown.', $name, $what),
        );
    }

    public function isAboutDamage(): bool
    {
        return \in_array($this->code, self::DAMAGE_SEEN, true);
    }

    /** Whether the file, or a part of it, could not be read at all. */
    public function isAboutReading(): bool
    {
        return \in_array($this->code, ['unreadable', 'part_unreadable'], true);
    }

    public function isAboutTime(): bool
    {
        return \in_array($this->code, [self::NO_CAPTURE_TIME, 'no_time'], true);
    }

    /** @return array{code: string, text: string} */
    public function jsonSerialize(): array
    {
        return ['code' => $this->code, 'text' => $this->text];
    }
}
