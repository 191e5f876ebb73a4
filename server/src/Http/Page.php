<?php

declare(strict_types=1);

namespace Velvet\Server\Http;

use Symfony\Component\HttpFoundation\Request;

/** Which part of a long list is asked for. */
final readonly class Page
{
    private const MOST = 500;
    private const USUAL = 100;
    /** Behind every list there is: places in it are 32 bits wide. */
    private const FARTHEST = 2_147_483_647;

    /**
     * @param int<0, max> $offset
     * @param int<1, max> $limit
     */
    private function __construct(public int $offset, public int $limit)
    {
    }

    public static function of(Request $request): self
    {
        return new self(
            max(0, min(self::FARTHEST, $request->query->getInt('offset'))),
            max(1, min(self::MOST, $request->query->getInt('limit', self::USUAL))),
        );
    }

    /**
     * The ids that a list is asked for, written `7,8,12`.
     *
     * @return list<int>
     *
     * @throws BadRequest
     */
    public static function ids(Request $request, string $member): array
    {
        $text = $request->query->getString($member);
        if (1 !== preg_match('/^\d{1,18}(,\d{1,18}){0,499}$/D', $text)) {
            throw BadRequest::member($member, 'must be at most 500 ids with commas between');
        }

        return array_map(intval(...), explode(',', $text));
    }
}
