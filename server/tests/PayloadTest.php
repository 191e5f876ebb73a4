<?php

declare(strict_types=1);

namespace Velvet\Server\Tests;

use PHPUnit\Framework\Attributes\TestWith;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\ControllerMetadata\ArgumentMetadata;
use Velvet\Core\Style\Kinds;
use Velvet\Server\Http\BadRequest;
use Velvet\Server\Http\Payload as Of;
use Velvet\Server\Http\Payload\PayloadResolver;

/** What a request's body must be, and the sentence for what is not: it names the member and what it must be. */
final class PayloadTest extends ServerTestCase
{
    /** @param class-string<Of\Payload> $class */
    #[TestWith([Of\NewSheet::class, '', 'The request’s body is not a JSON object.'])]
    #[TestWith([Of\NewSheet::class, '{}', '“cards” must be a list of whole numbers. Nothing was changed.'])]
    #[TestWith([
        Of\NewSheet::class,
        '{"cards":"all"}',
        '“cards” must be a list of whole numbers. Nothing was changed.',
    ])]
    #[TestWith([
        Of\NewSheet::class,
        '{"cards":["x"]}',
        '“cards” must be a list of whole numbers. Nothing was changed.',
    ])]
    #[TestWith([
        Of\NewSheet::class,
        '{"cards":[[1]]}',
        '“cards” must be a list of whole numbers. Nothing was changed.',
    ])]
    #[TestWith([Of\NewSheet::class, '{"cards":[]}', '“cards” must name one at least. Nothing was changed.'])]
    #[TestWith([Of\NewSheet::class, '{"cards":[1],"cord":1}', '“cord” is not known here. Nothing was changed.'])]
    #[TestWith([Of\SheetChange::class, '{"kinds":"gif"}', '“kinds” must be raw, jpeg or both. Nothing was changed.'])]
    #[TestWith([Of\SheetChange::class, '{"kinds":[]}', '“kinds” must be raw, jpeg or both. Nothing was changed.'])]
    #[TestWith([Of\SheetChange::class, '{"companions":1}', '“companions” must be true or false. Nothing was changed.'])]
    #[TestWith([Of\SheetChange::class, '{"style":5}', '“style” must be text. Nothing was changed.'])]
    #[TestWith([Of\SheetChange::class, '{"divide":5}', '“divide” must be an object. Nothing was changed.'])]
    #[TestWith([
        Of\SheetChange::class,
        '{"divide":{"by":"day","day_starts":4,"break_after":5}}',
        '“divide.day_starts” must be text. Nothing was changed.',
    ])]
    #[TestWith([
        Of\SheetChange::class,
        '{"divide":{"by":"day","day_starts":"04:00","break_after":0}}',
        '“divide.break_after” must be 1 minute at least. Nothing was changed.',
    ])]
    #[TestWith([
        Of\EntryChange::class,
        '{"addKeywords":["Quay"]}',
        '“addKeywords” is not known here. Nothing was changed.',
    ])]
    #[TestWith([
        Of\EntryChange::class,
        '{"add_keywords":[5]}',
        '“add_keywords” must be a list of texts. Nothing was changed.',
    ])]
    #[TestWith([
        Of\EntryChange::class,
        '{"dng":"maybe"}',
        '“dng” must be no, beside, instead or embed, or empty for what the style says. Nothing was changed.',
    ])]
    #[TestWith([
        Of\SheetEdit::class,
        '{"do":"leap"}',
        '“do” must be split, join, move, leave_out, take_back, clock, undo or redo. Nothing was changed.',
    ])]
    #[TestWith([
        Of\SheetEdit::class,
        '{"frame":5}',
        '“do” must be split, join, move, leave_out, take_back, clock, undo or redo. Nothing was changed.',
    ])]
    #[TestWith([Of\SheetEdit::class, '{"do":"split"}', '“frame” must be a whole number. Nothing was changed.'])]
    #[TestWith([
        Of\SheetEdit::class,
        '{"do":"split","frame":1.5}',
        '“frame” must be a whole number. Nothing was changed.',
    ])]
    #[TestWith([
        Of\AsideChange::class,
        '{"do":"delete","files":1.5}',
        '“files” must be a whole number. Nothing was changed.',
    ])]
    #[TestWith([
        Of\Judgements::class,
        '{"judgements":[{"stars":2.5}]}',
        '“judgements[0].stars” must be a whole number. Nothing was changed.',
    ])]
    #[TestWith([Of\SheetEdit::class, '{"do":"undo","frame":1}', '“frame” is not known here. Nothing was changed.'])]
    #[TestWith([
        Of\SelectionChange::class,
        '{"rating":6}',
        '“rating” must be a number from 0 to 5. Nothing was changed.',
    ])]
    #[TestWith([
        Of\SelectionChange::class,
        '{"texts":{"colour":"red"}}',
        '“texts” must be texts by the names of fields. Nothing was changed.',
    ])]
    #[TestWith([
        Of\SelectionChange::class,
        '{"texts":{"title":5}}',
        '“texts” must be an object of texts. Nothing was changed.',
    ])]
    #[TestWith([
        Of\KeywordMerge::class,
        '{"into":2147483648}',
        'The request holds the character NUL, or a number that is too large. Nothing was changed.',
    ])]
    public function testWhatIsNotUnderstoodIsNamed(string $class, string $body, string $sentence): void
    {
        try {
            $this->read($class, $body);
            self::fail('It was taken.');
        } catch (BadRequest $refusal) {
            self::assertSame($sentence, $refusal->getMessage());
        }
    }

    public function testWhatIsSaidIsTakenAndWhatIsNotStaysUnsaid(): void
    {
        self::assertEquals(new Of\NewSheet([3, 1]), $this->read(Of\NewSheet::class, '{"cards":[3,1]}'));
        self::assertEquals(
            new Of\SheetChange(kinds: Kinds::Raw, companions: false),
            $this->read(Of\SheetChange::class, '{"kinds":"raw","companions":false,"style":null}'),
        );
        self::assertEquals(
            new Of\EntryChange(name: 'Kiln', addKeywords: ['Places > Quay'], into: 0),
            $this->read(Of\EntryChange::class, '{"name":"Kiln","add_keywords":["Places > Quay"],"into":0}'),
        );
        self::assertEquals(new Of\Undo(), $this->read(Of\SheetEdit::class, '{"do":"undo"}'));
        self::assertEquals(
            new Of\Move(null, [5]),
            $this->read(Of\SheetEdit::class, '{"do":"move","frames":[5],"to":null}'),
        );
        self::assertEquals(
            new Of\SelectionChange(texts: ['title' => 'Kiln'], rating: 5),
            $this->read(Of\SelectionChange::class, '{"texts":{"title":"Kiln"},"rating":5}'),
        );
    }

    /** @param class-string $class */
    private function read(string $class, string $body): object
    {
        $request = Request::create('/api', 'POST', content: $body);
        [$payload] = $this->get(PayloadResolver::class)
            ->resolve($request, new ArgumentMetadata('asked', $class, false, false, null));

        return $payload;
    }
}
