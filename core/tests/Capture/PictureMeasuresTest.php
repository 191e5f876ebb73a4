<?php

declare(strict_types=1);

namespace Velvet\Core\Tests\Capture;

use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Velvet\Core\Capture\PictureMeasures;

final class PictureMeasuresTest extends TestCase
{
    #[DataProvider('pictures')]
    public function testWhatAPictureLooksLike(string $grey, float $brightness, bool $black, bool $blown): void
    {
        $measures = PictureMeasures::of($grey);
        self::assertEqualsWithDelta($brightness, $measures->brightness, 0.005);
        self::assertSame([$black, $blown], [$measures->looksBlack(), $measures->looksBlownOut()]);
    }

    /** @return iterable<string, array{string, float, bool, bool}> */
    public static function pictures(): iterable
    {
        yield 'a lens cap' => [str_repeat("\3\5\2\7", 500), 0.017, true, false];
        yield 'a night with one lamp' => [str_repeat("\3", 1980).str_repeat("\xE0", 20), 0.02, false, false];
        yield 'middle grey' => [str_repeat("\x80", 900), 0.502, false, false];
        yield 'snow in the sun, half of it clipped' => [str_repeat("\xFF\xC0", 500), 0.876, false, true];
        yield 'white' => ["\xFF", 1.0, false, true];
    }

    public function testNothingIsNoPicture(): void
    {
        $this->expectException(\ValueError::class);
        PictureMeasures::of('');
    }
}
