<?php

declare(strict_types=1);

namespace Velvet\Core\Naming;

use Velvet\Core\Capture\CameraBody;
use Velvet\Core\Capture\ShotTime;
use Velvet\Core\Card\CardFile;
use Velvet\Core\Shoot\InRun;
use Velvet\Core\Shoot\OriginalNumber;

/** What the names of one frame's files can say. */
final readonly class FrameNaming
{
    /**
     * @param ShotTime|null $shotAt         corrected where the camera's clock was wrong
     * @param string        $originalName   without its extension
     * @param int|null      $originalNumber the digits at the end of the original name
     * @param string        $camera         the short name given to the body, else its model
     * @param string        $maker          of the camera
     * @param InRun|null    $run            the frame's place in a bracket, a burst or a time-lapse
     */
    public function __construct(
        public ?ShotTime $shotAt,
        public string $originalName,
        public ?int $originalNumber = null,
        public string $camera = '',
        public string $serial = '',
        public string $cardLabel = '',
        public ?InRun $run = null,
        public string $maker = '',
    ) {
    }

    /**
     * @param CardFile $leading of the frame's files
     * @param string   $given   the short name given to the body; empty for none
     */
    public static function of(
        ?ShotTime $shotAt,
        CardFile $leading,
        string $given,
        CameraBody $body,
        string $cardLabel,
    ): self {
        $name = $leading->stem();

        return new self(
            $shotAt,
            $name,
            OriginalNumber::atTheEndOf($name),
            '' === $given ? $body->model ?? '' : $given,
            $body->serial ?? '',
            $cardLabel,
            maker: $body->make ?? '',
        );
    }

    public function inRun(?InRun $run): self
    {
        return $run === $this->run ? $this : new self(
            $this->shotAt,
            $this->originalName,
            $this->originalNumber,
            $this->camera,
            $this->serial,
            $this->cardLabel,
            $run,
            $this->maker,
        );
    }
}
