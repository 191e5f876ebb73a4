<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Velvet\Server\Http\Payload\CameraName;
use Velvet\Server\Http\Payload\Style;
use Velvet\Server\Store\CameraNames;
use Velvet\Server\Store\Styles;
use Velvet\Server\StyleDocument;

final readonly class StylesController
{
    public function __construct(private Styles $styles, private StyleView $view, private CameraNames $cameras)
    {
    }

    #[Route('/api/styles', methods: ['GET'])]
    public function all(): JsonResponse
    {
        return new JsonResponse($this->view->all());
    }

    /** How names would look under a style that is being edited; refused with a sentence where it could name nothing. */
    #[Route('/api/styles/samples', methods: ['POST'])]
    public function samples(Style $asked): JsonResponse
    {
        return new JsonResponse(
            ['samples' => $this->view->samples(StyleDocument::read($asked->style))],
        );
    }

    #[Route('/api/styles/{name}', methods: ['PUT'])]
    public function save(string $name, Style $asked): JsonResponse
    {
        $this->styles->save(StyleDocument::read($asked->style), $name);

        return $this->all();
    }

    #[Route('/api/styles', methods: ['POST'])]
    public function add(Style $asked): JsonResponse
    {
        $name = $this->styles->add(StyleDocument::read($asked->style));

        return new JsonResponse($this->view->all() + ['added' => $name], 201);
    }

    #[Route('/api/styles/{name}/standard', methods: ['POST'])]
    public function makeStandard(string $name): JsonResponse
    {
        $this->styles->makeStandard($this->styles->named($name));

        return $this->all();
    }

    #[Route('/api/styles/{name}', methods: ['DELETE'])]
    public function remove(string $name): JsonResponse
    {
        $this->styles->remove($this->styles->named($name));

        return $this->all();
    }

    #[Route('/api/cameras', methods: ['PUT'])]
    public function nameCamera(CameraName $given): Response
    {
        $this->cameras->give($given->camera, $given->name);

        return new Response(null, 204);
    }
}
