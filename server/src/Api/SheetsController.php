<?php

declare(strict_types=1);

namespace Velvet\Server\Api;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Velvet\Server\Entity\Card;
use Velvet\Server\Entity\Intake;
use Velvet\Server\Entity\Shelf;
use Velvet\Server\Intakes\Intakes;
use Velvet\Server\Sheets\Sheets;
use Velvet\Server\Sheets\SheetView;
use Velvet\Server\Style\HouseStyle;

final readonly class SheetsController
{
    private const MOST_FRAMES = 500;

    public function __construct(private EntityManagerInterface $entities, private Sheets $sheets, private SheetView $view, private Intakes $intakes, private HouseStyle $style)
    {
    }

    #[Route('/api/sheets', methods: ['POST'])]
    public function open(Request $request): JsonResponse
    {
        $cards = array_map(
            fn (int $id): Card => $this->entities->find(Card::class, $id) ?? throw NotThere::card($id),
            Body::of($request)->ints('cards'),
        );
        $sheet = $this->sheets->open($cards, $this->style->division());

        return new JsonResponse(['id' => $sheet->id()], 201, ['Location' => '/api/sheets/'.$sheet->id()]);
    }

    #[Route('/api/sheets/{id<\d+>}', methods: ['GET'])]
    public function show(int $id): JsonResponse
    {
        return new JsonResponse($this->view->of($this->sheet($id)));
    }

    #[Route('/api/sheets/{id<\d+>}', methods: ['PATCH'])]
    public function change(int $id, Request $request): JsonResponse
    {
        $shelfId = Body::of($request)->int('shelf');
        $sheet = $this->sheet($id);
        $this->sheets->shelve($sheet, $this->entities->find(Shelf::class, $shelfId) ?? throw NotThere::shelf($shelfId));

        return new JsonResponse($this->view->of($sheet));
    }

    #[Route('/api/sheets/{id<\d+>}/entries/{number<\d+>}', methods: ['PATCH'])]
    public function name(int $id, int $number, Request $request): JsonResponse
    {
        $sheet = $this->sheet($id);
        $this->sheets->name($sheet, $number, Body::of($request)->text('name'));

        return new JsonResponse($this->view->of($sheet));
    }

    #[Route('/api/sheets/{id<\d+>}/entries/{number<\d+>}/frames', methods: ['GET'])]
    public function frames(int $id, int $number, Request $request): JsonResponse
    {
        $offset = max(0, $request->query->getInt('offset'));
        $limit = min(self::MOST_FRAMES, max(1, $request->query->getInt('limit', 100)));

        return new JsonResponse(['frames' => $this->view->framesOf($this->sheet($id), $number, $offset, $limit)]);
    }

    #[Route('/api/sheets/{id<\d+>}/tape', methods: ['GET'])]
    public function tape(int $id): JsonResponse
    {
        return new JsonResponse(['entries' => $this->view->tape($this->sheet($id))]);
    }

    #[Route('/api/sheets/{id<\d+>}/{order<copy|pause|resume|stop|retry>}', methods: ['POST'])]
    public function order(int $id, string $order): JsonResponse
    {
        $sheet = $this->sheet($id);
        match ($order) {
            'copy' => $this->intakes->start($sheet),
            'pause' => $this->intakes->pause($sheet),
            'resume' => $this->intakes->resume($sheet),
            'stop' => $this->intakes->stop($sheet),
            default => $this->intakes->retry($sheet),
        };

        return new JsonResponse($this->view->of($sheet), 202);
    }

    private function sheet(int $id): Intake
    {
        return $this->entities->find(Intake::class, $id) ?? throw NotThere::sheet($id);
    }
}
