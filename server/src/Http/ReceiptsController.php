<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Symfony\Component\HttpFoundation\HeaderUtils;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\Receipts;
use Velvet\Server\Work\Receipts\ReceiptFormat;

final readonly class ReceiptsController
{
    public function __construct(
        private EntityManagerInterface $entities,
        private Receipts $receipts,
        private ClockInterface $clock,
    ) {
    }

    /**
     * The receipt as a file: of the whole intake, or, for checksum lists, of one entry, with paths as they are in its
     * shoot's folder.
     */
    #[Route('/api/sheets/{id<\d+>}/receipt.{format<xxh128|sha256|b2|mhl|csv|json>}', methods: ['GET'])]
    public function receipt(int $id, string $format, Request $request): Response
    {
        $intake = $this->entities->find(Intake::class, $id) ?? throw NotThere::sheet($id);
        $below = '';
        $number = $request->query->getInt('entry');
        if ($number > 0) {
            foreach ($intake->entries as $entry) {
                $below = $entry->number === $number ? $entry->folder ?? '' : $below;
            }
        }
        $format = ReceiptFormat::from($format);

        $receipt = $format->of(
            $this->receipts->ofIntake($id),
            $this->clock->now(),
            $below,
            $this->receipts->seal($id),
        );

        return new Response($receipt, 200, [
            'Content-Type' => $format->mediaType(),
            'Content-Disposition' => HeaderUtils::makeDisposition(
                HeaderUtils::DISPOSITION_ATTACHMENT,
                \sprintf('intake-%d%s.%s', $id, $number > 0 ? '-entry-'.$number : '', $format->value),
            ),
        ]);
    }
}
