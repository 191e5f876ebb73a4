<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\Routing\Attribute\Route;
use Velvet\Server\Http\Payload\AsideChange;
use Velvet\Server\Store\AsideFrames;
use Velvet\Server\Store\Lot;
use Velvet\Server\Store\Shoots;
use Velvet\Server\Work\Aside\SettingAside;

/** Frames of a shoot that are set aside, or thrown away. */
final readonly class AsideController
{
    public function __construct(
        private Shoots $shoots,
        private AsideFrames $aside,
        private SettingAside $acts,
    ) {
    }

    #[Route('/api/shoots/{id<\d+>}/aside', methods: ['GET'])]
    public function show(int $id): JsonResponse
    {
        $this->mustBeThere($id);
        $of = fn (Lot $lot): array => $this->aside->sumOf($id, $lot) + [
            'frame_ids' => $this->shoots->frameIds($id, $lot),
        ];

        return new JsonResponse([
            'struck' => $of(Lot::Struck),
            'set_aside' => $of(Lot::SetAside),
            'in_trash' => $of(Lot::InTrash),
            'moving' => $this->aside->movingIn($id),
            'notes' => $this->aside->notes($id),
        ]);
    }

    /** The files follow in the background. */
    #[Route('/api/shoots/{id<\d+>}/aside', methods: ['POST'])]
    public function act(int $id, AsideChange $change): JsonResponse
    {
        $this->mustBeThere($id);
        $done = $this->acts->act($id, $change->do->leadsTo(), $change->frames, $change->files);

        return new JsonResponse($done->toArray(), 202);
    }

    private function mustBeThere(int $id): void
    {
        if (!$this->shoots->has($id)) {
            throw NotThere::shoot($id);
        }
    }
}
