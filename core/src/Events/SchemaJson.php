<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

/** A JSON Schema as JSON has it: PHP reads `{}` and `[]` as the same empty array, and only the keyword tells which was meant. */
final class SchemaJson
{
    /** Keywords of JSON Schema 2020-12 whose value is a list, or any value at all. */
    private const LISTS = ['required', 'enum', 'allOf', 'anyOf', 'oneOf', 'prefixItems', 'type', 'examples', 'default', 'const'];

    /** @param array<mixed> $schema */
    public static function of(array $schema): object
    {
        $object = [];
        foreach ($schema as $name => $value) {
            $object[$name] = is_array($value) ? self::value($value, in_array($name, self::LISTS, true)) : $value;
        }

        return (object) $object;
    }

    /**
     * @param array<mixed> $value
     *
     * @return object|array<mixed>
     */
    private static function value(array $value, bool $isList): object|array
    {
        if ($value !== [] && array_is_list($value)) {
            return array_map(static fn (mixed $one): mixed => is_array($one) ? self::value($one, false) : $one, $value);
        }

        return $value === [] && $isList ? [] : self::of($value);
    }
}
