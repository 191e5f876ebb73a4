<?php

declare(strict_types=1);

namespace Velvet\Server\Watch;

/**
 * Whether a camera is on a cable: a USB device with an interface of the class for still images (USB-IF, “Base Class
 * 06h”). Whether its card can be seen is for the system that mounts it.
 */
final readonly class Cable
{
    private const STILL_IMAGES = '06';

    public function __construct(private string $devices = '/sys/bus/usb/devices')
    {
    }

    public function hasCamera(): bool
    {
        $interfaces = glob($this->devices.'/*/bInterfaceClass');
        foreach (false === $interfaces ? [] : $interfaces as $interface) {
            if (self::STILL_IMAGES === trim((string) @file_get_contents($interface))) {
                return true;
            }
        }

        return false;
    }
}
