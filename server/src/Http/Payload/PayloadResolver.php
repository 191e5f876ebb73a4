<?php

declare(strict_types=1);

namespace Velvet\Server\Http\Payload;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Controller\ValueResolverInterface;
use Symfony\Component\HttpKernel\ControllerMetadata\ArgumentMetadata;
use Symfony\Component\PropertyInfo\PropertyInfoExtractorInterface;
use Symfony\Component\Serializer\Exception\ExtraAttributesException;
use Symfony\Component\Serializer\Exception\NotNormalizableValueException;
use Symfony\Component\Serializer\Exception\PartialDenormalizationException;
use Symfony\Component\Serializer\Exception\UnexpectedPropertyException;
use Symfony\Component\Serializer\Mapping\ClassDiscriminatorResolverInterface;
use Symfony\Component\Serializer\NameConverter\CamelCaseToSnakeCaseNameConverter;
use Symfony\Component\Serializer\NameConverter\NameConverterInterface;
use Symfony\Component\Serializer\Normalizer\AbstractNormalizer;
use Symfony\Component\Serializer\Normalizer\DenormalizerInterface;
use Symfony\Component\TypeInfo\Type;
use Symfony\Component\TypeInfo\TypeIdentifier;
use Symfony\Component\Validator\Validator\ValidatorInterface;
use Velvet\Server\Http\BadRequest;
use Velvet\Server\Http\WellFormed;

/**
 * Reads a request's body as the request object that a controller takes. What is unknown, missing, of another type or
 * outside of its range is refused before anything is done: a member that is misspelt, or of another version, would be
 * passed over in silence otherwise.
 */
final readonly class PayloadResolver implements ValueResolverInterface
{
    private const DEEPEST = 16;
    private const CONTEXT = [
        AbstractNormalizer::ALLOW_EXTRA_ATTRIBUTES => false,
        DenormalizerInterface::COLLECT_DENORMALIZATION_ERRORS => true,
        CamelCaseToSnakeCaseNameConverter::REQUIRE_SNAKE_CASE_PROPERTIES => true,
    ];

    public function __construct(
        private DenormalizerInterface $denormalizer,
        private ValidatorInterface $validator,
        private ClassDiscriminatorResolverInterface $discriminators,
        private PropertyInfoExtractorInterface $types,
        #[Autowire(service: 'serializer.name_converter.camel_case_to_snake_case')]
        private NameConverterInterface $names,
    ) {
    }

    /**
     * @return list<Payload>
     *
     * @throws BadRequest
     */
    public function resolve(Request $request, ArgumentMetadata $argument): array
    {
        $class = $argument->getType();
        if (null === $class || !is_subclass_of($class, Payload::class)) {
            return [];
        }
        $members = self::members($request->getContent());
        try {
            /** @var Payload $payload */
            $payload = $this->denormalizer->denormalize($members, $class, 'json', self::CONTEXT);
        } catch (ExtraAttributesException $error) {
            throw BadRequest::unknown($error->getExtraAttributes());
        } catch (UnexpectedPropertyException $error) {
            throw BadRequest::unknown([$error->property]);
        } catch (PartialDenormalizationException $error) {
            throw $this->mistyped($class, $members, array_values($error->getErrors())[0]);
        } catch (NotNormalizableValueException $error) {
            throw $this->mistyped($class, $members, $error);
        }
        $this->checkLists($payload);
        foreach ($this->validator->validate($payload) as $violation) {
            throw BadRequest::member(
                $this->names->normalize($violation->getPropertyPath()),
                (string) $violation->getMessage(),
            );
        }

        return [$payload];
    }

    /**
     * @return array<mixed>
     *
     * @throws BadRequest
     */
    private static function members(string $body): array
    {
        $members = json_decode($body, true, self::DEEPEST);
        if (!\is_array($members)) {
            throw BadRequest::notJson();
        }

        $fraction = self::fraction($members);
        if (null !== $fraction) {
            throw BadRequest::member($fraction, 'must be a whole number');
        }

        return WellFormed::isKept($members) ? $members : throw BadRequest::notKept();
    }

    /**
     * No request has a number with a fraction; PHP would cut it off where a whole one is wanted.
     *
     * @param array<mixed> $members
     *
     * @return string|null path of the first one, as `judgements[0].stars`
     */
    private static function fraction(array $members, string $within = ''): ?string
    {
        foreach ($members as $key => $value) {
            $path = match (true) {
                \is_int($key) => $within."[$key]",
                '' === $within => $key,
                default => $within.'.'.$key,
            };
            $found = \is_array($value) ? self::fraction($value, $path) : null;
            if (null !== $found || \is_float($value)) {
                return $found ?? $path;
            }
        }

        return null;
    }

    /**
     * The serializer looks into no list.
     *
     * @param string $within path of the payload, as `judgements[0].`
     *
     * @throws BadRequest
     */
    private function checkLists(Payload $payload, string $within = ''): void
    {
        foreach (get_object_vars($payload) as $property => $value) {
            $type = $this->types->getType($payload::class, $property);
            $path = $within.$this->names->normalize($property);
            if (false === $type?->accepts($value)) {
                throw BadRequest::member($path, 'must be '.self::words($type));
            }
            foreach (\is_array($value) ? $value : [] as $key => $one) {
                if ($one instanceof Payload) {
                    $this->checkLists($one, \sprintf('%s[%s].', $path, $key));
                }
            }
        }
    }

    /**
     * @param class-string $class
     * @param array<mixed> $members
     */
    private function mistyped(string $class, array $members, NotNormalizableValueException $error): BadRequest
    {
        // `divide.dayStarts`, `frames[3]`, `judgements[0].frames[3]`
        $path = preg_replace('/\[\d+\]$/', '', $error->getPath() ?? '') ?? '';
        $which = $this->discriminators->getMappingForClass($class);
        $of = $members[$which?->getTypeProperty()] ?? null;
        $case = \is_string($of) ? $which?->getClassForType($of) : null;
        if (null !== $which && null === $case) {
            $cases = array_map(strval(...), array_keys($which->getTypesMapping()));

            return BadRequest::member($which->getTypeProperty(), 'must be '.self::one($cases));
        }
        $type = Type::object($case ?? $class);
        foreach (explode('.', $path) as $property) {
            while ($type instanceof Type\NullableType) {
                $type = $type->getWrappedType();
            }
            if ($type instanceof Type\CollectionType) {
                $type = $type->getCollectionValueType();
            }
            $property = preg_replace('/\[\d+\]$/', '', $property) ?? '';
            $type = $type instanceof Type\ObjectType ? $this->types->getType($type->getClassName(), $property) : null;
        }

        return BadRequest::member($this->names->normalize($path), 'must be '.self::words($type));
    }

    private static function words(?Type $type): string
    {
        return match (true) {
            $type instanceof Type\NullableType => self::words($type->getWrappedType()),
            $type instanceof Type\BackedEnumType => self::one(self::values($type->getClassName())),
            $type instanceof Type\CollectionType && $type->isList() => 'a list of '.match (true) {
                $type->getCollectionValueType()->isIdentifiedBy(TypeIdentifier::INT) => 'whole numbers',
                $type->getCollectionValueType()->isIdentifiedBy(TypeIdentifier::STRING) => 'texts',
                $type->getCollectionValueType() instanceof Type\CollectionType => 'pairs of whole numbers',
                default => 'objects',
            },
            true === $type?->isIdentifiedBy(TypeIdentifier::STRING) => 'text',
            true === $type?->isIdentifiedBy(TypeIdentifier::INT) => 'a whole number',
            true === $type?->isIdentifiedBy(TypeIdentifier::BOOL) => 'true or false',
            $type instanceof Type\CollectionType && $type->getCollectionValueType()
                ->isIdentifiedBy(TypeIdentifier::STRING) => 'an object of texts',
            default => 'an object',
        };
    }

    /** @return list<string> of a backed enum */
    private static function values(string $enum): array
    {
        $values = [];
        foreach (is_subclass_of($enum, \BackedEnum::class) ? $enum::cases() : [] as $case) {
            $values[] = (string) $case->value;
        }

        return $values;
    }

    /** @param array<string> $words */
    private static function one(array $words): string
    {
        return implode(', ', \array_slice($words, 0, -1)).' or '.implode('', \array_slice($words, -1));
    }
}
