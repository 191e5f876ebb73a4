<?php

declare(strict_types=1);

namespace Velvet\Server\Console;

use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Exception\InvalidArgumentException;
use Symfony\Component\Console\Input\InputArgument;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Velvet\Core\Style\HouseStyle;
use Velvet\Core\Style\StyleRefused;
use Velvet\Server\Store\NoSuchStyle;
use Velvet\Server\Store\Styles;

#[AsCommand('velvet:style', 'Lists, shows, imports and exports house styles.')]
final class StyleCommand extends Command
{
    public function __construct(private readonly Styles $styles)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addArgument('what', InputArgument::REQUIRED, 'list, show, import or export')
            ->addArgument('which', InputArgument::OPTIONAL, 'the name of a style; for import, a file')
            ->addOption('json', null, InputOption::VALUE_NONE, 'one JSON document instead of text');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $say = new Say($output);
        $json = true === $input->getOption('json');
        $which = $input->getArgument('which');
        if ('list' !== $input->getArgument('what') && !\is_string($which)) {
            throw new InvalidArgumentException('Say which: the name of a style, or the file to import.');
        }
        $which = \is_string($which) ? $which : '';
        try {
            switch ($input->getArgument('what')) {
                case 'list':
                    $this->list($say, $json);
                    break;
                case 'show':
                case 'export':
                    $style = $this->styles->named($which);
                    $json ? $say->json($style->toArray()) : $say->line(rtrim(StyleFile::json($style)));
                    break;
                case 'import':
                    $style = StyleFile::read($say->absolute($which));
                    $this->styles->save($style);
                    $json
                        ? $say->json($style->toArray())
                        : $say->line(\sprintf('The house style “%s” is there.', $style->name));
                    break;
                default:
                    throw new InvalidArgumentException('There are: list, show NAME, import FILE, export NAME.');
            }
        } catch (NoSuchStyle|StyleRefused $e) {
            return $say->refusal($e->getMessage(), $json);
        }

        return Command::SUCCESS;
    }

    private function list(Say $say, bool $json): void
    {
        $standard = $this->styles->standard()->name;
        $styles = $this->styles->all();
        if ($json) {
            $say->json(
                [
                    'styles' => array_map(
                        static fn (HouseStyle $style): array => [
                            'name' => $style->name,
                            'standard' => $style->name === $standard,
                        ],
                        $styles,
                    ),
                ],
            );

            return;
        }
        foreach ($styles as $style) {
            $say->line($style->name.($style->name === $standard ? '  (standard)' : ''));
        }
    }
}
