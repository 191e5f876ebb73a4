<?php

declare(strict_types=1);

namespace Velvet\Demo;

/** One press of the shutter in the scenario: where its files lie, what the camera noted, what is to be drawn. */
final readonly class Shot
{
    /**
     * @param string               $stem   path on the card without an extension
     * @param bool                 $raw    whether a raw file lies beside the JPEG
     * @param string               $scene  harbour, pottery or tide
     * @param bool                 $large  6,000 pixels long instead of 2,400
     */
    public function __construct(
        public string $card,
        public string $stem,
        public bool $raw,
        public Exposure $exposure,
        public string $scene,
        public Drawing $draw,
        public bool $portrait = false,
        public bool $large = false,
    ) {
    }
}
