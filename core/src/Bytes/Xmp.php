<?php

declare(strict_types=1);

namespace Velvet\Core\Bytes;

/** Namespaces of XMP, by their usual prefixes. */
final class Xmp
{
    public const RDF = 'http://www.w3.org/1999/02/22-rdf-syntax-ns#';
    public const XML = 'http://www.w3.org/XML/1998/namespace';
    public const META = 'adobe:ns:meta/';

    public const NAMESPACES = [
        // ISO 16684-1, 8.3 to 8.6
        'dc' => 'http://purl.org/dc/elements/1.1/',
        'xmp' => 'http://ns.adobe.com/xap/1.0/',
        'xmpRights' => 'http://ns.adobe.com/xap/1.0/rights/',
        'xmpMM' => 'http://ns.adobe.com/xap/1.0/mm/',
        'xmpNote' => 'http://ns.adobe.com/xmp/note/',
        'stEvt' => 'http://ns.adobe.com/xap/1.0/sType/ResourceEvent#',
        'stRef' => 'http://ns.adobe.com/xap/1.0/sType/ResourceRef#',
        // ISO 16684-2; IPTC Photo Metadata Standard 2023.2
        'photoshop' => 'http://ns.adobe.com/photoshop/1.0/',
        'Iptc4xmpCore' => 'http://iptc.org/std/Iptc4xmpCore/1.0/xmlns/',
        'Iptc4xmpExt' => 'http://iptc.org/std/Iptc4xmpExt/2008-02-29/',
        'plus' => 'http://ns.useplus.org/ldf/xmp/1.0/',
        // Metadata Working Group, Guidelines for Handling Image Metadata 2.0
        'mwg-kw' => 'http://www.metadataworkinggroup.com/schemas/keywords/',
        // CIPA DC-010
        'tiff' => 'http://ns.adobe.com/tiff/1.0/',
        'exif' => 'http://ns.adobe.com/exif/1.0/',
        'exifEX' => 'http://cipa.jp/exif/1.0/',
    ];

    /** @param string $name with its prefix */
    public static function namespaceOf(string $name): string
    {
        return self::NAMESPACES[explode(':', $name)[0]]
            ?? throw new \LogicException("The prefix of $name is not known.");
    }
}
