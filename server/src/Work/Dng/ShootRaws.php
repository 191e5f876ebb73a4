<?php

declare(strict_types=1);

namespace Velvet\Server\Work\Dng;

use Symfony\Component\Messenger\MessageBusInterface;
use Velvet\Core\Filed\FiledFile;
use Velvet\Core\Style\DngChoice;
use Velvet\Server\Store\FiledFiles;
use Velvet\Server\Store\FiledRaws;
use Velvet\Server\Store\Happenings;
use Velvet\Server\Store\Transaction;

/**
 * Of a selection of filed frames: which raw files can become DNG, and which lie within theirs; either is done in the
 * background.
 */
final readonly class ShootRaws
{
    public function __construct(
        private Transaction $transaction,
        private FiledFiles $files,
        private FiledRaws $raws,
        private MessageBusInterface $bus,
        private Happenings $happenings,
    ) {
    }

    /**
     * @param list<int> $frames
     *
     * @return array{raws: int, inside: int, made: int, waiting: int, refused: list<string>} raw files that can be
     *     converted, that lie within their DNGs, that are DNG, that wait for either; and why some were not
     */
    public function of(int $shoot, array $frames): array
    {
        return $this->raws->count($shoot, $frames);
    }

    /**
     * @param list<int> $frames
     * @param DngChoice $choice beside or embed: only at the intake the raw file is on its card as well
     */
    public function convert(int $shoot, array $frames, DngChoice $choice): void
    {
        \assert(DngChoice::Beside === $choice || DngChoice::Embed === $choice);
        $this->ask($this->raws->convertible($shoot, $frames), static function (FiledFile $file) use ($choice): bool {
            $may = $file->mayBecomeDng();
            if ($may) {
                $file->dngAsked($choice);
            }

            return $may;
        });
    }

    /** @param list<int> $frames */
    public function takeOut(int $shoot, array $frames): void
    {
        $this->ask($this->raws->withRawInside($shoot, $frames), static function (FiledFile $file): bool {
            $may = $file->mayGiveRawBack();
            if ($may) {
                $file->rawAskedBack();
            }

            return $may;
        });
    }

    /** Files that are still to be converted or taken out, those of intakes under way not counted. */
    public function left(): int
    {
        return $this->raws->left();
    }

    /**
     * @param list<int>                 $files
     * @param \Closure(FiledFile): bool $ask   whether it could be asked for
     */
    private function ask(array $files, \Closure $ask): void
    {
        $asked = $this->transaction->of(fn (): int => \count(
            array_filter($files, fn (int $file): bool => $this->files->change($file, $ask)),
        ));
        if ($asked > 0) {
            $this->bus->dispatch(new ConvertRaws());
            $this->happenings->tell('dng', ['intake' => null]);
        }
    }
}
