<?php

declare(strict_types=1);

namespace Velvet\Core\Copy;

/** One file was not filed. The message is a sentence for the photographer; the other files go on. */
interface TransferFailure extends \Throwable
{
    /** Whether it may go well the next time although nobody did anything about it. */
    public function isWorthAnotherTry(): bool;
}
