<?php

declare(strict_types=1);

namespace Velvet\Core\Metadata;

/** Makes the new file of a {@see Splice} while the old one is read from its start to its end. */
final class StreamedSplice
{
    private int $at = 0;
    private int $next = 0;

    /** @param Splice $splice that {@see Splice::isInOrder()} */
    public function __construct(private readonly Splice $splice)
    {
    }

    /** @return string what the new file goes on with, now that this much of the old one is read */
    public function take(string $chunk): string
    {
        $end = $this->at + \strlen($chunk);
        $made = '';
        while (null !== $piece = $this->splice->pieces[$this->next] ?? null) {
            if (\is_string($piece)) {
                $made .= $piece;
            } else {
                $part = $piece->cut($chunk, $this->at);
                $made = '' === $made ? $part : $made.$part;
                if ($piece->offset + $piece->length > $end) {
                    break;
                }
            }
            ++$this->next;
        }
        $this->at = $end;

        return $made;
    }

    /** Whether all of the new file was given. */
    public function isDone(): bool
    {
        return !isset($this->splice->pieces[$this->next]);
    }
}
