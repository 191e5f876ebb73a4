<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Exception\InvalidOptionException;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Keyword\KeywordRefused;
use Velvet\Core\Metadata\FieldText;
use Velvet\Core\Naming\Piece;
use Velvet\Core\Shoot\DayBoundary;
use Velvet\Core\Shoot\DivideBy;
use Velvet\Core\Shoot\Division;
use Velvet\Core\Shoot\NotATimeOfDay;
use Velvet\Core\Style\DngChoice;
use Velvet\Core\Style\HouseStyle;
use Velvet\Core\Style\Kinds;
use Velvet\Core\Style\StyleRefused;
use Velvet\Server\Store\NoSuchStyle;
use Velvet\Server\Store\Styles;

/** The options that `plan` and `intake` share. Options stand over the style for this run. */
final readonly class PlanOptions
{
    private function __construct(
        public string $path,
        public ?string $shelf,
        public ?string $twin,
        public string $name,
        public HouseStyle $style,
        public bool $json,
    ) {
    }

    public static function declare(Command $command): void
    {
        $command->addArgument('path', InputArgument::REQUIRED, 'the folder at which the card is mounted')
            ->addOption('shelf', null, InputOption::VALUE_REQUIRED, 'the root folder to file under')
            ->addOption('twin', null, InputOption::VALUE_REQUIRED, 'the root folder of the second copy')
            ->addOption('name', null, InputOption::VALUE_REQUIRED, 'the name of the shoot', '')
            ->addOption('style', null, InputOption::VALUE_REQUIRED, 'the house style: its name, or a file')
            ->addOption('day-starts', null, InputOption::VALUE_REQUIRED, 'when a day begins, as in 04:00')
            ->addOption(
                'break-after',
                null,
                InputOption::VALUE_REQUIRED,
                'minutes of pause that divide shoots, or never',
            )
            ->addOption('kinds', null, InputOption::VALUE_REQUIRED, 'raw, jpeg or both')
            ->addOption(
                'dng',
                null,
                InputOption::VALUE_REQUIRED,
                'whether raw files become DNG: no, beside, instead, or embed to keep the camera file within',
            )
            ->addOption('creator', null, InputOption::VALUE_REQUIRED, 'who made the pictures')
            ->addOption('copyright', null, InputOption::VALUE_REQUIRED, 'the copyright notice')
            ->addOption(
                'keyword',
                null,
                InputOption::VALUE_REQUIRED | InputOption::VALUE_IS_ARRAY,
                'a keyword for all frames; may be given several times',
            )
            ->addOption('json', null, InputOption::VALUE_NONE, 'one JSON document instead of text');
    }

    public static function from(InputInterface $input, Styles $styles, Say $say): self
    {
        $style = self::style(self::text($input, 'style'), $styles, $say);
        $standard = $style->division;
        try {
            $starts = self::text($input, 'day-starts');
            $boundary = null === $starts ? $standard->boundary : DayBoundary::at($starts);
        } catch (NotATimeOfDay $e) {
            throw new InvalidOptionException($e->getMessage(), $e->getCode(), $e);
        }
        $pause = self::text($input, 'break-after');
        if (null !== $pause && 'never' !== $pause && (1 !== preg_match('/^\d{1,6}$/', $pause) || (int) $pause < 1)) {
            throw new InvalidOptionException(
                \sprintf('“%s” is no number of minutes. Write minutes, as in 240, or never.', $pause),
            );
        }
        $minutes = null === $pause ? $standard->breakAfterMinutes : ('never' === $pause ? null : max(1, (int) $pause));
        $by = 'never' === $pause && DivideBy::Pause === $standard->by ? DivideBy::Day : $standard->by;
        $wanted = self::text($input, 'kinds');
        $kinds = null === $wanted
            ? null
            : Kinds::tryFrom($wanted) ?? throw new InvalidOptionException(
                \sprintf('“%s” is no choice of kinds. Write raw, jpeg or both.', $wanted),
            );
        $wanted = self::text($input, 'dng');
        $dng = null === $wanted
            ? null
            : DngChoice::tryFrom($wanted) ?? throw new InvalidOptionException(
                \sprintf('“%s” is no choice for DNG. Write no, beside, instead or embed.', $wanted),
            );
        $shelf = self::text($input, 'shelf');
        $twin = self::text($input, 'twin');

        return new self(
            $say->absolute($input->getArgument('path')),
            null === $shelf ? null : $say->absolute($shelf),
            null === $twin ? null : $say->absolute($twin),
            self::text($input, 'name') ?? '',
            $style->today(
                new Division($boundary, $minutes, $by),
                $kinds,
                metadata: $style->metadata->with(
                    self::fieldText($input, 'creator'),
                    self::fieldText($input, 'copyright'),
                    ...self::keywords($input),
                ),
                dng: $dng,
            ),
            true === $input->getOption('json'),
        );
    }

    /** A style by its name, or from a file. */
    private static function style(?string $named, Styles $styles, Say $say): HouseStyle
    {
        if (null === $named) {
            return $styles->standard();
        }
        try {
            return $styles->named($named);
        } catch (NoSuchStyle $e) {
            $file = $say->absolute($named);
            if (!is_file($file)) {
                throw new InvalidOptionException($e->getMessage(), $e->getCode(), $e);
            }
        }
        try {
            return StyleFile::read($file);
        } catch (StyleRefused $e) {
            throw new InvalidOptionException(\sprintf('%s: %s', $file, $e->getMessage()), $e->getCode(), $e);
        }
    }

    private static function fieldText(InputInterface $input, string $option): ?FieldText
    {
        $text = self::text($input, $option);

        return null === $text ? null : FieldText::of([Piece::text($text)]);
    }

    /** @return list<KeywordPath> */
    private static function keywords(InputInterface $input): array
    {
        $given = $input->getOption('keyword');

        try {
            return array_map(
                KeywordPath::typed(...),
                array_values(
                    array_filter(
                        \is_array($given) ? $given : [],
                        static fn (mixed $keyword): bool => \is_string($keyword) && '' !== trim($keyword),
                    ),
                ),
            );
        } catch (KeywordRefused $e) {
            throw new InvalidOptionException($e->getMessage(), $e->getCode(), $e);
        }
    }

    private static function text(InputInterface $input, string $option): ?string
    {
        $value = $input->getOption($option);

        return \is_string($value) && '' !== trim($value) ? trim($value) : null;
    }
}
