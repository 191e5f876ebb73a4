<?php

declare(strict_types=1);

use Symfony\Component\HttpFoundation\Request;
use Velvet\Server\Kernel;

require dirname(__DIR__, 2).'/vendor/autoload.php';

$kernel = Kernel::fromEnvironment();
$request = Request::createFromGlobals();
$response = $kernel->handle($request);
$response->send();
$kernel->terminate($request, $response);
