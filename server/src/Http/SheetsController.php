<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Doctrine\ORM\EntityManagerInterface;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\Routing\Attribute\Route;
use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Style\DngChoice;
use Velvet\Server\Http\Payload\EntryChange;
use Velvet\Server\Http\Payload\NewSheet;
use Velvet\Server\Http\Payload\SheetChange;
use Velvet\Server\Http\Payload\SheetEdit;
use Velvet\Server\Store\AnsweredEdits;
use Velvet\Server\Store\Card;
use Velvet\Server\Store\Intake;
use Velvet\Server\Store\Lock;
use Velvet\Server\Store\Locks;
use Velvet\Server\Store\Shelf;
use Velvet\Server\Store\Shoot;
use Velvet\Server\Store\Styles;
use Velvet\Server\Store\Transaction;
use Velvet\Server\Work\Intakes\Intakes;
use Velvet\Server\Work\Sheets\SheetEdits;
use Velvet\Server\Work\Sheets\Sheets;
use Velvet\Server\Work\Sheets\Witnesses;

final readonly class SheetsController
{
    public function __construct(
        private EntityManagerInterface $entities,
        private Sheets $sheets,
        private SheetEdits $edits,
        private SheetView $view,
        private Intakes $intakes,
        private Styles $styles,
        private Witnesses $witnesses,
        private OtherFiles $others,
        private Locks $locks,
        private Transaction $transaction,
        private AnsweredEdits $answered,
    ) {
    }

    #[Route('/api/sheets', methods: ['POST'])]
    public function open(NewSheet $new): JsonResponse
    {
        $cards = array_map(
            fn (int $id): Card => $this->entities->find(Card::class, $id) ?? throw NotThere::card($id),
            $new->cards,
        );
        $sheet = $this->sheets->open($cards);

        return new JsonResponse(['id' => $sheet->id()], 201, ['Location' => '/api/sheets/'.$sheet->id()]);
    }

    #[Route('/api/sheets/{id<\d+>}', methods: ['GET'])]
    public function show(int $id): JsonResponse
    {
        return new JsonResponse(
            $this->transaction->ofReading(fn (): array => $this->view->of($this->sheet($id))),
        );
    }

    /** What holds for the whole sheet: its shelf, its style, how it is divided, what comes along. */
    #[Route('/api/sheets/{id<\d+>}', methods: ['PATCH'])]
    public function change(int $id, SheetChange $change, Request $request): JsonResponse
    {
        return $this->once($id, $request, function (Intake $sheet) use ($change): void {
            $this->follow($sheet, $change);
        });
    }

    private function follow(Intake $sheet, SheetChange $change): void
    {
        if (null !== $change->shelf) {
            $this->edits->shelve(
                $sheet,
                $this->entities->find(Shelf::class, $change->shelf) ?? throw NotThere::shelf($change->shelf),
            );
        }
        if (null !== $change->style) {
            $this->edits->follow($sheet, $this->styles->named($change->style));
        }
        if (null !== $change->divide) {
            $this->edits->divideBy($sheet, $change->divide->division());
        }
        if (null !== $change->kinds || null !== $change->companions) {
            $this->edits->take($sheet, $change->kinds ?? $sheet->kinds, $change->companions ?? $sheet->companions);
        }
    }

    /** The entry where this frame lies: its number may be another by now than a page knows. */
    #[Route('/api/sheets/{id<\d+>}/frames/{frame<\d+>}/entry', methods: ['PATCH'])]
    public function changeEntry(int $id, int $frame, EntryChange $change, Request $request): JsonResponse
    {
        return $this->once($id, $request, function (Intake $sheet) use ($frame, $change): void {
            $this->say($sheet, $frame, $change);
        });
    }

    private function say(Intake $sheet, int $frame, EntryChange $change): void
    {
        $number = $this->edits->entryWith($sheet, $frame);
        if ([] !== $change->words()) {
            $this->edits->name($sheet, $number, $change->words());
        }
        if (null !== $change->strays) {
            $this->edits->setStraysAside($sheet, $number, $change->strays);
        }
        if (null !== $change->description) {
            $this->edits->describe($sheet, $number, $change->description);
        }
        if (null !== $change->rights) {
            $this->edits->claim($sheet, $number, $change->rights);
        }
        if (null !== $change->dng) {
            $this->edits->convert($sheet, $number, DngChoice::tryFrom($change->dng));
        }
        if (null !== $change->addKeywords || null !== $change->removeKeywords) {
            $this->edits->tag(
                $sheet,
                $number,
                array_map(KeywordPath::typed(...), $change->addKeywords ?? []),
                array_map(KeywordPath::typed(...), $change->removeKeywords ?? []),
            );
        }
        if (null !== $change->into) {
            $this->edits->fileInto($sheet, $number, 0 === $change->into
                ? null
                : $this->entities->find(Shoot::class, $change->into) ?? throw NotThere::shoot($change->into));
        }
    }

    /** One edit by hand. */
    #[Route('/api/sheets/{id<\d+>}/edits', methods: ['POST'])]
    public function edit(int $id, SheetEdit $edit, Request $request): JsonResponse
    {
        return $this->once($id, $request, function (Intake $sheet) use ($edit): void {
            $edit->apply($this->edits, $sheet);
        });
    }

    /**
     * Edits a sheet; where it is asked for under a key (IETF draft, The Idempotency-Key HTTP Header Field), not a
     * second time.
     *
     * @param \Closure(Intake): void $edit
     */
    private function once(int $id, Request $request, \Closure $edit): JsonResponse
    {
        $sheet = $this->alone($id);
        $key = $request->headers->get('Idempotency-Key');
        if (null === $key) {
            $edit($sheet);
        } else {
            $this->answered->once($sheet, $key, static function () use ($edit, $sheet): void {
                $edit($sheet);
            });
        }

        return $this->edited($sheet);
    }

    #[Route('/api/sheets/{id<\d+>}/entries/{number<\d+>}/frames', methods: ['GET'])]
    public function frames(int $id, int $number, Request $request): JsonResponse
    {
        $page = Page::of($request);

        return new JsonResponse($this->transaction->ofReading(fn (): array => [
            'frames' => $this->view->framesOf($this->sheet($id), $number, $page->offset, $page->limit),
        ]));
    }

    /** Frames of a sheet that is being planned, wherever they lie on it by now. */
    #[Route('/api/sheets/{id<\d+>}/frames', methods: ['GET'])]
    public function framesById(int $id, Request $request): JsonResponse
    {
        $ids = Page::ids($request, 'of');

        return new JsonResponse($this->transaction->ofReading(
            fn (): array => ['frames' => $this->view->framesById($this->sheet($id), $ids)],
        ));
    }

    #[Route('/api/sheets/{id<\d+>}/entries/{number<\d+>}/groups', methods: ['GET'])]
    public function groups(int $id, int $number): JsonResponse
    {
        return new JsonResponse(['groups' => $this->view->groups($this->sheet($id), $number)]);
    }

    #[Route('/api/sheets/{id<\d+>}/entries/{number<\d+>}/says', methods: ['GET'])]
    public function says(int $id, int $number): JsonResponse
    {
        return new JsonResponse($this->view->says($this->sheet($id), $number));
    }

    #[Route('/api/sheets/{id<\d+>}/witness', methods: ['GET'])]
    public function witness(int $id): JsonResponse
    {
        return new JsonResponse(['pairs' => $this->witnesses->of($this->sheet($id))]);
    }

    #[Route('/api/sheets/{id<\d+>}/others', methods: ['GET'])]
    public function others(int $id): JsonResponse
    {
        return new JsonResponse(['files' => $this->others->of($this->sheet($id))]);
    }

    #[Route('/api/sheets/{id<\d+>}/tape', methods: ['GET'])]
    public function tape(int $id): JsonResponse
    {
        return new JsonResponse($this->transaction->ofReading(function () use ($id): array {
            $sheet = $this->sheet($id);

            return ['revision' => $sheet->revision, 'entries' => $this->view->tape($sheet)];
        }));
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

    /**
     * The sheet as it is when nobody else edits it: two pages may have it open. The lock ends with the request's
     * connection.
     */
    private function alone(int $id): Intake
    {
        $this->locks->take(Lock::Sheet, $id);

        return $this->sheet($id);
    }

    /** What an edit did: the page asks for the sheet itself when its last edit is answered. */
    private function edited(Intake $sheet): JsonResponse
    {
        return new JsonResponse(['revision' => $sheet->revision, 'history' => $this->edits->history($sheet)]);
    }

    private function sheet(int $id): Intake
    {
        return $this->entities->find(Intake::class, $id) ?? throw NotThere::sheet($id);
    }
}
