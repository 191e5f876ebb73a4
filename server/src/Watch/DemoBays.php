<?php

declare(strict_types=1);

namespace Velvet\Server\Watch;

/**
 * The demo's simulated bays: two folders, the bay and a tray beside it. A hand moves whole cards between them, as one
 * puts a real card into its reader; nothing on the card is touched.
 */
final readonly class DemoBays
{
    private string $bay;
    private string $tray;

    public function __construct(string $home)
    {
        $this->bay = $home.'/demo/bay';
        $this->tray = $home.'/demo/tray';
    }

    public function exists(): bool
    {
        return is_dir($this->bay) && is_dir($this->tray);
    }

    public function holds(string $root): bool
    {
        return \dirname($root) === $this->bay;
    }

    /** @return list<string> labels of the cards that lie beside the bay */
    public function tray(): array
    {
        $names = is_dir($this->tray) ? @scandir($this->tray) : false;

        return array_values(
            array_filter(false === $names ? [] : $names, static fn (string $name): bool => '.' !== $name[0]),
        );
    }

    public function putIn(string $label): bool
    {
        return $this->move($this->tray, $this->bay, $label);
    }

    public function takeOut(string $label): bool
    {
        return $this->move($this->bay, $this->tray, $label);
    }

    private function move(string $from, string $to, string $label): bool
    {
        if (
            '' === $label
            || '.' === $label[0]
            || str_contains($label, '/')
            || !is_dir($from.'/'.$label)
            || file_exists($to.'/'.$label)
        ) {
            return false;
        }

        return rename($from.'/'.$label, $to.'/'.$label);
    }
}
