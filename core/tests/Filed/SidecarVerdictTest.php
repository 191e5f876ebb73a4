<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Filed;

use PHPUnit\Framework\Attributes\TestWith;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Filed\SidecarVerdict;
use Velvet\Core\Filed\Verdict;
use Velvet\Core\Filed\VerdictsUnreadable;
use Velvet\Core\Tests\TemporaryFolder;

/** `xmp:Rating` is -1 for rejected, 0 for unrated, 1 to 5 (ISO 16684-1, 8.4). */
final class SidecarVerdictTest extends TestCase
{
    use TemporaryFolder;

    #[TestWith(['<xmp:Rating>-1</xmp:Rating>', Verdict::Struck, null, null])]
    #[TestWith(['<xmp:Rating>0</xmp:Rating>', null, 0, null])]
    #[TestWith(['<xmp:Rating>5</xmp:Rating><xmp:Label>Quay</xmp:Label>', null, 5, 'Quay'])]
    #[TestWith(['<xmp:Rating>99</xmp:Rating>', null, null, null])]
    #[TestWith(['<xmp:CreatorTool>another</xmp:CreatorTool>', null, null, null])]
    public function testWhatItSays(string $says, ?Verdict $verdict, ?int $stars, ?string $label): void
    {
        $said = SidecarVerdict::read($this->sidecar($says));
        self::assertSame([$verdict, $stars, $label], [$said->verdict, $said->stars, $said->label]);
        self::assertSame([null, null, null] !== [$verdict, $stars, $label], $said->saysAnything());
    }

    public function testWhatIsNoSidecarIsNamed(): void
    {
        file_put_contents($this->folder.'/broken.xmp', 'no packet');
        foreach (['broken' => 'it is no XMP', 'gone' => 'it cannot be read'] as $name => $why) {
            $path = "{$this->folder}/$name.xmp";
            try {
                SidecarVerdict::read($path);
                self::fail('It was read.');
            } catch (VerdictsUnreadable $e) {
                self::assertSame("{$path} was not taken in: {$why}. Its frame stays as it is.", $e->getMessage());
            }
        }
    }

    private function sidecar(string $says): string
    {
        $path = $this->folder.'/T0001.xmp';
        file_put_contents($path, '<x:xmpmeta xmlns:x="adobe:ns:meta/">'
            .'<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">'
            .'<rdf:Description rdf:about="" xmlns:xmp="http://ns.adobe.com/xap/1.0/">'.$says
            .'</rdf:Description></rdf:RDF></x:xmpmeta>');

        return $path;
    }
}
