<?php

declare(strict_types=1);

namespace Velvet\Core\Style;

use Velvet\Core\Bytes\SecondDigest;
use Velvet\Core\Card\FileKind;
use Velvet\Core\Keyword\KeywordPath;
use Velvet\Core\Keyword\KeywordRefused;
use Velvet\Core\Metadata\Field;
use Velvet\Core\Metadata\FieldText;
use Velvet\Core\Metadata\Metadata;
use Velvet\Core\Naming\FolderPattern;
use Velvet\Core\Naming\LetterCase;
use Velvet\Core\Naming\NamePattern;
use Velvet\Core\Naming\PatternRefused;
use Velvet\Core\Naming\Piece;
use Velvet\Core\Naming\PieceKind;
use Velvet\Core\Naming\PortableName;
use Velvet\Core\Shoot\DayBoundary;
use Velvet\Core\Shoot\DivideBy;
use Velvet\Core\Shoot\Division;
use Velvet\Core\Shoot\NotATimeOfDay;
use Velvet\Core\Shoot\SequenceKind;

/**
 * A named set of rules: how frames are divided, what folders and files are called, what comes along. As a document:
 * `docs/house-style.schema.json`.
 */
final readonly class HouseStyle
{
    public const STANDARD = 'Standard';
    private const LONGEST_NAME = 80;
    private const MOST_FOLDERS = 40;
    private const RUNS = [
        'time_lapse' => SequenceKind::Interval,
        'bracket' => SequenceKind::Bracket,
        'burst' => SequenceKind::Burst,
    ];

    /**
     * @param NamePattern|null $movieFile of movies and sound of their own; null: as all others
     * @param bool             $companions whether movies and sound are copied, those of pictures and those of their own
     * @param bool             $loose      whether files of no frame are copied
     */
    private function __construct(
        public string $name,
        public Division $division,
        public FolderPattern $folder,
        public NamePattern $file,
        public ?NamePattern $movieFile,
        public LetterCase $extension,
        public Subfolders $subfolders,
        public string $initials,
        public Kinds $kinds,
        public bool $companions,
        public bool $loose,
        public Pairs $pairs,
        public Ties $ties,
        public CopyRules $copies,
        public MetadataRules $metadata,
        public DngChoice $dng,
    ) {
    }

    /** The style there is from the beginning. */
    public static function standard(): self
    {
        return self::fromArray([
            'name' => self::STANDARD,
            'folder' => [
                [['piece' => 'shoot_day', 'format' => 'yyyy']],
                [
                    ['piece' => 'shoot_day', 'format' => 'yyyy-MM-dd'],
                    ['piece' => 'text', 'text' => ' '],
                    ['piece' => 'shoot_name'],
                ],
            ],
            'file' => [
                ['piece' => 'shoot_day', 'format' => 'yyyy-MM-dd'], ['piece' => 'text', 'text' => '_'],
                ['piece' => 'shoot_name', 'case' => 'lower', 'blanks' => 'hyphen'],
                ['piece' => 'text', 'text' => '_'], ['piece' => 'counter', 'width' => 4],
            ],
        ]);
    }

    /**
     * From a document as the schema describes it. What is left out is as in the standard style.
     *
     * @throws StyleRefused
     */
    public static function fromArray(mixed $document): self
    {
        if (!\is_array($document)) {
            throw StyleRefused::notAnObject();
        }
        $known = [
            '$schema', 'name', 'divide', 'folder', 'file', 'extension', 'subfolders', 'initials', 'take', 'metadata',
            'copies', 'dng', 'ties', 'movie_file',
        ];
        foreach (array_keys($document) as $member) {
            if (!\in_array($member, $known, true)) {
                throw StyleRefused::at((string) $member, 'there is no such rule.');
            }
        }
        $name = self::text($document, 'name', '');
        if ('' === trim($name) || mb_strlen($name) > self::LONGEST_NAME) {
            throw StyleRefused::at('name', 'a style needs a name of 80 letters at most.');
        }
        $subfolders = self::members(
            $document,
            'subfolders',
            ['raw', 'jpeg', 'movie', 'loose', 'time_lapse', 'bracket', 'burst', 'skeleton', 'stages'],
        );
        $take = self::members($document, 'take', ['kinds', 'companions', 'loose', 'pairs']);
        $copies = self::members($document, 'copies', ['second_digest', 'manifests']);
        $ties = self::members($document, 'ties', ['cameras', 'cards', 'shelves']);

        return new self(
            trim($name),
            self::division(self::members($document, 'divide', ['by', 'day_starts', 'break_after'])),
            self::folder($document['folder'] ?? null),
            self::pattern('file', $document['file'] ?? null, NamePattern::ofFiles(...)),
            null === ($document['movie_file'] ?? null)
                ? null
                : self::pattern('movie_file', $document['movie_file'], NamePattern::ofFiles(...)),
            LetterCase::tryFrom(
                self::text($document, 'extension', 'lower'),
            ) ?? throw StyleRefused::at('extension', 'it is kept, lower or upper.'),
            new Subfolders(
                self::subfolder('subfolders.raw', $subfolders['raw'] ?? null),
                self::subfolder('subfolders.jpeg', $subfolders['jpeg'] ?? null),
                self::subfolder('subfolders.movie', $subfolders['movie'] ?? null),
                self::subfolder('subfolders.loose', $subfolders['loose'] ?? null) ?? Subfolders::LOOSE,
                self::runFolders($subfolders),
                self::skeleton($subfolders['skeleton'] ?? []),
                self::texts('subfolders.stages', $subfolders['stages'] ?? []),
            ),
            mb_substr(self::text($document, 'initials', ''), 0, 20),
            Kinds::tryFrom(self::text($take, 'kinds', 'both')) ?? throw StyleRefused::at(
                'take.kinds',
                'it is raw, jpeg or both.',
            ),
            false !== ($take['companions'] ?? true),
            false !== ($take['loose'] ?? true),
            Pairs::called(self::text($take, 'pairs', Pairs::Jpeg->value)) ?? throw StyleRefused::at(
                'take.pairs',
                'it is raw, jpeg or apart.',
            ),
            new Ties(
                self::texts('ties.cameras', $ties['cameras'] ?? []),
                self::texts('ties.cards', $ties['cards'] ?? []),
                self::texts('ties.shelves', $ties['shelves'] ?? []),
            ),
            new CopyRules(
                null === ($copies['second_digest'] ?? null)
                    ? null
                    : SecondDigest::tryFrom(self::text($copies, 'second_digest', '')) ?? throw StyleRefused::at(
                        'copies.second_digest',
                        'it is sha256, blake2b or null for none.',
                    ),
                true === ($copies['manifests'] ?? false),
            ),
            self::metadata(self::members(
                $document,
                'metadata',
                ['texts', 'keywords', 'runs', 'rights', 'sidecars', 'writes_struck'],
            )),
            DngChoice::tryFrom(self::text($document, 'dng', 'no')) ?? throw StyleRefused::at(
                'dng',
                'it is no, beside, instead or embed.',
            ),
        );
    }

    /** @return array<string, mixed> the whole document */
    public function toArray(): array
    {
        return [
            'name' => $this->name,
            'divide' => [
                'by' => $this->division->by->value,
                'day_starts' => $this->division->boundary->text(),
                'break_after' => $this->division->breakAfterMinutes,
            ],
            'folder' => array_map(static fn (NamePattern $level): array => $level->toArray(), $this->folder->levels),
            'file' => $this->file->toArray(),
            'movie_file' => $this->movieFile?->toArray(),
            'extension' => $this->extension->value,
            'subfolders' => [
                'raw' => $this->subfolders->raw,
                'jpeg' => $this->subfolders->jpeg,
                'movie' => $this->subfolders->movie,
                'loose' => $this->subfolders->loose,
            ] + array_map(
                fn (SequenceKind $kind): ?string => $this->subfolders->runs[$kind->name] ?? null,
                self::RUNS,
            ) + ['skeleton' => $this->subfolders->skeleton, 'stages' => $this->subfolders->stages],
            'initials' => $this->initials,
            'take' => [
                'kinds' => $this->kinds->value,
                'companions' => $this->companions,
                'loose' => $this->loose,
                'pairs' => $this->pairs->value,
            ],
            'metadata' => [
                'texts' => self::textsToArray($this->metadata->texts),
                'keywords' => array_map(
                    static fn (KeywordPath $path): string => $path->text(),
                    $this->metadata->keywords,
                ),
                'runs' => array_map(
                    fn (SequenceKind $kind): string => ($this->metadata->runs[$kind->name] ?? null)?->text() ?? '',
                    self::RUNS,
                ),
                'rights' => array_map(
                    static fn (string|int $name, array $texts): array => [
                        'name' => (string) $name,
                        'texts' => self::textsToArray($texts),
                    ],
                    array_keys($this->metadata->rights),
                    $this->metadata->rights,
                ),
                'sidecars' => $this->metadata->sidecars->value,
                'writes_struck' => $this->metadata->writesStruck,
            ],
            'copies' => ['second_digest' => $this->copies->second?->value, 'manifests' => $this->copies->manifests],
            'dng' => $this->dng->value,
            'ties' => [
                'cameras' => $this->ties->cameras,
                'cards' => $this->ties->cards,
                'shelves' => $this->ties->shelves,
            ],
        ];
    }

    public function called(string $name): self
    {
        return self::fromArray(['name' => $name] + $this->toArray());
    }

    /** The same style with the choices of the day in place of its own. */
    public function today(
        ?Division $division = null,
        ?Kinds $kinds = null,
        ?bool $companions = null,
        ?MetadataRules $metadata = null,
        ?DngChoice $dng = null,
    ): self {
        return new self(
            $this->name, $division ?? $this->division, $this->folder, $this->file, $this->movieFile, $this->extension,
            $this->subfolders,
            $this->initials, $kinds ?? $this->kinds, $companions ?? $this->companions, $this->loose,
            $this->pairs,
            $this->ties, $this->copies,
            $metadata ?? $this->metadata, $dng ?? $this->dng,
        );
    }

    /** The pattern for the files of a frame, by the kind of the file that stands for it. */
    public function fileOf(FileKind $leading): NamePattern
    {
        return $leading->isMovieOrSound() ? $this->movieFile ?? $this->file : $this->file;
    }

    /** Whether runs matter to names or folders. */
    public function asksForRuns(): bool
    {
        return [] !== $this->subfolders->runs || [] !== $this->metadata->runs || $this->says(PieceKind::Sequence);
    }

    /** Whether some pattern says this. An entry must have a name only where one does. */
    public function says(PieceKind $kind): bool
    {
        return $this->folder->says($kind) || $this->file->says($kind) || true === $this->movieFile?->says($kind);
    }

    /** @param array<mixed> $rule */
    private static function metadata(array $rule): MetadataRules
    {
        $runs = $rule['runs'] ?? [];
        if (!\is_array($runs) || [] !== array_diff(array_keys($runs), array_keys(self::RUNS))) {
            throw StyleRefused::at('metadata.runs', 'it has keywords for time_lapse, bracket and burst.');
        }
        $ofRuns = [];
        foreach (self::RUNS as $member => $kind) {
            foreach (self::keywords('metadata.runs.'.$member, [self::text($runs, $member, '')]) as $path) {
                $ofRuns[$kind->name] = $path;
            }
        }
        $sets = $rule['rights'] ?? [];
        if (!\is_array($sets) || !array_is_list($sets)) {
            throw StyleRefused::at('metadata.rights', 'it is a list of sets, each with a name and texts.');
        }
        $rights = [];
        foreach ($sets as $n => $set) {
            $where = 'metadata.rights, '.($n + 1);
            $name = \is_array($set) && \is_string($set['name'] ?? null) ? trim(Metadata::clean($set['name'])) : '';
            if (!\is_array($set) || '' === $name || isset($rights[$name])) {
                throw StyleRefused::at($where, 'it needs a name of its own.');
            }
            $rights[$name] = self::fieldTexts($where.'.texts', $set['texts'] ?? []);
        }

        return new MetadataRules(
            self::fieldTexts('metadata.texts', $rule['texts'] ?? []),
            self::keywords('metadata.keywords', self::texts('metadata.keywords', $rule['keywords'] ?? [])),
            $ofRuns,
            $rights,
            SidecarName::tryFrom(self::text($rule, 'sidecars', SidecarName::Stem->value)) ?? throw StyleRefused::at(
                'metadata.sidecars',
                'it is stem for name.xmp, or whole for name.ext.xmp.',
            ),
            true === ($rule['writes_struck'] ?? false),
        );
    }

    /** @return array<string, FieldText> by the value of their {@see Field} */
    private static function fieldTexts(string $where, mixed $wanted): array
    {
        if (!\is_array($wanted) || !array_is_list($wanted)) {
            throw StyleRefused::at($where, 'it is a list of fields with their pieces.');
        }
        $texts = [];
        foreach ($wanted as $n => $text) {
            $at = $where.', '.($n + 1);
            $field = \is_array($text) && \is_string($text['field'] ?? null) ? Field::tryFrom($text['field']) : null;
            if (!\is_array($text) || null === $field || !$field->isTyped() || isset($texts[$field->value])) {
                throw StyleRefused::at($at, 'there is no such field, or it is there twice.');
            }
            $texts[$field->value] = self::pattern($at, $text['pieces'] ?? null, FieldText::of(...));
        }

        return $texts;
    }

    /**
     * @param array<string, FieldText> $texts
     *
     * @return list<array{field: string, pieces: list<array<string, string|int>>}>
     */
    private static function textsToArray(array $texts): array
    {
        return array_map(
            static fn (string $field, FieldText $text): array => ['field' => $field, 'pieces' => $text->toArray()],
            array_keys($texts),
            $texts,
        );
    }

    /**
     * @param list<string> $texts
     *
     * @return list<KeywordPath> each once; blanks are passed over
     */
    private static function keywords(string $where, array $texts): array
    {
        $keywords = [];
        foreach ($texts as $text) {
            if ('' === trim($text)) {
                continue;
            }
            try {
                $path = KeywordPath::typed($text);
            } catch (KeywordRefused $e) {
                throw StyleRefused::at($where, $e->getMessage());
            }
            $keywords[$path->key()] ??= $path;
        }

        return array_values($keywords);
    }

    /** @param array<mixed> $rule */
    private static function division(array $rule): Division
    {
        try {
            $boundary = DayBoundary::at(self::text($rule, 'day_starts', '04:00'));
        } catch (NotATimeOfDay $e) {
            throw StyleRefused::at('divide.day_starts', $e->getMessage());
        }
        $pause = $rule['break_after'] ?? null;
        if (null !== $pause && (!\is_int($pause) || $pause < 1 || $pause > 100_000)) {
            throw StyleRefused::at('divide.break_after', 'it is a number of minutes, or null for never.');
        }

        return new Division(
            $boundary,
            $pause,
            DivideBy::tryFrom(self::text($rule, 'by', 'day')) ?? throw StyleRefused::at(
                'divide.by',
                'it is day, pause, camera or nothing.',
            ),
        );
    }

    private static function folder(mixed $levels): FolderPattern
    {
        if (!\is_array($levels) || !array_is_list($levels)) {
            throw StyleRefused::at('folder', 'it is a list of levels, each a list of pieces.');
        }
        $patterns = [];
        foreach ($levels as $n => $level) {
            $patterns[] = self::pattern('folder, level '.($n + 1), $level, NamePattern::ofFolder(...));
        }
        try {
            return FolderPattern::of($patterns);
        } catch (PatternRefused $e) {
            throw StyleRefused::at('folder', $e->getMessage());
        }
    }

    /**
     * @template T of NamePattern|FieldText
     *
     * @param \Closure(list<Piece>): T $make
     *
     * @return T
     */
    private static function pattern(string $where, mixed $pieces, \Closure $make): NamePattern|FieldText
    {
        if (!\is_array($pieces) || !array_is_list($pieces)) {
            throw StyleRefused::at($where, 'it is a list of pieces.');
        }
        $made = [];
        foreach ($pieces as $n => $piece) {
            try {
                $made[] = Piece::fromArray(\is_array($piece) ? $piece : []);
            } catch (PatternRefused $e) {
                throw StyleRefused::at(\sprintf('%s, piece %d', $where, $n + 1), $e->getMessage());
            }
        }
        try {
            return $make($made);
        } catch (PatternRefused $e) {
            throw StyleRefused::at($where, $e->getMessage());
        }
    }

    /**
     * @param array<mixed> $subfolders
     *
     * @return array<string, string> by the name of the kind
     */
    private static function runFolders(array $subfolders): array
    {
        $folders = array_map(
            static fn (string $member): ?string => self::subfolder('subfolders.'.$member, $subfolders[$member] ?? null),
            array_combine(array_keys(self::RUNS), array_keys(self::RUNS)),
        );
        $named = [];
        foreach (array_filter($folders, is_string(...)) as $member => $folder) {
            $named[self::RUNS[$member]->name] = $folder;
        }

        return $named;
    }

    private static function subfolder(string $where, mixed $folder): ?string
    {
        if (null === $folder) {
            return null;
        }
        $name = \is_string($folder) ? PortableName::readable($folder) : '';
        if ('' === $name || $name !== $folder) {
            throw StyleRefused::at(
                $where,
                \sprintf(
                    '“%s” cannot be the name of a folder everywhere%s.',
                    \is_string($folder) ? $folder : '',
                    '' === $name ? '' : ', but “'.$name.'” can',
                ),
            );
        }

        return $name;
    }

    /** @return list<string> */
    private static function skeleton(mixed $paths): array
    {
        $paths = self::texts('subfolders.skeleton', $paths);
        if (\count($paths) > self::MOST_FOLDERS) {
            throw StyleRefused::at('subfolders.skeleton', \sprintf('%d folders at most.', self::MOST_FOLDERS));
        }
        foreach ($paths as $path) {
            foreach (explode('/', $path) as $name) {
                self::subfolder('subfolders.skeleton', $name);
            }
        }

        return $paths;
    }

    /** @return list<string> */
    private static function texts(string $where, mixed $texts): array
    {
        $kept = \is_array($texts) && array_is_list($texts) ? array_values(array_filter($texts, is_string(...))) : null;
        if (null === $kept || $kept !== $texts) {
            throw StyleRefused::at($where, 'it is a list of texts.');
        }

        return $kept;
    }

    /** @param array<mixed> $members */
    private static function text(array $members, string $name, string $else): string
    {
        $value = $members[$name] ?? $else;

        return \is_string($value) ? $value : throw StyleRefused::at($name, 'it is a text.');
    }

    /**
     * @param array<mixed> $document
     * @param list<string> $known
     *
     * @return array<mixed>
     */
    private static function members(array $document, string $name, array $known): array
    {
        $members = $document[$name] ?? [];
        if (!\is_array($members)) {
            throw StyleRefused::at($name, 'it is an object.');
        }
        foreach (array_keys($members) as $member) {
            if (!\in_array($member, $known, true)) {
                throw StyleRefused::at($name.'.'.$member, 'there is no such rule.');
            }
        }

        return $members;
    }
}
