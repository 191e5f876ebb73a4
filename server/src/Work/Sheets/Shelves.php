<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Sheets;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Velvet\Core\Drive\DriveTable;
use Velvet\Core\Drive\MountTable;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Shelf;

/**
 * The shelves: found by their folder, made known when they are first used. Folders are compared as they really are,
 * links followed.
 */
final readonly class Shelves
{
    /** Folders of the system in and below which nobody keeps pictures (Filesystem Hierarchy Standard 3.0). */
    private const SYSTEM = [
        '/bin', '/boot', '/etc', '/lib', '/lib32', '/lib64', '/proc', '/sbin', '/sys', '/usr', '/var/lib', '/var/log',
        '/var/cache', '/run', '/dev',
    ];
    /** Those within them where drives are mounted. */
    private const DRIVES = ['/run/media', '/dev/shm'];
    /** Folders that hold other people's folders and drives: a shelf is one within them. */
    private const TOPS = [
        '/', '/home', '/media', '/mnt', '/opt', '/root', '/run/media', '/srv', '/tmp', '/var', '/dev/shm',
    ];
    /** What the program keeps under its own home. */
    private const OWN = ['db', 'pictures', 'log', 'cache', 'etc', 'stamps', 'dng', 'backups', 'run'];

    public function __construct(
        private EntityManagerInterface $entities,
        private DriveTable $drives,
        private Locks $locks,
        private Sheets $sheets,
        private string $home,
        #[Autowire('%env(default::VELVET_BAYS)%')]
        private ?string $bays,
    ) {
    }

    /**
     * The shelf at a folder. The twin that it has stays unless another one is asked for; both folders are made where
     * they are missing.
     *
     * @param list<string> $cards roots of cards, on which no shelf may lie
     *
     * @throws SheetRefused
     */
    public function at(string $root, ?string $twin, array $cards, ?string $name = null): Shelf
    {
        return $this->locks->with(
            Lock::BecomingKnown,
            0,
            fn (): Shelf => $this->atAlone(self::real($root), $twin, $cards, $name),
        );
    }

    /**
     * @param list<string> $cards
     *
     * @throws SheetRefused
     */
    private function atAlone(string $root, ?string $twin, array $cards, ?string $name): Shelf
    {
        $shelf = $known = $this->known($root);
        $twin = null === $twin ? $shelf?->twinRoot : self::real($twin);
        $this->mustBeApart($root, $twin, $cards);
        foreach (array_filter([$root, $twin], is_string(...)) as $place) {
            // a known one that is gone must not be made anew where its drive had been
            $isThere = isset($shelf?->drives[$place])
                ? $this->isThere($shelf, $place)
                : is_dir($place) || @mkdir($place, 0o777, true);
            if (!$isThere) {
                throw SheetRefused::shelfMissing($place);
            }
        }
        if (null === $shelf) {
            $shelf = new Shelf($this->freeName($name ?? basename($root)), $root, $twin);
            $this->entities->persist($shelf);
        }
        $shelf->twinRoot = $twin;
        $shelf->remember($this->drives);
        $this->entities->flush();
        if (null === $known) {
            $this->sheets->shelfIsKnown($shelf);
        }

        return $shelf;
    }

    /**
     * A new shelf, chosen by looking: its folders are there already.
     *
     * @throws SheetRefused
     */
    public function add(string $name, string $root, ?string $twin): Shelf
    {
        $this->mustBeUsable($root, $twin);
        if (null !== $this->known(self::real($root))) {
            throw SheetRefused::shelfKnown($root);
        }

        return $this->at($root, $twin, [], '' === trim($name) ? null : mb_substr(trim($name), 0, 60));
    }

    /** @throws SheetRefused */
    public function change(Shelf $shelf, string $name, ?string $twin): void
    {
        $this->mustBeUsable($shelf->root, $twin);
        $twin = null === $twin ? null : self::real($twin);
        foreach ([$shelf->root, $twin] as $place) {
            if (null !== $place && !$this->isThere($shelf, $place)) {
                throw SheetRefused::shelfMissing($place);
            }
        }
        $this->mustBeApart($shelf->root, $twin, []);
        $name = mb_substr(trim($name), 0, 60);
        $shelf->name = '' === $name || $name === $shelf->name ? $shelf->name : $this->freeName($name);
        $shelf->twinRoot = $twin;
        $shelf->remember($this->drives);
        $this->entities->flush();
    }

    /** The shelf at a folder, by whatever path it is named; null where none is known. */
    public function known(string $root): ?Shelf
    {
        $real = self::real($root);
        foreach ($this->entities->getRepository(Shelf::class)->findAll() as $shelf) {
            if ($shelf->root === $root || self::real($shelf->root) === $real) {
                return $shelf;
            }
        }

        return null;
    }

    /**
     * Whether a shelf may lie here: not on a card, not among the system's or the program's own files, and shelf and
     * twin not one in the other.
     *
     * @param list<string> $cards roots of cards, beside those that are in
     *
     * @throws SheetRefused
     */
    public function mustBeApart(string $root, ?string $twin, array $cards): void
    {
        [$realRoot, $realTwin] = [self::real($root), null === $twin ? null : self::real($twin)];
        if (null !== $realTwin && (self::isWithin($realRoot, $realTwin) || self::isWithin($realTwin, $realRoot))) {
            throw $realRoot === $realTwin ? SheetRefused::sameTwin($root) : SheetRefused::twinInside($root, $realTwin);
        }
        $cards = array_map(
            self::real(...),
            [
                ...$cards,
                ...array_map(
                    static fn (Card $card): string => $card->root,
                    $this->entities->getRepository(Card::class)->findBy(['present' => true]),
                ),
                ...$this->cardsInBays(),
            ],
        );
        foreach (array_filter([$realRoot, $realTwin], is_string(...)) as $place) {
            foreach ($cards as $card) {
                if (self::isWithin($place, $card) || self::isOnItsDrive($place, $card)) {
                    throw SheetRefused::shelfOnCard($place);
                }
            }
            if ($this->isOfTheSystem($place)) {
                throw SheetRefused::shelfOfTheSystem($place);
            }
        }
    }

    /**
     * A drive may have been replaced by another one at its mount point; an empty folder of the computer's own disk is
     * none.
     */
    private function isThere(Shelf $shelf, string $place): bool
    {
        $known = $shelf->drives($this->drives);
        $drive = is_dir($place) ? $this->drives->holding($place) : null;

        return $known->has($place)
            || (null !== $drive && '/' !== $drive->point && $drive->point === ($known->known[$place]->point ?? null));
    }

    /** @throws SheetRefused */
    private function mustBeUsable(string $root, ?string $twin): void
    {
        foreach (array_filter([$root, $twin], is_string(...)) as $place) {
            if (!str_starts_with($place, '/') || !is_dir($place) || !is_writable($place)) {
                throw SheetRefused::shelfMissing($place);
            }
        }
    }

    private function isOfTheSystem(string $place): bool
    {
        $home = self::real($this->home);
        $own = array_map(static fn (string $folder): string => $home.'/'.$folder, self::OWN);
        $isAmongDrives = [] !== array_filter(
            self::DRIVES,
            static fn (string $folder): bool => self::isWithin($place, $folder),
        );
        $isOfSystem = !$isAmongDrives
            && [] !== array_filter(
                self::SYSTEM,
                static fn (string $folder): bool => self::isWithin($place, self::real($folder))
                    || self::isWithin($place, $folder),
            );

        return $isOfSystem
            || \in_array($place, self::TOPS, true)
            || self::isWithin($home, $place)
            || [] !== array_filter($own, static fn (string $folder): bool => self::isWithin($place, $folder));
    }

    /**
     * @return list<string> cards that lie in a bay and may not have been noticed yet: with the DCIM folder of DCF 2.0
     */
    private function cardsInBays(): array
    {
        $cards = [];
        foreach (explode(':', $this->bays ?? '') as $bay) {
            $found = '' === $bay ? false : glob(addcslashes($bay, '*?[]\\').'/*/[Dd][Cc][Ii][Mm]', \GLOB_ONLYDIR);
            array_push($cards, ...array_map(\dirname(...), false === $found ? [] : $found));
        }

        return $cards;
    }

    /** Whether a card that is a drive of its own is also mounted elsewhere, and the place lies there. */
    private static function isOnItsDrive(string $place, string $card): bool
    {
        $table = MountTable::now();
        $mount = $table->at($card);

        return null !== $mount
            && '/' === $mount->within
            && str_starts_with($mount->source, '/dev/')
            && $table->holding(self::nearest($place))?->device === $mount->device;
    }

    private static function isWithin(string $path, string $folder): bool
    {
        return str_starts_with(rtrim($path, '/').'/', rtrim($folder, '/').'/');
    }

    /** A path without links, dots and doubled slashes, also where its end is not there yet. */
    private static function real(string $path): string
    {
        clearstatcache();
        $path = '/'.implode(
            '/',
            array_filter(explode('/', $path), static fn (string $name): bool => '' !== $name && '.' !== $name),
        );
        $nearest = self::nearest($path);
        $real = realpath($nearest);

        $names = explode('/', trim(false === $real ? $nearest : $real, '/'));
        // what is not there is no link, so that two dots lead to the folder above it
        foreach (explode('/', substr($path, \strlen($nearest))) as $name) {
            '..' === $name ? array_pop($names) : $names[] = $name;
        }

        return '/'.implode('/', array_filter($names, static fn (string $name): bool => '' !== $name));
    }

    /** The path itself, or the nearest folder above it that is there. */
    private static function nearest(string $path): string
    {
        while ('/' !== $path && !file_exists($path)) {
            $path = \dirname($path);
        }

        return $path;
    }

    private function freeName(string $wanted): string
    {
        $repository = $this->entities->getRepository(Shelf::class);
        $name = $wanted;
        for ($n = 2; null !== $repository->findOneBy(['name' => $name]); ++$n) {
            $name = $wanted.' '.$n;
        }

        return $name;
    }
}
