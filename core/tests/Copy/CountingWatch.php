<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Copy;

use Velvet\Core\Copy\CopyWatch;
use Velvet\Core\Copy\FileToCopy;

/** Keeps what it is told, bytes added up. */
class CountingWatch implements CopyWatch
{
    /** @var list<string|int> */
    public array $told = [];
    /** @var list<int> */
    public array $takenOver = [];

    public function file(FileToCopy $file): void
    {
    }

    public function reading(): void
    {
        $this->told[] = 'reading';
    }

    public function read(int $bytes): void
    {
        $this->add($bytes);
    }

    public function verifying(array $read): array
    {
        $this->told[] = 'verifying';

        return $this->takenOver;
    }

    public function checked(int $bytes): void
    {
        $this->add($bytes);
    }

    private function add(int $bytes): void
    {
        $last = array_pop($this->told);
        if (\is_int($last)) {
            $this->told[] = $last + $bytes;
        } else {
            array_push($this->told, ...array_filter([$last], is_string(...)), ...[$bytes]);
        }
    }
}
