<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use Velvet\Server\Http\OtherFiles;
use Velvet\Server\Work\Cards\CardClearance;

/**
 * A card of every kind of file that cameras, phones and computers leave on cards. An oracle that knows nothing of the
 * program walks it afterwards: every byte is in both places, or the file is housekeeping by name, or the card must not
 * be cleared.
 */
final class EveryFileTest extends ServerTestCase
{
    /** Names that cameras and computers give; their content is no more than a beginning, or none that is known. */
    private const NAMES = [
        'DCIM/100/T0001.3FR', 'DCIM/100/T0002.ARW', 'DCIM/100/T0003.CR2', 'DCIM/100/T0004.CR3', 'DCIM/100/T0005.CRW',
        'DCIM/100/T0006.DCR', 'DCIM/100/T0007.ERF', 'DCIM/100/T0008.FFF', 'DCIM/100/T0009.GPR', 'DCIM/100/T0010.IIQ',
        'DCIM/100/T0011.KDC', 'DCIM/100/T0012.MEF', 'DCIM/100/T0013.MOS', 'DCIM/100/T0014.MRW', 'DCIM/100/T0015.NEF',
        'DCIM/100/T0016.NRW', 'DCIM/100/T0017.ORF', 'DCIM/100/T0018.PEF', 'DCIM/100/T0019.RAF', 'DCIM/100/T0020.RW2',
        'DCIM/100/T0021.RWL', 'DCIM/100/T0022.SR2', 'DCIM/100/T0023.SRF', 'DCIM/100/T0024.SRW', 'DCIM/100/T0025.X3F',
        'DCIM/100/T0026.DNG', 'DCIM/100/T0027.HEIC', 'DCIM/100/T0028.HIF', 'DCIM/100/T0029.AVIF', 'DCIM/100/T0030.JXL',
        'DCIM/100/T0031.JP2', 'DCIM/100/T0032.MPO', 'DCIM/100/T0033.PNG', 'DCIM/100/T0034.WEBP', 'DCIM/100/T0035.GIF',
        'DCIM/100/T0036.BMP', 'DCIM/100/T0037.TIF', 'DCIM/100/T0038.PSD', 'DCIM/100/T0039.INSP',
        'DCIM/100/M0040.MOV', 'DCIM/100/M0041.MP4', 'DCIM/100/M0042.M4V', 'DCIM/100/M0043.AVI', 'DCIM/100/M0044.MTS',
        'DCIM/100/M0045.M2TS', 'DCIM/100/M0046.3GP', 'DCIM/100/M0047.MXF', 'DCIM/100/M0048.MPG', 'DCIM/100/M0049.CRM',
        'DCIM/100/M0050.NEV', 'DCIM/100/M0051.BRAW', 'DCIM/100/M0052.R3D', 'DCIM/100/M0053.INSV', 'DCIM/100/M0054.360',
        'DCIM/100/M0055.LRV', 'DCIM/100/M0056.MKV', 'DCIM/100/M0057.WMV', 'DCIM/100/A0058.WAV', 'DCIM/100/A0059.MP3',
        'DCIM/100/A0060.M4A', 'DCIM/100/A0061.AAC', 'DCIM/100/A0062.FLAC', 'DCIM/100/A0063.OGG',
        'ACTION/GX010012.MP4', 'ACTION/GX020012.MP4', 'ACTION/GL010012.LRV', 'ACTION/GX010012.THM',
        'PRIVATE/M4ROOT/CLIP/C0001.MP4', 'PRIVATE/M4ROOT/CLIP/C0001M01.XML', 'PRIVATE/M4ROOT/SUB/C0001S03.MP4',
        'PRIVATE/M4ROOT/THMBNL/C0001T01.JPG', 'PRIVATE/AVCHD/BDMV/INDEX.BDM', 'PRIVATE/AVCHD/BDMV/STREAM/00000.MTS',
        'PRIVATE/AVCHD/BDMV/CLIPINF/00000.CPI', 'PRIVATE/AVCHD/BDMV/PLAYLIST/00000.MPL',
        'DCIM/100/T0001.XMP', 'DCIM/100/T0002.ARW.xmp', 'DCIM/100/T0003.PP3', 'DCIM/100/LOST.XMP', 'DCIM/100/M0100.CTG',
        'DCIM/100/.hidden', 'DCIM/100/no extension', 'MISC/HERON5.SET', 'LOST.DIR/7', 'notes.txt', 'Thumbs.db',
        'backup.zip', 'FOUND.000/FILE0000.CHK', '.Trashes/501/T0070.JPG', 'DCIM/100/T0071.JPG ',
        'DCIM/100/T0072.jpg.part',
    ];
    /** What is housekeeping is so by name and content. */
    private const HOUSEKEEPING = [
        'MISC/AUTPRINT.MRK' => '[HDR]', '.DS_Store' => "\0\0\0\1Bud1",
        'System Volume Information/WPSettings.dat' => "\x0C\0\0\0", 'DCIM/100/._T0001.JPG' => "\0\x05\x16\x07\0\2",
        '.nomedia' => '',
    ];
    /** Content that says what the name does not. */
    private const BEGINNINGS = [
        'Misc/IMG_0002.JPG' => "\xFF\xD8\xFF\xE0", '.hidden/a' => "\x89PNG", 'DCIM/100/T0090' => "II*\0",
        'DCIM/100/T0091.BIN' => "\0\0\0\x18ftypmp42", 'DCIM/100/T0092.DAT' => "RIFF\4\0\0\0WAVE",
        'DCIM/100/T0093.TMP' => "\0\0\0\x18ftypheic",
    ];

    public function testEveryByteIsFiledOrTheCardIsNotCleared(): void
    {
        $this->shot('DCIM/100/T0100.JPG', '2026:05:02 19:31:40');
        foreach (self::NAMES as $name) {
            $this->file('card/'.$name, $name.random_bytes(700));
        }
        foreach (self::BEGINNINGS as $name => $begins) {
            $this->file('card/'.$name, $begins.$name.random_bytes(700));
        }
        foreach (self::HOUSEKEEPING as $name => $content) {
            $this->file('card/'.$name, $content);
        }
        exec('find '.escapeshellarg($this->folder.'/card').' -type f -exec touch -d 2026-05-02T19:31:41Z {} +');
        $intake = $this->takeIn();
        $clearance = $this->get(CardClearance::class)->of($intake->cards[0] ?? self::fail('No card.'), true);
        $told = [];
        foreach ($this->get(OtherFiles::class)->of($intake) as $file) {
            $told[$file['path']] = $file['fate'];
        }
        [$shelf, $twin] = [$this->contents('shelf'), $this->contents('twin')];
        $lost = $table = [];
        foreach ($this->tree('card') as $path) {
            $digest = (string) hash_file('sha256', $this->folder.'/card/'.$path);
            $isFiled = isset($shelf[$digest], $twin[$digest]);
            if (!$isFiled && !isset(self::HOUSEKEEPING[$path])) {
                $lost[] = $path;
            }
            $table[] = \sprintf(
                '%-40s %s',
                $path,
                $isFiled ? $shelf[$digest] : 'not copied: '.($told[$path] ?? 'nothing is said of it'),
            );
        }
        fwrite(\STDERR, "\n".implode("\n", $table)."\n");
        self::assertSame([], $lost);
        self::assertTrue($clearance->cleared, implode(' ', $clearance->missing));
        self::assertSame(
            [\count(self::HOUSEKEEPING), 0],
            [$clearance->housekeeping, $clearance->unknown],
        );
        self::assertEqualsCanonicalizing(
            array_keys(self::HOUSEKEEPING),
            array_keys($told, 'housekeeping', true),
            'it is said of each',
        );
        self::assertSame(['filed', 'housekeeping'], array_values(array_unique($this->sorted(array_values($told)))));
        foreach ($this->tree('shelf') as $path) {
            self::assertDoesNotMatchRegularExpression('~[. ](?:/|$)|(?:^|/)\.~', $path, 'a name for every system');
        }
    }

    /**
     * @param list<string> $words
     *
     * @return list<string>
     */
    private function sorted(array $words): array
    {
        sort($words);

        return $words;
    }

    /** @return array<string, string> paths by the digest (SHA-256) of their content */
    private function contents(string $root): array
    {
        $contents = [];
        foreach ($this->tree($root) as $path) {
            $contents[(string) hash_file('sha256', $this->folder.'/'.$root.'/'.$path)] = $path;
        }

        return $contents;
    }
}
