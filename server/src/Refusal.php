<?php

declare(strict_types=1);

namespace Velvet\Server;

/** What was asked for cannot be done, for a reason the person can understand and mend. */
interface Refusal extends \Throwable
{
    /**
     * HTTP status: 404 where the thing is not there, 409 where its state forbids it, 422 where the request makes no
     * sense.
     */
    public function status(): int;
}
