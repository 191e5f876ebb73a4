<?php

declare(strict_types=1);

namespace Velvet\Core\Transfer;

/** One file was not filed. The message is a sentence for the photographer; the other files go on. */
interface TransferFailure extends \Throwable
{
}
