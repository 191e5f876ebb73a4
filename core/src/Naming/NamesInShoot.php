<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

/** A pattern at work in one shoot. */
final readonly class NamesInShoot
{
    private const UNDATED = 'undated';

    /** @var array<int, string> what is said of the shoot, by piece */
    private array $constant;

    /** @var array<int, Piece> those that say something else of each frame */
    private array $ofTheFrame;

    public function __construct(public NamePattern $pattern, private ShootNaming $shoot)
    {
        $constant = [];
        $ofTheFrame = [];
        foreach ($pattern->pieces as $i => $piece) {
            $constant[$i] = $this->ofTheShoot($piece);
            if ($piece->kind->isOfTheFrame()) {
                $ofTheFrame[$i] = $piece;
            }
        }
        [$this->constant, $this->ofTheFrame] = [$constant, $ofTheFrame];
    }

    public function folder(): string
    {
        return $this->put($this->constant);
    }

    /** The name without an extension that all files of one frame share. */
    public function stem(FrameNaming $frame, ?int $counter): string
    {
        $values = $this->constant;
        foreach ($this->ofTheFrame as $i => $piece) {
            $values[$i] = self::ofTheFrame($piece, $frame, $counter);
        }

        return $this->put($values);
    }

    /**
     * A regular expression for folded stems that this pattern gives in this shoot, the number as its first group; null
     * where there is no counter.
     */
    public function numberIn(): ?string
    {
        $counter = $this->pattern->counter();
        if (null === $counter) {
            return null;
        }
        $values = $this->constant;
        foreach ($this->ofTheFrame as $i => $piece) {
            $values[$i] = $piece === $counter ? "\1" : "\2";
        }
        $expression = preg_quote(PortableName::folded($this->put($values)), '~');

        return '~^'.strtr($expression, ["\1" => '(\d{'.$counter->width.',9})', "\2" => '.*?']).'$~u';
    }

    private function ofTheShoot(Piece $piece): string
    {
        return match ($piece->kind) {
            PieceKind::Text => $piece->isSeparator ? $piece->text : PortableName::harmless($piece->text),
            PieceKind::ShootDay => null === $this->shoot->day ? self::UNDATED : $piece->written(
                self::safeDate(DateFormat::ofDay($this->shoot->day, $piece->format)),
            ),
            PieceKind::FirstTime => null === $this->shoot->frames->firstShot ? self::UNDATED : $piece->written(
                self::safeDate(DateFormat::of($this->shoot->frames->firstShot, $piece->format)),
            ),
            PieceKind::FirstNumber => self::number($this->shoot->frames->firstNumber, $piece->width),
            PieceKind::LastNumber => self::number($this->shoot->frames->lastNumber, $piece->width),
            PieceKind::Maker => $piece->written($this->shoot->frames->maker),
            PieceKind::Camera => $piece->written($this->shoot->frames->camera),
            PieceKind::Trip => $piece->written($this->shoot->trip),
            PieceKind::ShootName => $piece->written($this->shoot->name),
            PieceKind::ShootKind => $piece->written($this->shoot->kind),
            PieceKind::Client => $piece->written($this->shoot->client),
            PieceKind::Initials => $piece->written($this->shoot->initials),
            default => '',
        };
    }

    private static function ofTheFrame(Piece $piece, FrameNaming $frame, ?int $counter): string
    {
        return match ($piece->kind) {
            PieceKind::Counter => self::number($counter, $piece->width),
            PieceKind::OriginalNumber => self::number($frame->originalNumber, $piece->width),
            PieceKind::Sequence => self::number($frame->run?->number, $piece->width),
            PieceKind::ShotTime => null === $frame->shotAt ? self::UNDATED : $piece->written(
                self::safeDate(DateFormat::of($frame->shotAt, $piece->format)),
            ),
            PieceKind::CardLabel => $piece->written($frame->cardLabel),
            PieceKind::Maker => $piece->written($frame->maker),
            PieceKind::Camera => $piece->written($frame->camera),
            PieceKind::BodySerial => $piece->written($frame->serial),
            PieceKind::OriginalName => $piece->written($frame->originalName),
            default => '',
        };
    }

    private static function number(?int $number, int $width): string
    {
        return null === $number ? '' : str_pad((string) $number, $width, '0', \STR_PAD_LEFT);
    }

    /** 19:31 and 2/5/2026 become names with dashes. */
    private static function safeDate(string $date): string
    {
        return strtr($date, [':' => '-', '/' => '-', '\\' => '-']);
    }

    /**
     * Puts the values together. A separator stands only between two values; of several in a row the first counts.
     *
     * @param array<int, string> $values one for each piece
     */
    private function put(array $values): string
    {
        if (\strlen(implode('', $values)) > NamePattern::LONGEST) {
            $values = $this->shortened($values);
        }
        $name = $pending = '';
        foreach ($this->pattern->pieces as $i => $piece) {
            if ($piece->isSeparator) {
                $pending = '' === $pending ? $values[$i] : $pending;
            } elseif ('' !== $values[$i]) {
                $name .= ('' === $name ? '' : $pending).$values[$i];
                $pending = '';
            }
        }

        return PortableName::closed($name);
    }

    /**
     * Where all together would be too long, the longest words give way, never a number.
     *
     * @param array<int, string> $values
     *
     * @return array<int, string>
     */
    private function shortened(array $values): array
    {
        while (($over = \strlen(implode('', $values)) - NamePattern::LONGEST) > 0) {
            $longest = null;
            foreach ($this->pattern->pieces as $i => $piece) {
                if (
                    !$piece->kind->isNumber()
                    && (null === $longest || \strlen($values[$i]) > \strlen($values[$longest]))
                ) {
                    $longest = $i;
                }
            }
            if (null === $longest || \strlen($values[$longest]) <= 8) {
                break;
            }
            $values[$longest] = trim(
                PortableName::cut($values[$longest], max(8, \strlen($values[$longest]) - $over)),
                ' ._-',
            );
        }

        return $values;
    }
}
