<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

use Pellix\Core\Formats\Fields;
use Pellix\Core\Rules\Pattern;

/**
 * Finds in a JSON Schema (draft 2020-12) what the library would notice only when an event comes, or never: types and numbers
 * that mean nothing, references that lead nowhere or back to themselves, and patterns and choices that can run away.
 */
final class SchemaCheck
{
    private const TYPES = ['string', 'number', 'integer', 'boolean', 'object', 'array', 'null'];

    private const DEEPEST = 20;

    /** So many schemas may have to be looked at for one value. */
    private const COSTLIEST = 2000;

    private const COUNTS = ['minLength', 'maxLength', 'minItems', 'maxItems', 'minProperties', 'maxProperties', 'minContains', 'maxContains'];
    private const NUMBERS = ['minimum', 'maximum', 'exclusiveMinimum', 'exclusiveMaximum'];

    /** Keywords whose value is a schema, a list of schemas, or schemas by name. */
    private const ONE = ['not', 'if', 'then', 'else', 'items', 'contains', 'additionalProperties', 'propertyNames', 'unevaluatedItems', 'unevaluatedProperties'];
    private const LIST = ['allOf', 'anyOf', 'oneOf', 'prefixItems'];
    private const NAMED = ['properties', 'patternProperties', 'dependentSchemas', '$defs', 'definitions'];

    /** Of those, the ones that look at the same value again. */
    private const IN_PLACE = ['not', 'if', 'then', 'else', 'allOf', 'anyOf', 'oneOf', 'dependentSchemas'];

    /** @var array<string, int> pointer => schemas that are looked at for one value; 0 while that is being worked out */
    private array $costs = [];

    /** @param array<mixed> $root */
    private function __construct(private readonly array $root)
    {
    }

    /**
     * @param array<mixed> $schema
     *
     * @throws InvalidPlan with the path of the part at fault, below `schema`
     */
    public static function of(array $schema): void
    {
        (new self($schema))->part($schema, 'schema', '#', 0);
    }

    /** @param string $pointer RFC 6901, as a fragment */
    private function part(mixed $schema, string $path, string $pointer, int $depth): void
    {
        if (is_bool($schema)) {
            return;
        }
        if (! is_array($schema) || ($schema !== [] && array_is_list($schema))) {
            throw new InvalidPlan('A JSON Schema is an object, or true or false.', $path);
        }
        if ($depth > self::DEEPEST) {
            throw new InvalidPlan('Schemas stand within each other at most '.self::DEEPEST.' deep.', $path);
        }
        $this->values($schema, $path);
        foreach (['$ref', '$dynamicRef'] as $name) {
            if (isset($schema[$name])) {
                $this->target($schema[$name], "{$path}.{$name}");
            }
        }
        foreach (array_intersect(self::ONE, array_keys($schema)) as $name) {
            $this->part($schema[$name], "{$path}.{$name}", "{$pointer}/{$name}", $depth + 1);
        }
        foreach (array_intersect([...self::LIST, ...self::NAMED], array_keys($schema)) as $name) {
            $parts = $schema[$name];
            if (! is_array($parts) || (in_array($name, self::LIST, true) && ! array_is_list($parts))) {
                throw new InvalidPlan(in_array($name, self::LIST, true) ? 'A list of schemas is needed.' : 'An object of schemas is needed.', "{$path}.{$name}");
            }
            foreach ($parts as $key => $part) {
                $this->part($part, "{$path}.{$name}.{$key}", "{$pointer}/{$name}/".self::escaped((string) $key), $depth + 1);
            }
        }
        if ($this->cost($schema, $pointer, $path) > self::COSTLIEST) {
            throw new InvalidPlan('With what it refers to, this schema looks at one value more than '.number_format(self::COSTLIEST).' times.', $path);
        }
    }

    /** @param array<mixed> $schema */
    private function values(array $schema, string $path): void
    {
        $types = isset($schema['type']) ? (is_array($schema['type']) ? $schema['type'] : [$schema['type']]) : [];
        foreach ($types as $type) {
            if (! in_array($type, self::TYPES, true)) {
                throw new InvalidPlan('This is no JSON Schema (2020-12): a type is one of '.implode(', ', self::TYPES).'.', "{$path}.type");
            }
        }
        foreach (self::COUNTS as $name) {
            if (isset($schema[$name]) && (! is_numeric($schema[$name]) || is_string($schema[$name]) || $schema[$name] < 0 || (float) $schema[$name] !== floor((float) $schema[$name]))) {
                throw new InvalidPlan('A whole number from 0 on is needed.', "{$path}.{$name}");
            }
        }
        foreach ([...self::NUMBERS, 'multipleOf'] as $name) {
            $number = $schema[$name] ?? null;
            if ($number !== null && ((! is_int($number) && ! is_float($number)) || ($name === 'multipleOf' && $number <= 0))) {
                throw new InvalidPlan($name === 'multipleOf' ? 'A number above 0 is needed.' : 'A number is needed.', "{$path}.{$name}");
            }
        }
        $required = $schema['required'] ?? [];
        if (! is_array($required) || ! array_is_list($required) || array_filter($required, static fn (mixed $one): bool => ! is_string($one)) !== []) {
            throw new InvalidPlan('A list of names is needed.', "{$path}.required");
        }
        if (isset($schema['enum']) && (! is_array($schema['enum']) || ! array_is_list($schema['enum']))) {
            throw new InvalidPlan('A list of values is needed.', "{$path}.enum");
        }
        $patterns = [...(isset($schema['pattern']) ? ['pattern' => $schema['pattern']] : []), ...array_map(strval(...), array_keys(is_array($schema['patternProperties'] ?? null) ? $schema['patternProperties'] : []))];
        foreach ($patterns as $name => $pattern) {
            $at = $name === 'pattern' ? "{$path}.pattern" : "{$path}.patternProperties";
            if (! is_string($pattern)) {
                throw new InvalidPlan('A pattern is a text.', $at);
            }
            Fields::within($at, static fn (): string => Pattern::compile($pattern), InvalidPlan::class);
        }
    }

    /**
     * The schema that a reference leads to, and its pointer.
     *
     * @return array{mixed, string}
     */
    private function target(mixed $reference, string $path): array
    {
        if (! is_string($reference) || preg_match('~\A#(/.*)?\z~s', $reference) !== 1) {
            throw new InvalidPlan('Only references within the schema are taken, such as #/$defs/price.', $path);
        }
        $schema = $this->root;
        foreach (array_slice(explode('/', $reference), 1) as $step) {
            $name = str_replace(['~1', '~0'], ['/', '~'], rawurldecode($step));
            if (! is_array($schema) || ! array_key_exists($name, $schema)) {
                throw new InvalidPlan("There is nothing at {$reference}.", $path);
            }
            $schema = $schema[$name];
        }
        if (! is_bool($schema) && (! is_array($schema) || ($schema !== [] && array_is_list($schema)))) {
            throw new InvalidPlan("There is no schema at {$reference}.", $path);
        }

        return [$schema, $reference];
    }

    /** How many schemas are looked at for one value. */
    private function cost(mixed $schema, string $pointer, string $path): int
    {
        if (! is_array($schema)) {
            return 1;
        }
        if (isset($this->costs[$pointer])) {
            return $this->costs[$pointer] > 0 ? $this->costs[$pointer] : throw new InvalidPlan('This schema refers to itself, for the same value: it could never be told whether it holds.', $path);
        }
        $this->costs[$pointer] = 0;
        $cost = 1;
        foreach (['$ref', '$dynamicRef'] as $name) {
            if (isset($schema[$name])) {
                $cost += $this->cost(...[...$this->target($schema[$name], "{$path}.{$name}"), "{$path}.{$name}"]);
            }
        }
        foreach (array_intersect(self::IN_PLACE, array_keys($schema)) as $name) {
            $isOne = in_array($name, self::ONE, true);
            foreach ($isOne ? [$schema[$name]] : (array) $schema[$name] as $key => $part) {
                $cost += $this->cost($part, "{$pointer}/{$name}".($isOne ? '' : '/'.self::escaped((string) $key)), "{$path}.{$name}");
            }
        }

        return $this->costs[$pointer] = min($cost, self::COSTLIEST + 1);
    }

    private static function escaped(string $name): string
    {
        return str_replace(['~', '/'], ['~0', '~1'], $name);
    }
}
