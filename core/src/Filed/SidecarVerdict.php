<?php

declare(strict_types=1);

namespace Velvet\Core\Filed;

use Velvet\Core\Bytes\StructureBroken;
use Velvet\Core\Metadata\Field;
use Velvet\Core\Metadata\SidecarFile;

/**
 * What the sidecar of another program says of how good its frame is: `xmp:Rating`, of which -1 means rejected, and
 * `xmp:Label` (ISO 16684-1, 8.4).
 */
final readonly class SidecarVerdict
{
    private const MOST_BYTES = 16_000_000;

    /**
     * @param Verdict|null $verdict struck, or null where it says nothing of that
     * @param int|null     $stars   0 to 5; null where it gives none
     * @param string|null  $label   null where it has none
     */
    private function __construct(public ?Verdict $verdict, public ?int $stars, public ?string $label)
    {
    }

    /** @throws VerdictsUnreadable */
    public static function read(string $path): self
    {
        $packet = @file_get_contents($path, false, null, 0, self::MOST_BYTES + 1);
        if (false === $packet || \strlen($packet) > self::MOST_BYTES) {
            throw VerdictsUnreadable::sidecar($path, false === $packet ? 'it cannot be read' : 'it is too large');
        }
        try {
            $says = SidecarFile::said($packet);
        } catch (StructureBroken) {
            throw VerdictsUnreadable::sidecar($path, 'it is no XMP');
        }
        $rating = $says->rating;

        return new self(
            -1 === $rating ? Verdict::Struck : null,
            null !== $rating && $rating >= 0 && $rating <= 5 ? $rating : null,
            $says->texts[Field::Label->value] ?? null,
        );
    }

    public function saysAnything(): bool
    {
        return null !== $this->verdict || null !== $this->stars || null !== $this->label;
    }
}
