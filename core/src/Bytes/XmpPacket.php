<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/**
 * An XMP packet (ISO 16684-1) that can be changed: what is not asked to change stays, in whatever namespace it is.
 * Nothing is fetched and no entity is expanded: a packet with a document type is refused.
 */
final class XmpPacket
{
    /** Bytes; more than any packet that was seen, less than a computer minds. */
    public const LONGEST = 32 * 1024 * 1024;
    /** Blank bytes behind the packet, so that other programs can change it in place (ISO 16684-1, 7.3.2: 2 to 4 KB). */
    private const PADDING = 2048;
    private const BEGIN = "<?xpacket begin=\"\u{FEFF}\" id=\"W5M0MpCehiHzreSzNTczkc9d\"?>";

    /** @var array<string, list<\DOMElement|\DOMAttr>>|null */
    private ?array $properties = null;

    private function __construct(private readonly \DOMDocument $document, private readonly \DOMElement $rdf)
    {
    }

    public static function fresh(): self
    {
        return self::read(
            \sprintf(
                '<x:xmpmeta xmlns:x="%s"><rdf:RDF xmlns:rdf="%s"><rdf:Description rdf:about=""/></rdf:RDF></x:xmpmeta>',
                Xmp::META,
                Xmp::RDF,
            ),
        );
    }

    /**
     * @param string $bytes UTF-8 or UTF-16, with or without the packet's wrapper
     *
     * @throws StructureBroken
     */
    public static function read(string $bytes): self
    {
        if (\strlen($bytes) > self::LONGEST) {
            throw StructureBroken::tooLong('its XMP packet', self::LONGEST);
        }
        $bytes = self::utf8($bytes);
        if (str_contains($bytes, '<!DOCTYPE') || str_contains($bytes, '<!ENTITY')) {
            throw StructureBroken::because('its XMP packet declares a document type, which XMP does not have');
        }
        $document = new \DOMDocument();
        $before = libxml_use_internal_errors(true);
        libxml_clear_errors();
        try {
            $isRead = '' !== trim($bytes) && $document->loadXML($bytes, \LIBXML_NONET | \LIBXML_COMPACT);
            $error = libxml_get_last_error();
        } finally {
            libxml_clear_errors();
            libxml_use_internal_errors($before);
        }
        if (!$isRead) {
            throw StructureBroken::packet(
                false === $error ? 1 : $error->line,
                false === $error ? 'it is empty' : $error->message,
            );
        }
        $rdf = $document->getElementsByTagNameNS(Xmp::RDF, 'RDF')->item(0);
        if (!$rdf instanceof \DOMElement) {
            throw StructureBroken::because('its XMP packet has no rdf:RDF element');
        }

        return new self($document, $rdf);
    }

    /** @param string $part of a structure: the name of its field */
    public function text(XmpForm $form, string $name, string $part = ''): ?string
    {
        return match ($form) {
            XmpForm::Text => $this->simple($name),
            XmpForm::Seq => null === ($list = $this->list($name)) || [] === $list ? null : implode('; ', $list),
            XmpForm::LangAlt => $this->defaultOf($name),
            default => $this->partOf($name, $part),
        };
    }

    /**
     * @param string $part of a structure: the name of its field
     * @param string $text empty takes the property out
     */
    public function set(XmpForm $form, string $name, string $part, string $text): void
    {
        match ($form) {
            XmpForm::Text => $this->setSimple($name, $text),
            XmpForm::Seq => $this->setList($name, '' === $text ? [] : [$text], 'Seq'),
            XmpForm::LangAlt => $this->setDefault($name, $text),
            default => $this->setPart($form, $name, $part, $text),
        };
    }

    public function simple(string $name): ?string
    {
        $node = $this->find($name);

        return null === $node
            ? null
            : ($node instanceof \DOMElement && [] !== $this->childrenOf($node) ? null : $node->nodeValue);
    }

    public function setSimple(string $name, string $text): void
    {
        $this->remove($name);
        if ('' !== $text) {
            $this->add($name)->appendChild($this->document->createTextNode($text));
        }
    }

    /** @return list<string>|null the items of an array; null where there is none */
    public function list(string $name): ?array
    {
        $node = $this->find($name);
        if (!$node instanceof \DOMElement) {
            return null === $node ? null : [(string) $node->nodeValue];
        }
        $items = [];
        foreach ($this->childrenOf($node) as $array) {
            foreach ($this->childrenOf($array) as $item) {
                $items[] = trim($item->textContent);
            }
        }
        // a program that writes one word as it stands (common practice) meant an array of one
        $plain = trim($node->textContent);

        return [] === $this->childrenOf($node) && '' !== $plain ? [$plain] : $items;
    }

    /**
     * @param list<string>           $items
     * @param 'Bag'|'Seq'            $kind
     */
    public function setList(string $name, array $items, string $kind): void
    {
        $this->remove($name);
        if ([] === $items) {
            return;
        }
        $array = $this->rdfElement($kind, $this->add($name));
        foreach ($items as $item) {
            $this->rdfElement('li', $array)->appendChild($this->document->createTextNode($item));
        }
    }

    /**
     * Nested keywords, as the Metadata Working Group's `mwg-kw:Keywords` (guidelines 2.0, 5.4.4, from memory).
     *
     * @param list<non-empty-list<string>> $paths outermost first
     */
    public function setKeywordPaths(array $paths): void
    {
        $this->remove('mwg-kw:Keywords');
        if ([] === $paths) {
            return;
        }
        $keywords = $this->add('mwg-kw:Keywords');
        $keywords->setAttributeNS(Xmp::RDF, 'rdf:parseType', 'Resource');
        $this->addKeywords($keywords, 'mwg-kw:Hierarchy', $paths);
    }

    /** @return list<non-empty-list<string>> the ends of the tree, outermost first */
    public function keywordPaths(): array
    {
        $node = $this->find('mwg-kw:Keywords');
        $hierarchy = $node instanceof \DOMElement
            ? $this->field($this->described($node), 'mwg-kw:Hierarchy')
            : null;

        return $hierarchy instanceof \DOMElement ? $this->pathsIn($hierarchy, []) : [];
    }

    /** An entry of the history (xmpMM:History), behind those that are there. */
    public function addHistory(string $action, string $when, string $agent, string $parameters): void
    {
        $node = $this->find('xmpMM:History');
        $sequence = $node instanceof \DOMElement ? ($this->childrenOf($node)[0] ?? null) : null;
        if (null === $sequence) {
            $this->remove('xmpMM:History');
            $sequence = $this->rdfElement('Seq', $this->add('xmpMM:History'));
        }
        $item = $this->rdfElement('li', $sequence);
        $item->setAttributeNS(Xmp::RDF, 'rdf:parseType', 'Resource');
        foreach ([
            'stEvt:action' => $action, 'stEvt:when' => $when, 'stEvt:softwareAgent' => $agent,
            'stEvt:parameters' => $parameters,
        ] as $name => $text) {
            $item->appendChild($this->element($name))->appendChild($this->document->createTextNode($text));
        }
    }

    /** Which file this one was made from (xmpMM:DerivedFrom; ISO 16684-1, 8.5), where nobody said so before. */
    public function derivedFrom(string $name): void
    {
        if (null === $this->find('xmpMM:DerivedFrom')) {
            $this->setPart(XmpForm::Part, 'xmpMM:DerivedFrom', 'stRef:filePath', $name);
        }
    }

    /** Takes over what another packet has and this one has not. */
    public function take(self $other): void
    {
        $home = $this->descriptions()[0] ?? $this->rdfElement('Description', $this->rdf);
        foreach ($other->descriptions() as $description) {
            foreach ([...$other->own($description), ...$other->childrenOf($description)] as $node) {
                $copy = $this->document->importNode($node, true);
                if ($copy instanceof \DOMAttr) {
                    $home->setAttributeNodeNS($copy);
                } elseif ($copy instanceof \DOMElement) {
                    $home->appendChild($copy);
                }
            }
        }
        $this->properties = null;
        $this->remove('xmpNote:HasExtendedXMP');
    }

    /** The packet without its wrapper. */
    public function xml(): string
    {
        $root = $this->document->documentElement;
        $xml = null === $root ? false : $this->document->saveXML($root);

        return false === $xml ? throw StructureBroken::because('its XMP packet cannot be written') : $xml;
    }

    /**
     * The packet in its wrapper, as UTF-8.
     *
     * @param int|null $room bytes of the place that it should fill, where it fits; null: no blanks behind it
     */
    public function bytes(?int $room = null): string
    {
        $end = '<?xpacket end="w"?>';
        $packet = self::BEGIN."\n".$this->xml()."\n";
        $blank = null === $room ? 0 : $room - \strlen($packet.$end);

        return $packet.self::blanks($blank >= 0 ? $blank : self::PADDING).$end;
    }

    private static function blanks(int $bytes): string
    {
        return substr(str_repeat(str_repeat(' ', 99)."\n", intdiv($bytes, 100) + 1), 0, $bytes);
    }

    /** @param non-empty-list<non-empty-list<string>> $paths */
    private function addKeywords(\DOMElement $parent, string $name, array $paths): void
    {
        $below = [];
        foreach ($paths as $path) {
            $below[$path[0]][] = \array_slice($path, 1);
        }
        $bag = $this->rdfElement('Bag', $this->append($parent, $name));
        foreach ($below as $word => $rests) {
            $item = $this->rdfElement('li', $bag);
            $item->setAttributeNS(Xmp::RDF, 'rdf:parseType', 'Resource');
            $this->append($item, 'mwg-kw:Keyword')->appendChild($this->document->createTextNode((string) $word));
            $children = array_values(array_filter($rests, static fn (array $rest): bool => [] !== $rest));
            if ([] !== $children) {
                if (\count($children) < \count($rests)) { // it is a keyword itself, not only on the way to others
                    $this->append($item, 'mwg-kw:Applied')->appendChild($this->document->createTextNode('True'));
                }
                $this->addKeywords($item, 'mwg-kw:Children', $children);
            }
        }
    }

    /**
     * @param list<string> $above
     *
     * @return list<non-empty-list<string>>
     */
    private function pathsIn(\DOMElement $hierarchy, array $above): array
    {
        $paths = [];
        foreach ($this->itemsOf($hierarchy) as $item) {
            $item = $this->described($item);
            $path = [...$above, (string) $this->field($item, 'mwg-kw:Keyword')?->textContent];
            $children = $this->field($item, 'mwg-kw:Children');
            $below = $children instanceof \DOMElement ? $this->pathsIn($children, $path) : [];
            // one with others beneath it counts where it is said to
            $isApplied = 'true' === strtolower(trim((string) $this->field($item, 'mwg-kw:Applied')?->textContent));
            array_push($paths, ...([] === $below || $isApplied ? [$path] : []), ...$below);
        }

        return $paths;
    }

    private function defaultOf(string $name): ?string
    {
        $node = $this->find($name);
        if (!$node instanceof \DOMElement) {
            return $node?->nodeValue;
        }
        $first = null;
        foreach ($this->itemsOf($node) as $item) {
            if ('x-default' === $item->getAttributeNS(Xmp::XML, 'lang')) {
                return $item->textContent;
            }
            $first ??= $item->textContent;
        }

        return $first;
    }

    private function setDefault(string $name, string $text): void
    {
        $node = $this->find($name);
        $others = [];
        foreach ($node instanceof \DOMElement ? $this->itemsOf($node) : [] as $item) {
            if ('x-default' !== $item->getAttributeNS(Xmp::XML, 'lang')) {
                $others[] = $item;
            }
        }
        $this->remove($name);
        if ('' === $text && [] === $others) {
            return;
        }
        $alt = $this->rdfElement('Alt', $this->add($name));
        if ('' !== $text) {
            $item = $this->rdfElement('li', $alt); // the default comes first
            $item->setAttributeNS(Xmp::XML, 'xml:lang', 'x-default');
            $item->appendChild($this->document->createTextNode($text));
        }
        foreach ($others as $other) {
            $alt->appendChild($other);
        }
    }

    private function partOf(string $name, string $part): ?string
    {
        $structure = $this->structure($name);

        return null === $structure ? null : $this->field($structure, $part)?->nodeValue;
    }

    private function setPart(XmpForm $form, string $name, string $part, string $text): void
    {
        $structure = $this->structure($name);
        if (null === $structure) {
            if ('' === $text) {
                return;
            }
            $this->remove($name);
            $structure = $this->add($name);
            if (XmpForm::Part !== $form) {
                $structure = $this->rdfElement(
                    'li',
                    $this->rdfElement(XmpForm::PartOfBag === $form ? 'Bag' : 'Seq', $structure),
                );
            }
            $structure->setAttributeNS(Xmp::RDF, 'rdf:parseType', 'Resource');
        }
        $old = $this->field($structure, $part);
        if ($old instanceof \DOMAttr) {
            $structure->removeAttributeNode($old);
        } elseif (null !== $old) {
            $structure->removeChild($old);
        }
        if ('' !== $text) {
            $this->append($structure, $part)->appendChild($this->document->createTextNode($text));
        } elseif ([] === $this->childrenOf($structure) && 0 === \count($this->own($structure))) {
            $this->remove($name);
        }
    }

    /**
     * The element that bears a structure's fields: the property itself, its rdf:Description, or the first item of its
     * array.
     */
    private function structure(string $name): ?\DOMElement
    {
        $node = $this->find($name);
        while ($node instanceof \DOMElement) {
            $child = $this->childrenOf($node)[0] ?? null;
            if (null === $child || Xmp::RDF !== $child->namespaceURI) {
                return null === $child
                    && 0 === \count($this->own($node))
                    && 'Resource' !== $node->getAttributeNS(Xmp::RDF, 'parseType')
                    ? null
                    : $node;
            }
            $node = $child;
        }

        return null;
    }

    /** The element that bears the fields: the one itself, or the rdf:Description within (RDF/XML, 2.5). */
    private function described(\DOMElement $element): \DOMElement
    {
        $child = $this->childrenOf($element)[0] ?? null;

        return Xmp::RDF === $child?->namespaceURI && 'Description' === $child->localName ? $child : $element;
    }

    /** @return list<\DOMAttr> attributes that are fields, not RDF's own */
    private function own(\DOMElement $element): array
    {
        $own = [];
        foreach ($element->attributes as $attribute) {
            if (
                !\in_array($attribute->namespaceURI, [Xmp::RDF, Xmp::XML, null], true)
            ) {
                $own[] = $attribute;
            }
        }

        return $own;
    }

    /** A structure's field, as an element or an attribute. */
    private function field(\DOMElement $structure, string $name): \DOMElement|\DOMAttr|null
    {
        [$namespace, $local] = [Xmp::namespaceOf($name), explode(':', $name)[1]];
        $attribute = $structure->getAttributeNodeNS($namespace, $local);
        if ($attribute instanceof \DOMAttr) {
            return $attribute;
        }
        foreach ($this->childrenOf($structure) as $child) {
            if ($child->namespaceURI === $namespace && $child->localName === $local) {
                return $child;
            }
        }

        return null;
    }

    /** A property, wherever it stands: in any of the packet's descriptions, as an element or an attribute. */
    private function find(string $name): \DOMElement|\DOMAttr|null
    {
        return $this->properties()[self::key($name)][0] ?? null;
    }

    private function remove(string $name): void
    {
        foreach ($this->properties()[self::key($name)] ?? [] as $node) {
            if ($node instanceof \DOMAttr) {
                $node->ownerElement?->removeAttributeNode($node);
            } else {
                $node->parentNode?->removeChild($node);
            }
        }
        unset($this->properties[self::key($name)]);
    }

    private function add(string $name): \DOMElement
    {
        $description = $this->descriptions()[0] ?? null;
        if (null === $description) {
            $description = $this->rdfElement('Description', $this->rdf);
            $description->setAttributeNS(Xmp::RDF, 'rdf:about', '');
        }
        $this->properties();
        $element = $this->append($description, $name);
        $this->properties[self::key($name)][] = $element;

        return $element;
    }

    /** @return array<string, list<\DOMElement|\DOMAttr>> all of them by namespace and name, looked up once */
    private function properties(): array
    {
        if (null === $this->properties) {
            $this->properties = [];
            foreach ($this->descriptions() as $description) {
                foreach ([...$this->own($description), ...$this->childrenOf($description)] as $node) {
                    $this->properties[$node->namespaceURI.' '.$node->localName][] = $node;
                }
            }
        }

        return $this->properties;
    }

    private static function key(string $name): string
    {
        return Xmp::namespaceOf($name).' '.substr($name, (int) strpos($name, ':') + 1);
    }

    private function append(\DOMElement $parent, string $name): \DOMElement
    {
        $element = $this->element($name);
        $parent->appendChild($element);

        return $element;
    }

    /** @return list<\DOMElement> */
    private function descriptions(): array
    {
        return array_values(
            array_filter(
                $this->childrenOf($this->rdf),
                static fn (\DOMElement $element): bool => Xmp::RDF === $element->namespaceURI
                    && 'Description' === $element->localName,
            ),
        );
    }

    /** @return list<\DOMElement> */
    private function childrenOf(\DOMElement $element): array
    {
        $children = [];
        for ($child = $element->firstElementChild; null !== $child; $child = $child->nextElementSibling) {
            $children[] = $child;
        }

        return $children;
    }

    /** @return list<\DOMElement> the items of an array */
    private function itemsOf(\DOMElement $property): array
    {
        $array = $this->childrenOf($property)[0] ?? null;

        return null === $array ? [] : $this->childrenOf($array);
    }

    private function rdfElement(string $local, \DOMElement $parent): \DOMElement
    {
        $element = $this->document->createElementNS(Xmp::RDF, 'rdf:'.$local);
        $parent->appendChild($element);

        return $element;
    }

    private function element(string $name): \DOMElement
    {
        return $this->document->createElementNS(Xmp::namespaceOf($name), $name);
    }

    /** @throws StructureBroken */
    private static function utf8(string $bytes): string
    {
        $encoding = match (true) {
            str_starts_with($bytes, "\xFE\xFF"), str_starts_with($bytes, "\0<") => 'UTF-16BE',
            str_starts_with($bytes, "\xFF\xFE"), str_starts_with($bytes, "<\0") => 'UTF-16LE',
            default => null,
        };
        if (null !== $encoding) {
            $bytes = mb_convert_encoding($bytes, 'UTF-8', $encoding);
            $bytes = \is_string($bytes) ? $bytes : '';
        }
        $bytes = rtrim(str_starts_with($bytes, "\u{FEFF}") ? substr($bytes, 3) : $bytes, "\0");
        if (1 === preg_match('/^\s*<\?xml[^>]*encoding=["\']([^"\']+)["\']/', $bytes, $declared)) {
            $likeAscii = ['UTF-8', 'UTF-16', 'UTF-16LE', 'UTF-16BE', 'US-ASCII', 'ASCII'];
            if (!\in_array(strtoupper($declared[1]), $likeAscii, true)) {
                throw StructureBroken::encoding($declared[1]);
            }
            $bytes = (string) preg_replace('/^\s*<\?xml[^>]*\?>/', '', $bytes, 1);
        }
        if (!mb_check_encoding($bytes, 'UTF-8')) {
            throw StructureBroken::encoding('of bytes that are no UTF-8');
        }

        return ltrim($bytes);
    }
}
