<?php

declare(strict_types=1);

namespace Velvet\Server;

use Opis\JsonSchema\Errors\ValidationError;
use Opis\JsonSchema\Validator;
use Velvet\Core\Style\HouseStyle;
use Velvet\Core\Style\StyleRefused;

/**
 * A house style as it comes from a file or a browser. Its rules say in their own words what is wrong with it; what is
 * taken must then be as the published schema has it, so that no style is kept that another program would refuse.
 */
final class StyleDocument
{
    private const SCHEMA = __DIR__.'/../../docs/house-style.schema.json';

    /** @throws StyleRefused */
    public static function read(mixed $document): HouseStyle
    {
        $style = HouseStyle::fromArray($document);
        $schema = json_decode((string) file_get_contents(self::SCHEMA), false, 64, \JSON_THROW_ON_ERROR);
        \assert($schema instanceof \stdClass);
        unset($schema->{'$id'}); // it is relative
        $error = (new Validator())->validate(
            json_decode(json_encode($style->toArray(), \JSON_THROW_ON_ERROR), false, 64, \JSON_THROW_ON_ERROR),
            $schema,
        )->error();

        return null === $error ? $style : throw StyleRefused::notInSchema(self::place($error));
    }

    /** The members that lead to the innermost error, with dots between. */
    private static function place(ValidationError $error): string
    {
        foreach ($error->subErrors() as $inner) {
            if ($inner instanceof ValidationError) {
                return self::place($inner);
            }
        }

        return implode('.', array_filter($error->data()->fullPath(), is_scalar(...)));
    }
}
