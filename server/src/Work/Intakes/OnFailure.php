<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Intakes;

/** When an intake pauses by itself. */
enum OnFailure
{
    /** When a destination refused a file. */
    case Pause;
    /** When a whole drive or card is gone or full; single files that fail are set down and the others go on. */
    case PauseForDrives;
    /** Never: what can be copied is copied. */
    case KeepGoing;
}
