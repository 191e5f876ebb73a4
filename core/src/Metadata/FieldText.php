<?php

declare(strict_types=1);

namespace Velvet\Core\Metadata;

use Velvet\Core\Naming\DateFormat;
use Velvet\Core\Naming\FrameNaming;
use Velvet\Core\Naming\PatternRefused;
use Velvet\Core\Naming\Piece;
use Velvet\Core\Naming\PieceKind;
use Velvet\Core\Naming\ShootNaming;

/** The text of a field as a row of pieces, filled for each frame: © 〈year of the shot〉 〈creator〉. */
final readonly class FieldText
{
    private const MOST_PIECES = 24;

    /** @param non-empty-list<Piece> $pieces */
    private function __construct(public array $pieces)
    {
    }

    /**
     * @param list<Piece> $pieces
     *
     * @throws PatternRefused
     */
    public static function of(array $pieces): self
    {
        if ([] === $pieces) {
            throw PatternRefused::empty();
        }
        if (\count($pieces) > self::MOST_PIECES) {
            throw PatternRefused::tooLong(self::MOST_PIECES);
        }
        foreach ($pieces as $piece) {
            if (\in_array($piece->kind, [PieceKind::Counter, PieceKind::Sequence], true)) {
                throw PatternRefused::onlyInNames($piece->kind);
            }
        }

        return new self($pieces);
    }

    /** Empty where everything it says is unknown; texts between values stay as they are typed. */
    public function fill(ShootNaming $shoot, FrameNaming $frame): string
    {
        $text = '';
        $hasValue = false;
        foreach ($this->pieces as $piece) {
            $value = self::value($piece, $shoot, $frame);
            $hasValue = $hasValue || '' !== trim($value);
            $text .= $value;
        }

        return $hasValue ? trim(Metadata::clean($text)) : '';
    }

    /** @return list<array<string, string|int>> */
    public function toArray(): array
    {
        return array_map(static fn (Piece $piece): array => $piece->toArray(), $this->pieces);
    }

    private static function value(Piece $piece, ShootNaming $shoot, FrameNaming $frame): string
    {
        return match ($piece->kind) {
            PieceKind::Text => $piece->text,
            PieceKind::ShootDay => null === $shoot->day ? '' : $piece->written(
                DateFormat::ofDay($shoot->day, $piece->format),
            ),
            PieceKind::ShotTime => null === $frame->shotAt ? '' : $piece->written(
                DateFormat::of($frame->shotAt, $piece->format),
            ),
            PieceKind::FirstTime => null === $shoot->frames->firstShot ? '' : $piece->written(
                DateFormat::of($shoot->frames->firstShot, $piece->format),
            ),
            PieceKind::Trip => $piece->written($shoot->trip),
            PieceKind::ShootName => $piece->written($shoot->name),
            PieceKind::ShootKind => $piece->written($shoot->kind),
            PieceKind::Client => $piece->written($shoot->client),
            PieceKind::Initials => $piece->written($shoot->initials),
            PieceKind::CardLabel => $piece->written($frame->cardLabel),
            PieceKind::Maker => $piece->written($frame->maker),
            PieceKind::Camera => $piece->written($frame->camera),
            PieceKind::BodySerial => $piece->written($frame->serial),
            PieceKind::OriginalName => $piece->written($frame->originalName),
            PieceKind::OriginalNumber => (string) $frame->originalNumber,
            PieceKind::FirstNumber => (string) $shoot->frames->firstNumber,
            PieceKind::LastNumber => (string) $shoot->frames->lastNumber,
            PieceKind::Counter, PieceKind::Sequence => '',
        };
    }
}
