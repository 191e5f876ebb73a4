<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Metadata\Metadata;

/** An index tab on frames, with a name and a colour of the photographer's own. */
final readonly class Tab
{
    /** Each has a key, so there are no more than letters. */
    public const MOST = 26;
    private const LONGEST = 40;

    /**
     * @param string $name as {@see self::name()} gives it
     * @param string $key  the character by which it is set, in lower case; no other tab has it
     */
    public function __construct(
        public int $id,
        public string $name,
        public TabColour $colour,
        public TabWriting $writes,
        public string $key,
    ) {
    }

    /**
     * A name of one line that a table can list.
     *
     * @throws TabRefused
     */
    public static function name(string $typed): string
    {
        $name = Metadata::line($typed);

        return match (true) {
            '' === $name => throw TabRefused::empty(),
            mb_strlen($name) > self::LONGEST => throw TabRefused::tooLong($name, self::LONGEST),
            str_contains($name, ';') => throw TabRefused::parted($name),
            default => $name,
        };
    }

    /**
     * The key of a tab of this name: the first of its letters that no other tab has, else the first letter that is
     * free. Marks above and beneath a letter do not count, so that it is on the keyboard.
     *
     * @param list<string> $taken keys of the other tabs
     *
     * @throws TabRefused where every letter is taken
     */
    public static function keyOf(string $name, array $taken): string
    {
        $bare = \Normalizer::normalize($name, \Normalizer::FORM_D);
        preg_match_all('/\p{L}/u', mb_strtolower(\is_string($bare) ? $bare : $name), $letters);
        $free = array_diff([...$letters[0], ...range('a', 'z')], $taken);

        return \count($taken) >= self::MOST ? throw TabRefused::tooMany(self::MOST) : array_values($free)[0];
    }

    /**
     * The colour that fewest tabs have.
     *
     * @param list<self> $others
     */
    public static function colourBeside(array $others): TabColour
    {
        $uses = array_fill_keys(array_column(TabColour::cases(), 'value'), 0);
        foreach ($others as $other) {
            ++$uses[$other->colour->value];
        }

        return TabColour::from((string) array_search(min($uses), $uses, true));
    }

    public function isCalled(string $name): bool
    {
        return mb_strtolower($this->name) === mb_strtolower($name);
    }

    /** Whether files say the same by either. */
    public function writesLike(self $other): bool
    {
        return $this->writes === $other->writes
            && (TabWriting::Nothing === $this->writes || $this->name === $other->name);
    }
}
