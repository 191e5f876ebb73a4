<?php

declare(strict_types=1);

namespace Velvet\Server\Tests\Promise;

/** The program ends in this very moment. */
final class Killed extends \RuntimeException
{
}
