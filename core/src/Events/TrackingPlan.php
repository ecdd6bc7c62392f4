<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

use Opis\JsonSchema\Errors\ValidationError;
use Opis\JsonSchema\Exceptions\SchemaException;
use Opis\JsonSchema\Helper;
use Opis\JsonSchema\Validator;

/** Holds received events against what a site has planned to send: a JSON Schema (draft 2020-12) for the properties of each event. */
final readonly class TrackingPlan
{
    private const MOST_MISTAKES = 10;

    /** Properties that the runtime adds by itself. */
    private const ADDED = ['me' => 0, 'plx_own' => 0, 'masked' => 0, 'view' => 0, 'via' => 0];

    /** @param array<string, object> $schemas event name => schema; each object is read once */
    private function __construct(private array $schemas, private Validator $validator)
    {
    }

    /** @param array<string, array<string, mixed>> $schemas event name => schema of its properties */
    public static function of(array $schemas): self
    {
        $validator = new Validator();
        $validator->setMaxErrors(self::MOST_MISTAKES);

        return new self(array_map(SchemaJson::of(...), $schemas), $validator);
    }

    /**
     * Whether a schema can be used at all.
     *
     * @param array<string, mixed> $schema
     *
     * @throws InvalidPlan
     */
    public static function check(array $schema): void
    {
        SchemaCheck::of($schema);
        try {
            // A schema is read when it is first used.
            (new Validator())->validate((object) [], SchemaJson::of($schema));
        } catch (SchemaException $e) {
            throw new InvalidPlan("This is no JSON Schema (2020-12): {$e->getMessage()}", 'schema');
        }
        if (($schema['type'] ?? 'object') !== 'object') {
            throw new InvalidPlan('The properties of an event are an object: "type": "object".', 'schema.type');
        }
    }

    /**
     * @param array<string, mixed> $props
     *
     * @return array{verdict: 'conforms'|'lacks'|'wrong-type'|'unplanned', mistakes: list<array{property: string, message: string}>}
     */
    public function judge(string $name, array $props): array
    {
        if (! isset($this->schemas[$name])) {
            return ['verdict' => EventName::tryFrom($name) !== null ? 'conforms' : 'unplanned', 'mistakes' => []];
        }
        try {
            $error = $this->validator->validate(Helper::toJSON((object) array_diff_key($props, self::ADDED)), $this->schemas[$name])->error();
        } catch (\Throwable $e) {
            // One that was kept before it could have been refused: it says so where it is asked for, and nowhere else.
            return ['verdict' => 'wrong-type', 'mistakes' => [['property' => '', 'message' => "The schema of this event cannot be used: {$e->getMessage()}"]]];
        }
        if ($error === null) {
            return ['verdict' => 'conforms', 'mistakes' => []];
        }
        [$lacks, $mistakes] = self::mistakes($error);

        return ['verdict' => $lacks ? 'lacks' : 'wrong-type', 'mistakes' => array_slice($mistakes, 0, self::MOST_MISTAKES)];
    }

    /** @return array{bool, list<array{property: string, message: string}>} whether a property is missing, and each mistake */
    private static function mistakes(ValidationError $error): array
    {
        if ($error->subErrors() !== []) {
            [$lacks, $all] = [false, []];
            /** @var ValidationError $one */
            foreach ($error->subErrors() as $one) {
                [$missing, $mistakes] = self::mistakes($one);
                [$lacks, $all] = [$lacks || $missing, [...$all, ...$mistakes]];
            }

            return [$lacks, $all];
        }
        $path = implode('.', array_map(strval(...), $error->data()->fullPath()));
        if ($error->keyword() === 'required') {
            $missing = $error->args()['missing'] ?? [];

            return [true, array_map(static fn (mixed $name): array => [
                'property' => trim($path.'.'.(is_string($name) ? $name : ''), '.'),
                'message' => 'It is missing.',
            ], is_array($missing) ? array_values($missing) : [$missing])];
        }
        $arguments = $error->args();
        $message = (string) preg_replace_callback('/\{([^}]+)\}/', static function (array $m) use ($arguments): string {
            $value = $arguments[$m[1]] ?? '';

            return is_array($value) ? implode(', ', array_map(static fn (mixed $one): string => is_scalar($one) ? (string) $one : '…', $value)) : (is_scalar($value) ? (string) $value : '…');
        }, $error->message());

        return [false, [['property' => $path, 'message' => $message.'.']]];
    }
}
