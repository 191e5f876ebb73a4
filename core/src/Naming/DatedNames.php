<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

/**
 * The first fixed pattern: folder `YYYY/YYYY-MM-DD Shoot name`, file `YYYY-MM-DD_shoot-name_0001.ext`.
 * Year-month-day with leading zeros sorts by name as by time (ISO 8601; common practice).
 */
final readonly class DatedNames
{
    private const UNDATED = 'undated';
    private const LONGEST_FOLDER_NAME = 200;
    private const LONGEST_WORD = 160;
    private const COUNTER_DIGITS = 4;

    public string $folder;
    private string $prefix;

    /**
     * @param string|null $day  `YYYY-MM-DD`; null for frames without any date
     * @param string      $name the shoot's name as typed; may be empty
     */
    public function __construct(?string $day, string $name)
    {
        $date = $day ?? self::UNDATED;
        $readable = PortableName::readable($name, self::LONGEST_FOLDER_NAME);
        $word = PortableName::word($name, self::LONGEST_WORD);
        $this->folder = (null === $day ? self::UNDATED : substr($day, 0, 4)).'/'.$date.('' === $readable ? '' : ' '.$readable);
        $this->prefix = $date.'_'.('' === $word ? '' : $word.'_');
    }

    /** The name without an extension that all files of one frame share. */
    public function stem(int $counter): string
    {
        return $this->prefix.str_pad((string) $counter, self::COUNTER_DIGITS, '0', \STR_PAD_LEFT);
    }

    /** The counter in a file name of this pattern and shoot; null for any other name. */
    public function counterOf(string $fileName): ?int
    {
        $prefix = PortableName::folded($this->prefix);
        $name = PortableName::folded($fileName);

        return str_starts_with($name, $prefix) && 1 === preg_match('/^(\d{4,9})(?:\.|$)/', substr($name, \strlen($prefix)), $match)
            ? (int) $match[1] : null;
    }
}
