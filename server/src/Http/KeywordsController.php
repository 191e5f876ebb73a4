<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Symfony\Component\HttpFoundation\HeaderUtils;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpFoundation\Response;
use Symfony\Component\Routing\Attribute\Route;
use Velvet\Core\Keyword\Keyword;
use Velvet\Core\Keyword\KeywordList;
use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Keyword\KeywordTree;
use Velvet\Server\Http\Payload\KeywordChange;
use Velvet\Server\Http\Payload\KeywordMerge;
use Velvet\Server\Http\Payload\NewKeyword;
use Velvet\Server\Work\Keywords\Keywords;
use Velvet\Server\Work\Metadata\KeywordEdits;

/** The catalogue of keywords. */
final readonly class KeywordsController
{
    private const MOST_SUGGESTIONS = 12;

    public function __construct(private Keywords $keywords, private KeywordEdits $edits)
    {
    }

    #[Route('/api/keywords', methods: ['GET'])]
    public function all(): JsonResponse
    {
        return new JsonResponse(self::catalogue($this->keywords->tree()));
    }

    /** Keywords that may be meant by what is being typed; the latest used where nothing is. */
    #[Route('/api/keywords/meant', methods: ['GET'])]
    public function meant(Request $request): JsonResponse
    {
        $tree = $this->keywords->tree();

        return new JsonResponse(
            [
                'keywords' => array_map(
                    static fn (array $found): array => [
                        'path' => $tree->path($found[0]->id)->text(),
                        'by' => $found[1],
                        'private' => $found[0]->private,
                    ],
                    $tree->meantBy($request->query->getString('by'), self::MOST_SUGGESTIONS),
                ),
            ],
        );
    }

    #[Route('/api/keywords', methods: ['POST'])]
    public function add(NewKeyword $new): JsonResponse
    {
        $this->keywords->ids([KeywordPath::typed($new->path)]);

        return new JsonResponse(self::catalogue($this->keywords->tree()), 201);
    }

    #[Route('/api/keywords/{id<\d+>}', methods: ['PATCH'])]
    public function change(int $id, KeywordChange $change): JsonResponse
    {
        $this->mustBeThere($id);
        $now = $this->keywords->about([$id])->get($id);
        $this->edits->change(new Keyword(
            $id,
            match ($change->above) {
                null => $now->above,
                '' => null,
                default => $this->keywords->ids([KeywordPath::typed($change->above)])[0],
            },
            null === $change->name ? $now->name : KeywordPath::name($change->name),
            $change->heading ?? $now->heading,
            $change->private ?? $now->private,
            $change->withAbove ?? $now->withAbove,
            null === $change->synonyms ? $now->synonyms : array_map(KeywordPath::name(...), $change->synonyms),
        ));

        return new JsonResponse(self::catalogue($this->keywords->tree()));
    }

    #[Route('/api/keywords/{id<\d+>}/merge', methods: ['POST'])]
    public function merge(int $id, KeywordMerge $merge): JsonResponse
    {
        $this->mustBeThere($id);
        $this->mustBeThere($merge->into);
        $this->edits->merge($id, $merge->into);

        return new JsonResponse(self::catalogue($this->keywords->tree()));
    }

    #[Route('/api/keywords/{id<\d+>}', methods: ['DELETE'])]
    public function delete(int $id): JsonResponse
    {
        $this->mustBeThere($id);
        $this->edits->delete($id);

        return new JsonResponse(self::catalogue($this->keywords->tree()));
    }

    /** The body is the file; its name tells the format. */
    #[Route('/api/keywords/import', methods: ['POST'])]
    public function import(Request $request): JsonResponse
    {
        $list = KeywordList::read(basename($request->query->getString('name', 'keywords.txt')), $request->getContent());
        $added = $this->edits->import($list);

        return new JsonResponse(
            [
                'added' => $added,
                'read' => \count($list->keywords),
                'problems' => $list->problems,
            ] + self::catalogue($this->keywords->tree()),
        );
    }

    #[Route('/api/keywords/export.{format<txt|csv>}', methods: ['GET'])]
    public function export(string $format): Response
    {
        $tree = $this->keywords->tree();

        return new Response('csv' === $format ? KeywordList::toCsv($tree) : KeywordList::toText($tree), 200, [
            'Content-Type' => 'csv' === $format
                ? 'text/csv; charset=utf-8; header=present'
                : 'text/plain; charset=utf-8',
            'Content-Disposition' => HeaderUtils::makeDisposition(
                HeaderUtils::DISPOSITION_ATTACHMENT,
                'keywords.'.$format,
            ),
        ]);
    }

    private function mustBeThere(int $id): void
    {
        if (!$this->keywords->about([$id])->has($id)) {
            throw NotThere::keyword($id);
        }
    }

    /** @return array{keywords: list<array<string, mixed>>} in the order of their names, each above those beneath it */
    private static function catalogue(KeywordTree $tree): array
    {
        return ['keywords' => array_map(static fn (Keyword $keyword): array => [
            'id' => $keyword->id, 'above' => $keyword->above, 'name' => $keyword->name,
            'path' => $tree->path($keyword->id)->text(), 'heading' => $keyword->heading, 'private' => $keyword->private,
            'with_above' => $keyword->withAbove, 'synonyms' => $keyword->synonyms, 'frames' => $keyword->uses,
        ], $tree->inOrder())];
    }
}
