<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Messenger\MessageBusInterface;
use Symfony\Component\Routing\Attribute\Route;
use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Style\DngChoice;
use Velvet\Server\Http\Payload\Conversion;
use Velvet\Server\Http\Payload\Judgements;
use Velvet\Server\Http\Payload\Selection;
use Velvet\Server\Http\Payload\SelectionChange;
use Velvet\Server\Http\Payload\SelectionConversion;
use Velvet\Server\Http\Payload\Settlement;
use Velvet\Server\Http\Payload\Version;
use Velvet\Server\Store\Custody;
use Velvet\Server\Store\Lot;
use Velvet\Server\Store\MeasuredPictures;
use Velvet\Server\Store\Shoots;
use Velvet\Server\Work\Dng\ShootRaws;
use Velvet\Server\Work\Metadata\LookAtShoot;
use Velvet\Server\Work\Metadata\OutsideChanges;
use Velvet\Server\Work\Metadata\ShootMetadata;
use Velvet\Server\Work\Metadata\WordsChange;

final readonly class ShootsController
{
    public function __construct(
        private ShootsView $view,
        private Custody $custody,
        private ShootMetadata $metadata,
        private OutsideChanges $outside,
        private MessageBusInterface $bus,
        private Shoots $shoots,
        private ShootRaws $raws,
        private MeasuredPictures $measured,
        private PassView $pass,
    ) {
    }

    #[Route('/api/shoots', methods: ['GET'])]
    public function all(): JsonResponse
    {
        return new JsonResponse(['shoots' => $this->view->all()]);
    }

    #[Route('/api/shoots/{id<\d+>}', methods: ['GET'])]
    public function show(int $id): JsonResponse
    {
        return new JsonResponse(
            ($this->view->one($id) ?? throw NotThere::shoot($id))
                + $this->metadata->history($id)
                + ['frame_ids' => $this->shoots->frameIds($id)],
        );
    }

    #[Route('/api/shoots/{id<\d+>}/frames', methods: ['GET'])]
    public function frames(int $id, Request $request): JsonResponse
    {
        $page = Page::of($request);
        $lot = Lot::tryFrom($request->query->getString('lot', Lot::InShoot->value))
            ?? throw BadRequest::member('lot', 'must be in_shoot, struck, set_aside or in_trash');

        return new JsonResponse(['frames' => $this->view->frames($id, $page->offset, $page->limit, $lot)]);
    }

    /** How bright its frames are, in the order of `frame_ids`. */
    #[Route('/api/shoots/{id<\d+>}/light', methods: ['GET'])]
    public function light(int $id): JsonResponse
    {
        $this->mustBeThere($id);

        return new JsonResponse(['light' => $this->measured->brightnessOf($id)]);
    }

    /** What the first look has of its frames. */
    #[Route('/api/shoots/{id<\d+>}/verdicts', methods: ['GET'])]
    public function verdicts(int $id): JsonResponse
    {
        $this->mustBeThere($id);

        return new JsonResponse($this->pass->of($id));
    }

    #[Route('/api/shoots/{id<\d+>}/verdicts', methods: ['PATCH'])]
    public function judge(int $id, Judgements $given): JsonResponse
    {
        $turns = [];
        foreach ($given->judgements as $judgement) {
            $frames = $this->meant($id, $judgement);
            $change = new WordsChange(
                rating: $judgement->stars,
                verdict: $judgement->verdict,
                struck: $judgement->struck,
                tabs: $judgement->tabs,
                untab: $judgement->untab,
                rotate: $judgement->rotate,
                by: $judgement->by,
                operation: $judgement->operation,
            );
            $turns[] = null !== $change->verdict || $change->isWritten() || $change->isOfTabs()
                ? $this->metadata->change($id, $frames, $change)
                : 0;
        }

        return $this->done($id, ...$turns);
    }

    /** Asks to look whether another program changed the files; what is found comes by the feed. */
    #[Route('/api/shoots/{id<\d+>}/look', methods: ['POST'])]
    public function look(int $id): Response
    {
        $this->mustBeThere($id);
        $this->bus->dispatch(new LookAtShoot($id));

        return new Response(status: 202);
    }

    /** What a selection of frames says; without `frames`, all of them. */
    #[Route('/api/shoots/{id<\d+>}/says', methods: ['POST'])]
    public function says(int $id, Selection $selection): JsonResponse
    {
        return new JsonResponse($this->metadata->of($id, $this->meant($id, $selection)));
    }

    #[Route('/api/shoots/{id<\d+>}/says', methods: ['PATCH'])]
    public function change(int $id, SelectionChange $change): JsonResponse
    {
        $frames = $this->meant($id, $change);
        $this->metadata->change($id, $frames, new WordsChange(
            $change->texts ?? [],
            array_map(KeywordPath::typed(...), $change->add ?? []),
            $change->remove ?? [],
            $change->rating,
        ));

        return new JsonResponse($this->metadata->of($id, $frames));
    }

    /** Which raw files of a selection can become DNG, and which lie within theirs. */
    #[Route('/api/shoots/{id<\d+>}/raws', methods: ['POST'])]
    public function raws(int $id, Selection $selection): JsonResponse
    {
        return new JsonResponse($this->raws->of($id, $this->meant($id, $selection)));
    }

    /** Converts them, or takes them out again, in the background. */
    #[Route('/api/shoots/{id<\d+>}/dng', methods: ['POST'])]
    public function convert(int $id, SelectionConversion $asked): JsonResponse
    {
        $frames = $this->meant($id, $asked);
        match ($asked->do) {
            Conversion::Beside => $this->raws->convert($id, $frames, DngChoice::Beside),
            Conversion::Embed => $this->raws->convert($id, $frames, DngChoice::Embed),
            Conversion::TakeOut => $this->raws->takeOut($id, $frames),
        };

        return new JsonResponse($this->raws->of($id, $frames), 202);
    }

    /** Undoes the last change of what frames of the shoot say. */
    #[Route('/api/shoots/{id<\d+>}/undo', methods: ['POST'])]
    public function undo(int $id): JsonResponse
    {
        $this->mustBeThere($id);

        return $this->done($id, $this->metadata->undo($id));
    }

    /** Makes again what was undone last. */
    #[Route('/api/shoots/{id<\d+>}/redo', methods: ['POST'])]
    public function redo(int $id): JsonResponse
    {
        $this->mustBeThere($id);

        return $this->done($id, $this->metadata->redo($id));
    }

    #[Route('/api/shoots/{id<\d+>}/outside', methods: ['GET'])]
    public function outside(int $id): JsonResponse
    {
        $this->mustBeThere($id);

        return new JsonResponse(['changes' => $this->outside->in($id)]);
    }

    /** Settles what another program changed in one file. */
    #[Route('/api/files/{id<\d+>}/outside', methods: ['POST'])]
    public function settle(int $id, Settlement $settlement): Response
    {
        match ($settlement->keep) {
            Version::Theirs => $this->outside->takeTheirs($id),
            Version::Ours => $this->outside->keepOurs($id),
        };

        return new Response(status: 204);
    }

    #[Route('/api/frames/{id<\d+>}/custody', methods: ['GET'])]
    public function custody(int $id): JsonResponse
    {
        $lines = $this->custody->ofFrame($id);

        return new JsonResponse(['lines' => [] === $lines ? throw NotThere::frame($id) : $lines]);
    }

    /** @param int ...$turns numbers of the changes that were made, in the order in which they were asked for */
    private function done(int $id, int ...$turns): JsonResponse
    {
        return new JsonResponse($this->metadata->history($id) + ['turns' => $turns]);
    }

    private function mustBeThere(int $id): void
    {
        if (!$this->shoots->has($id)) {
            throw NotThere::shoot($id);
        }
    }

    /** @return list<int> the frames that a request is about */
    private function meant(int $id, Selection $selection): array
    {
        $this->mustBeThere($id);

        if (null !== $selection->frames) {
            return $selection->frames;
        }
        $all = $this->shoots->frameIds($id);
        if (null !== $selection->of && \count($all) !== $selection->of) {
            throw ShootChanged::since($selection->of, \count($all));
        }

        return array_values(array_diff($all, $selection->except));
    }
}
