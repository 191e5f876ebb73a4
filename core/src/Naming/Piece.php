<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

/** One piece of a pattern, with how it is written. */
final readonly class Piece
{
    /**
     * Whether it is nothing but dashes, dots, underscores and blanks: such text stands between values and goes where
     * there is none.
     */
    public bool $isSeparator;

    private const MOST_DIGITS = 9;
    private const LONGEST = 200;
    private const DATE = 'yyyy-MM-dd';

    /**
     * @param string          $format a date pattern in LDML, for dates
     * @param string          $text   for free text
     * @param int|null        $length letters that are kept at most; of a body serial its last ones
     * @param int<0, max>     $start  the counter's first number
     * @param int<1, max>     $step   from number to number
     * @param int<1, 9>       $width  digits at least
     */
    private function __construct(
        public PieceKind $kind,
        public string $format,
        public string $text,
        public LetterCase $case,
        public Blanks $blanks,
        public ?int $length,
        public int $start,
        public int $step,
        public int $width,
        public CounterScope $scope,
    ) {
        $this->isSeparator = PieceKind::Text === $kind && 1 === preg_match('/^[ ._\-]+$/', $text);
    }

    /** @throws PatternRefused */
    public static function date(PieceKind $kind, string $format = self::DATE): self
    {
        return self::fromArray(['piece' => $kind->value, 'format' => $format]);
    }

    /** @throws PatternRefused */
    public static function text(string $text): self
    {
        return self::fromArray(['piece' => PieceKind::Text->value, 'text' => $text]);
    }

    /** @throws PatternRefused */
    public static function counter(
        int $width = 4,
        CounterScope $scope = CounterScope::Shoot,
        int $start = 1,
        int $step = 1,
    ): self {
        return self::fromArray(
            [
                'piece' => PieceKind::Counter->value,
                'width' => $width,
                'scope' => $scope->value,
                'start' => $start,
                'step' => $step,
            ],
        );
    }

    /** @throws PatternRefused */
    public static function words(
        PieceKind $kind,
        LetterCase $case = LetterCase::Kept,
        Blanks $blanks = Blanks::Kept,
        ?int $length = null,
    ): self {
        return self::fromArray(
            ['piece' => $kind->value, 'case' => $case->value, 'blanks' => $blanks->value, 'length' => $length],
        );
    }

    /**
     * From the form in which {@see toArray()} writes it.
     *
     * @param array<mixed> $piece
     *
     * @throws PatternRefused
     */
    public static function fromArray(array $piece): self
    {
        $word = static fn (string $name, string $else): string => \is_string($piece[$name] ?? null)
            ? $piece[$name]
            : $else;
        $kind = PieceKind::tryFrom($word('piece', '')) ?? throw PatternRefused::unknown('piece', $word('piece', ''));
        $format = $word('format', self::DATE);
        if ($kind->isDate() && !self::isDatePattern($format)) {
            throw PatternRefused::badDatePattern($format);
        }
        $text = $word('text', '');
        if (PieceKind::Text === $kind && '' === PortableName::harmless($text)) {
            throw PatternRefused::emptyText();
        }

        return new self(
            $kind,
            $format,
            mb_substr($text, 0, self::LONGEST),
            LetterCase::tryFrom($word('case', 'kept'))
                ?? throw PatternRefused::unknown('letter case', $word('case', '')),
            Blanks::tryFrom($word('blanks', 'kept')) ?? throw PatternRefused::unknown(
                'treatment of blanks',
                $word('blanks', ''),
            ),
            null === ($piece['length'] ?? null) ? null : self::whole($piece['length'], 'length', 1, self::LONGEST),
            max(0, self::whole($piece['start'] ?? 1, 'counter’s start', 0, 999_999_999)),
            max(1, self::whole($piece['step'] ?? 1, 'counter’s step', 1, 1000)),
            max(1, min(9, self::whole($piece['width'] ?? 4, 'counter’s width', 1, self::MOST_DIGITS))),
            CounterScope::tryFrom($word('scope', 'shoot'))
                ?? throw PatternRefused::unknown('counter scope', $word('scope', '')),
        );
    }

    /** @return array<string, string|int> only what matters for its kind and is not as usual */
    public function toArray(): array
    {
        $written = ['piece' => $this->kind->value];
        if ($this->kind->isDate()) {
            $written['format'] = $this->format;
        } elseif (PieceKind::Text === $this->kind) {
            $written['text'] = $this->text;
        } elseif (PieceKind::Counter === $this->kind) {
            $written += [
                'start' => $this->start,
                'step' => $this->step,
                'width' => $this->width,
                'scope' => $this->scope->value,
            ];
        } elseif ($this->kind->isNumber()) {
            $written['width'] = $this->width;
        }
        if (LetterCase::Kept !== $this->case) {
            $written['case'] = $this->case->value;
        }
        if (Blanks::Kept !== $this->blanks) {
            $written['blanks'] = $this->blanks->value;
        }
        if (null !== $this->length) {
            $written['length'] = $this->length;
        }

        return $written;
    }

    /** Whether two frames of a shoot have different values, as a rule. */
    public function tellsFramesApart(): bool
    {
        return \in_array($this->kind, [PieceKind::Counter, PieceKind::OriginalName, PieceKind::OriginalNumber], true)
            || (PieceKind::ShotTime === $this->kind && 1 === preg_match(
                '/s/',
                (string) preg_replace("/'[^']*'/", '', $this->format),
            ));
    }

    /** The value as it is written: safe, in its letter case, no longer than asked for. */
    public function written(string $value): string
    {
        $text = $this->case->of($this->blanks->of($value));
        if (null === $this->length) {
            return $text;
        }

        return trim(
            PieceKind::BodySerial === $this->kind
                ? mb_substr($text, -$this->length)
                : mb_substr($text, 0, $this->length),
            ' ._-',
        );
    }

    private static function isDatePattern(string $format): bool
    {
        // letters outside of quotes must be field symbols that make sense of a wall clock; zones do not
        $bare = preg_replace("/'[^']*'/", '', $format) ?? '';

        return '' !== trim($format) && \strlen($format) <= 60 && !str_contains($bare, "'")
            && 1 === preg_match('/[a-zA-Z]/', $bare) && 1 === preg_match(
                '/^[GyYuUrQqMLwWdDFgEecabBhHKkmsSA\P{L}]*$/u',
                $bare,
            );
    }

    private static function whole(mixed $value, string $what, int $least, int $most): int
    {
        return \is_int($value) && $value >= $least && $value <= $most
            ? $value
            : throw PatternRefused::outOfRange($what, $least, $most);
    }
}
