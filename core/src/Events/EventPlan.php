<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

use Pellix\Core\Formats\Fields;

/** What a tracking plan says of one event: its meaning, where it is sent from, its properties, and examples. */
final readonly class EventPlan
{
    public const HEADER = ['event', 'meaning', 'sent_from', 'property', 'type', 'required', 'description', 'example'];

    private const TYPES = ['string', 'number', 'integer', 'boolean', 'object', 'array'];

    /**
     * @param array<string, mixed>       $schema   JSON Schema 2020-12 of the properties
     * @param list<array<string, mixed>> $examples properties of events as they should be
     */
    private function __construct(public string $name, public string $meaning, public string $sentFrom, public array $schema, public array $examples)
    {
    }

    /**
     * From `{"name","meaning","sent_from","schema":{…},"examples":[{…}]}`.
     *
     * @throws InvalidPlan
     */
    public static function read(mixed $json): self
    {
        $fields = new Fields($json, InvalidPlan::class, 'An event of a plan');
        $schema = $fields->raw('schema') ?? ['type' => 'object'];
        if (! is_array($schema) || ($schema !== [] && array_is_list($schema))) {
            throw new InvalidPlan('A JSON Schema is an object.', 'schema');
        }
        /** @var array<string, mixed> $schema */
        $schema = [...['$schema' => 'https://json-schema.org/draft/2020-12/schema', 'type' => 'object'], ...$schema];
        TrackingPlan::check($schema);
        $name = $fields->pattern('name', '/\A[A-Za-z][A-Za-z0-9_.-]{0,63}\z/', 'A name of letters, digits, "_", "." and "-", up to 64 long, is needed.');
        $plan = TrackingPlan::of([$name => $schema]);
        $examples = [];
        foreach ($fields->list('examples') as $i => $example) {
            if (! is_array($example) || ($example !== [] && array_is_list($example))) {
                throw new InvalidPlan('An example is the object of an event\'s properties.', "examples.{$i}");
            }
            /** @var array<string, mixed> $example */
            $mistakes = $plan->judge($name, $example)['mistakes'];
            if ($mistakes !== []) {
                throw new InvalidPlan("The example does not keep to the schema: {$mistakes[0]['property']}: {$mistakes[0]['message']}", "examples.{$i}");
            }
            $examples[] = $example;
        }

        return new self($name, $fields->text('meaning', 1000, ''), $fields->text('sent_from', 300, ''), $schema, $examples);
    }

    /**
     * As it was kept once, also where what may be kept has become narrower since: whoever gets it can mend it.
     *
     * @param array<mixed> $schema
     * @param array<mixed> $examples
     */
    public static function asKept(string $name, string $meaning, string $sentFrom, array $schema, array $examples): self
    {
        /** @var list<array<string, mixed>> $objects */
        $objects = array_values(array_filter($examples, is_array(...)));

        /** @var array<string, mixed> $schema */
        return new self($name, $meaning, $sentFrom, $schema, $objects);
    }

    /** @return array{name: string, meaning: string, sent_from: string, schema: array<string, mixed>, examples: list<array<string, mixed>>} */
    public function toArray(): array
    {
        return ['name' => $this->name, 'meaning' => $this->meaning, 'sent_from' => $this->sentFrom, 'schema' => $this->schema, 'examples' => $this->examples];
    }

    /**
     * The rows of a CSV plan, one a property (HEADER says what is in which column).
     *
     * @return list<list<string>>
     */
    public function rows(): array
    {
        $properties = is_array($this->schema['properties'] ?? null) ? $this->schema['properties'] : [];
        $required = is_array($this->schema['required'] ?? null) ? $this->schema['required'] : [];
        $rows = [];
        foreach ($properties as $name => $property) {
            $type = is_array($property) && is_string($property['type'] ?? null) ? $property['type'] : '';
            $description = is_array($property) && is_string($property['description'] ?? null) ? $property['description'] : '';
            $example = $this->examples[0][$name] ?? null;
            $rows[] = [
                $this->name, $this->meaning, $this->sentFrom, (string) $name, $type, in_array($name, $required, true) ? 'yes' : 'no', $description,
                is_string($example) ? $example : ($example === null ? '' : (string) json_encode($example, JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE)),
            ];
        }

        return $rows === [] ? [[$this->name, $this->meaning, $this->sentFrom, '', '', '', '', '']] : $rows;
    }

    /**
     * From the rows of a CSV plan, header included.
     *
     * @param list<list<string>> $rows
     *
     * @return list<self>
     *
     * @throws InvalidPlan whose field is the number of the row, from 1
     */
    public static function fromRows(array $rows): array
    {
        $header = array_shift($rows) ?? [];
        if ($header !== self::HEADER) {
            throw new InvalidPlan('The header row is '.implode(',', self::HEADER).'.', '1');
        }
        $events = [];
        foreach ($rows as $i => $row) {
            $number = (string) ($i + 2);
            if (count($row) !== count(self::HEADER)) {
                throw new InvalidPlan('The row has '.count($row).' cells, and the header '.count(self::HEADER).'.', $number);
            }
            [$event, $meaning, $from, $property, $type, $required, $description, $example] = $row;
            $events[$event] ??= ['name' => $event, 'meaning' => $meaning, 'sent_from' => $from, 'properties' => [], 'required' => [], 'example' => [], 'row' => $number];
            if ($property === '') {
                continue;
            }
            if ($type !== '' && ! in_array($type, self::TYPES, true)) {
                throw new InvalidPlan('A type is one of '.implode(', ', self::TYPES).'.', $number);
            }
            $events[$event]['properties'][$property] = array_filter(['type' => $type, 'description' => $description], static fn (string $part): bool => $part !== '');
            if ($required === 'yes') {
                $events[$event]['required'][] = $property;
            }
            if ($example !== '') {
                $events[$event]['example'][$property] = $type === 'string' ? $example : (json_decode($example, true) ?? $example);
            }
        }

        return array_values(array_map(static fn (array $event): self => Fields::within($event['row'], static fn (): self => self::read([
            'name' => $event['name'], 'meaning' => $event['meaning'], 'sent_from' => $event['sent_from'],
            'schema' => ['type' => 'object', 'properties' => array_map(static fn (array $p): array|object => $p === [] ? new \stdClass() : $p, $event['properties']), 'required' => $event['required']],
            'examples' => $event['example'] === [] ? [] : [$event['example']],
        ]), InvalidPlan::class), $events));
    }
}
