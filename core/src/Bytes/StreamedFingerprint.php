<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/** The {@see Fingerprint} of a file that is read from its start to its end for another purpose. */
final class StreamedFingerprint
{
    private int $at = 0;
    /** @var array{string, string, string} */
    private array $samples = ['', '', ''];

    /** @param int $size bytes that the file has */
    public function __construct(private readonly int $size)
    {
    }

    public function update(string $chunk): void
    {
        $length = \strlen($chunk);
        foreach (Fingerprint::offsets($this->size) as $i => $offset) {
            $from = max($offset, $this->at);
            $to = min($offset + Fingerprint::SAMPLE, $this->at + $length);
            if ($from < $to) {
                $this->samples[$i] .= substr($chunk, $from - $this->at, $to - $from);
            }
        }
        $this->at += $length;
    }

    public function finished(): Fingerprint
    {
        return Fingerprint::ofSamples($this->size, $this->samples);
    }
}
