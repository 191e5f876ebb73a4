<?php

declare(strict_types=1);

namespace Velvet\Core\Metadata;

use Velvet\Core\Bytes\XmpForm;
use Velvet\Core\Capture\Orientation;

/**
 * The text fields that are written, and where each goes: XMP properties as in the IPTC Photo Metadata Standard 2023.2,
 * IIM datasets as in IPTC IIM 4.2 with the pairing of that standard, Exif tags as in the guidelines of the Metadata
 * Working Group 2.0 (all from memory). The values are our names for them.
 */
enum Field: string
{
    case Creator = 'creator';
    case JobTitle = 'job_title';
    case CreditLine = 'credit_line';
    case Copyright = 'copyright';
    /** `true` for protected, `false` for the public domain. */
    case CopyrightMarked = 'copyright_marked';
    case UsageTerms = 'usage_terms';
    case WebStatement = 'web_statement';
    case ContactAddress = 'contact_address';
    case ContactCity = 'contact_city';
    case ContactRegion = 'contact_region';
    case ContactPostcode = 'contact_postcode';
    case ContactCountry = 'contact_country';
    case ContactPhone = 'contact_phone';
    case ContactMail = 'contact_mail';
    case ContactWeb = 'contact_web';
    case LicensorName = 'licensor_name';
    case LicensorMail = 'licensor_mail';
    case LicensorWeb = 'licensor_web';
    case Title = 'title';
    case Headline = 'headline';
    case Description = 'description';
    case Instructions = 'instructions';
    case JobIdentifier = 'job_identifier';
    case Event = 'event';
    case Sublocation = 'sublocation';
    case City = 'city';
    case Region = 'region';
    case Country = 'country';
    case CountryCode = 'country_code';
    case ShownSublocation = 'shown_sublocation';
    case ShownCity = 'shown_city';
    case ShownRegion = 'shown_region';
    case ShownCountry = 'shown_country';
    case ShownCountryCode = 'shown_country_code';
    case Label = 'label';
    case PreservedFileName = 'preserved_file_name';
    /**
     * When the picture was taken, where the camera's clock was wrong and was corrected; the camera's own time stays in
     * Exif.
     */
    case DateCreated = 'date_created';
    /** How the picture is shown, `1` to `8`, where it was rotated after it came: {@see Orientation}. */
    case Orientation = 'orientation';

    /** Whether a house style may say it; the others are facts of the frame. */
    public function isTyped(): bool
    {
        return !\in_array($this, [self::PreservedFileName, self::DateCreated, self::Orientation], true);
    }

    /**
     * The properties it is written to; the first one is the one that is read.
     *
     * @return non-empty-list<array{XmpForm, string, 2?: string}> form, property and, of a structure's field, its name
     */
    public function xmp(): array
    {
        return match ($this) {
            self::Creator => [[XmpForm::Seq, 'dc:creator']],
            self::JobTitle => [[XmpForm::Text, 'photoshop:AuthorsPosition']],
            self::CreditLine => [[XmpForm::Text, 'photoshop:Credit']],
            self::Copyright => [[XmpForm::LangAlt, 'dc:rights']],
            self::CopyrightMarked => [[XmpForm::Text, 'xmpRights:Marked']],
            self::UsageTerms => [[XmpForm::LangAlt, 'xmpRights:UsageTerms']],
            self::WebStatement => [[XmpForm::Text, 'xmpRights:WebStatement']],
            self::ContactAddress => [[XmpForm::Part, 'Iptc4xmpCore:CreatorContactInfo', 'Iptc4xmpCore:CiAdrExtadr']],
            self::ContactCity => [[XmpForm::Part, 'Iptc4xmpCore:CreatorContactInfo', 'Iptc4xmpCore:CiAdrCity']],
            self::ContactRegion => [[XmpForm::Part, 'Iptc4xmpCore:CreatorContactInfo', 'Iptc4xmpCore:CiAdrRegion']],
            self::ContactPostcode => [[XmpForm::Part, 'Iptc4xmpCore:CreatorContactInfo', 'Iptc4xmpCore:CiAdrPcode']],
            self::ContactCountry => [[XmpForm::Part, 'Iptc4xmpCore:CreatorContactInfo', 'Iptc4xmpCore:CiAdrCtry']],
            self::ContactPhone => [[XmpForm::Part, 'Iptc4xmpCore:CreatorContactInfo', 'Iptc4xmpCore:CiTelWork']],
            self::ContactMail => [[XmpForm::Part, 'Iptc4xmpCore:CreatorContactInfo', 'Iptc4xmpCore:CiEmailWork']],
            self::ContactWeb => [[XmpForm::Part, 'Iptc4xmpCore:CreatorContactInfo', 'Iptc4xmpCore:CiUrlWork']],
            self::LicensorName => [[XmpForm::PartOfSeq, 'plus:Licensor', 'plus:LicensorName']],
            self::LicensorMail => [[XmpForm::PartOfSeq, 'plus:Licensor', 'plus:LicensorEmail']],
            self::LicensorWeb => [[XmpForm::PartOfSeq, 'plus:Licensor', 'plus:LicensorURL']],
            self::Title => [[XmpForm::LangAlt, 'dc:title']],
            self::Headline => [[XmpForm::Text, 'photoshop:Headline']],
            self::Description => [[XmpForm::LangAlt, 'dc:description']],
            self::Instructions => [[XmpForm::Text, 'photoshop:Instructions']],
            self::JobIdentifier => [[XmpForm::Text, 'photoshop:TransmissionReference']],
            self::Event => [[XmpForm::LangAlt, 'Iptc4xmpExt:Event']],
            self::Sublocation => [
                [XmpForm::Text, 'Iptc4xmpCore:Location'],
                [XmpForm::PartOfBag, 'Iptc4xmpExt:LocationCreated', 'Iptc4xmpExt:Sublocation'],
            ],
            self::City => [
                [XmpForm::Text, 'photoshop:City'],
                [XmpForm::PartOfBag, 'Iptc4xmpExt:LocationCreated', 'Iptc4xmpExt:City'],
            ],
            self::Region => [
                [XmpForm::Text, 'photoshop:State'],
                [XmpForm::PartOfBag, 'Iptc4xmpExt:LocationCreated', 'Iptc4xmpExt:ProvinceState'],
            ],
            self::Country => [
                [XmpForm::Text, 'photoshop:Country'],
                [XmpForm::PartOfBag, 'Iptc4xmpExt:LocationCreated', 'Iptc4xmpExt:CountryName'],
            ],
            self::CountryCode => [
                [XmpForm::Text, 'Iptc4xmpCore:CountryCode'],
                [XmpForm::PartOfBag, 'Iptc4xmpExt:LocationCreated', 'Iptc4xmpExt:CountryCode'],
            ],
            self::ShownSublocation => [[XmpForm::PartOfBag, 'Iptc4xmpExt:LocationShown', 'Iptc4xmpExt:Sublocation']],
            self::ShownCity => [[XmpForm::PartOfBag, 'Iptc4xmpExt:LocationShown', 'Iptc4xmpExt:City']],
            self::ShownRegion => [[XmpForm::PartOfBag, 'Iptc4xmpExt:LocationShown', 'Iptc4xmpExt:ProvinceState']],
            self::ShownCountry => [[XmpForm::PartOfBag, 'Iptc4xmpExt:LocationShown', 'Iptc4xmpExt:CountryName']],
            self::ShownCountryCode => [[XmpForm::PartOfBag, 'Iptc4xmpExt:LocationShown', 'Iptc4xmpExt:CountryCode']],
            self::Label => [[XmpForm::Text, 'xmp:Label']],
            self::PreservedFileName => [[XmpForm::Text, 'xmpMM:PreservedFileName']],
            self::DateCreated => [[XmpForm::Text, 'photoshop:DateCreated']],
            self::Orientation => [[XmpForm::Text, 'tiff:Orientation']],
        };
    }

    /** @return array{int, int}|null dataset of IIM's application record, and the most bytes it may have */
    public function iim(): ?array
    {
        return match ($this) {
            self::Title => [5, 64],
            self::Instructions => [40, 256],
            self::Creator => [80, 32],
            self::JobTitle => [85, 32],
            self::City => [90, 32],
            self::Sublocation => [92, 32],
            self::Region => [95, 32],
            self::CountryCode => [100, 3],
            self::Country => [101, 64],
            self::JobIdentifier => [103, 32],
            self::Headline => [105, 256],
            self::CreditLine => [110, 32],
            self::Copyright => [116, 128],
            self::Description => [120, 2000],
            default => null,
        };
    }

    /** The tag of Exif's first directory that holds its text. */
    public function exif(): ?int
    {
        return match ($this) {
            self::Description => 0x010E,
            self::Creator => 0x013B,
            self::Copyright => 0x8298,
            default => null,
        };
    }
}
