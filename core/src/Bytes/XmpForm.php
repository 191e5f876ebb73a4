<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/** How an XMP property holds its text (ISO 16684-1, 7.5 to 7.9). */
enum XmpForm
{
    /** Simple text. */
    case Text;
    /** A language alternative; its `x-default` item is ours, items in other languages are kept. */
    case LangAlt;
    /** An ordered array of one item. */
    case Seq;
    /** A structure's field of simple text, the structure standing for itself. */
    case Part;
    /** A structure's field of simple text, the structure being the first item of an unordered array. */
    case PartOfBag;
    /** A structure's field of simple text, the structure being the first item of an ordered array. */
    case PartOfSeq;
}
