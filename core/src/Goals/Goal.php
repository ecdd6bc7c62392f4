<?php

declare(strict_types=1);

namespace Pellix\Core\Goals;

use Pellix\Core\Formats\Fields;
use Pellix\Core\Happenings\Kind;

/** What counts, how often, and at what value. */
final readonly class Goal
{
    public const KEY = '/\A[a-z0-9][a-z0-9-]{0,59}\z/';

    public const COUNTS = ['visitor', 'session', 'every'];

    public const ROLES = ['primary', 'secondary', 'guardrail'];

    private const MOST_STEPS = 20;

    private const LONGEST_WITHIN = 90 * 86400;

    /**
     * @param list<Step>      $steps     one; more for a sequence
     * @param list<bool>      $optional  which of the steps may be left out
     * @param int|null        $within    seconds from the first step to the last; null for any time
     * @param string          $count     one of COUNTS
     * @param float|null      $fixed     value of each hit
     * @param string|null     $valueProp path of the property that holds the value
     * @param string|null     $currency  ISO 4217
     * @param list<string>    $events    names of the events that it looks at
     */
    private function __construct(
        public string $key,
        public string $name,
        public string $kind,
        public string $role,
        public array $steps,
        public array $optional,
        public ?int $within,
        public string $count,
        public ?float $fixed,
        public ?string $valueProp,
        public ?string $currency,
        private array $events,
    ) {
    }

    /**
     * From `{"key":"joined","name":"Joined","kind":"page","role":"primary","pages":RULE,"count":"visitor","value":{"fixed":5},"currency":"EUR"}`;
     * docs/formats.md has what each kind needs.
     *
     * @param bool $toBeKept whether it will count: then a fact that no recorded event tells is refused, and a member that would be lost
     *
     * @throws InvalidGoal
     */
    public static function read(mixed $json, bool $toBeKept = false): self
    {
        $fields = new Fields($json, InvalidGoal::class, 'A goal');
        $kind = $fields->word('kind', [...Kind::ofGoals(), 'steps'], 'page');
        $key = $fields->pattern(
            'key',
            self::KEY,
            'A goal key is 1 to 60 of a-z, 0-9 and "-", and starts with a letter or a digit.',
        );
        [$steps, $optional] = $kind === 'steps' ? self::sequence($fields, $toBeKept) : [[Step::from($fields, Kind::from($kind), $toBeKept)], [false]];
        [$fixed, $prop] = self::value($fields, $kind, $toBeKept);

        $goal = new self(
            $key,
            $fields->text('name', 120, $key),
            $kind,
            $fields->word('role', self::ROLES, 'primary'),
            $steps,
            $optional,
            $kind === 'steps' && $fields->has('within') ? self::within($fields) : null,
            $fields->word('count', self::COUNTS, 'every'),
            $fixed,
            $prop,
            $fields->has('currency') ? $fields->pattern('currency', '/\A[A-Z]{3}\z/', 'A currency has three capital letters, such as EUR (ISO 4217).') : null,
            array_values(array_unique(array_map(static fn (Step $step): string => $step->recordedAs, $steps))),
        );
        $toBeKept && $fields->nothingElse();

        return $goal;
    }

    /**
     * Members that mean nothing in a goal of that kind: misspelt ones, most of the time.
     *
     * @return list<string> paths
     */
    public static function unknownMembers(mixed $json): array
    {
        $unknown = [];
        while (is_array($json)) {
            try {
                self::read($json, true);
                break;
            } catch (InvalidGoal $e) {
                $path = explode('.', $e->field);
                if (! str_starts_with($e->getMessage(), 'There is no such member') || ! self::without($json, $path)) {
                    break;
                }
                $unknown[] = $e->field;
            }
        }

        return $unknown;
    }

    /**
     * @param array<mixed> $json
     * @param list<string> $path
     */
    private static function without(array &$json, array $path): bool
    {
        $name = array_shift($path);
        if ($path !== [] && is_array($json[$name] ?? null)) {
            return self::without($json[$name], $path);
        }
        $isThere = $path === [] && array_key_exists((string) $name, $json);
        unset($json[$name]);

        return $isThere;
    }

    public function in(string $role): self
    {
        return self::read([...$this->toArray(), 'role' => $role]);
    }

    /** @return list<string> the names of the events that it looks at */
    public function events(): array
    {
        return $this->events;
    }

    /** @return list<string> selectors of the parts of pages that browsers have to watch for it */
    public function areas(): array
    {
        return array_values(array_filter(array_map(static fn (Step $step): ?string => $step->area, $this->steps), static fn (?string $area): bool => $area !== null));
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        $goal = ['key' => $this->key, 'name' => $this->name, 'kind' => $this->kind, 'role' => $this->role, 'count' => $this->count];
        if ($this->kind === 'steps') {
            $goal['steps'] = array_map(static fn (Step $step, bool $optional): array => [...$step->toArray(), ...($optional ? ['optional' => true] : [])], $this->steps, $this->optional);
            $goal += $this->within === null ? [] : ['within' => $this->within];
        } else {
            $goal = [...$goal, ...$this->steps[0]->toArray()];
        }
        if ($this->fixed !== null) {
            $goal['value'] = ['fixed' => $this->fixed];
        } elseif ($this->valueProp !== null && $this->kind !== 'order') {
            $goal['value'] = ['prop' => $this->valueProp];
        }

        return $this->currency === null ? $goal : [...$goal, 'currency' => $this->currency];
    }

    /**
     * @param Fields<InvalidGoal> $fields
     *
     * @return array{list<Step>, list<bool>}
     */
    private static function sequence(Fields $fields, bool $toBeKept): array
    {
        $steps = $optional = [];
        foreach ($fields->list('steps') as $i => $json) {
            [$steps[], $optional[]] = Fields::within("steps.{$i}", static function () use ($json, $toBeKept): array {
                $step = new Fields($json, InvalidGoal::class, 'A step');

                $read = [Step::from($step, Kind::from($step->word('kind', Kind::ofGoals(), 'page')), $toBeKept), $step->flag('optional')];
                $toBeKept && $step->nothingElse();

                return $read;
            }, InvalidGoal::class);
        }
        $required = count(array_filter($optional, static fn (bool $one): bool => ! $one));
        if ($required < 2 || count($steps) > self::MOST_STEPS) {
            throw new InvalidGoal('A sequence has at least two steps that are not optional, and at most '.self::MOST_STEPS.' in all.', 'steps');
        }

        return [$steps, $optional];
    }

    /** @param Fields<InvalidGoal> $fields */
    private static function within(Fields $fields): int
    {
        $seconds = $fields->number('within');
        if ($seconds !== floor($seconds) || $seconds < 1 || $seconds > self::LONGEST_WITHIN) {
            throw new InvalidGoal('A whole number of seconds is needed, up to 90 days.', 'within');
        }

        return (int) $seconds;
    }

    /**
     * @param Fields<InvalidGoal> $fields
     *
     * @return array{float|null, string|null} fixed value, property
     */
    private static function value(Fields $fields, string $kind, bool $toBeKept): array
    {
        if (! $fields->has('value')) {
            return [null, $kind === 'order' ? 'value' : null];
        }
        $value = $fields->part('value', static fn (mixed $json): Fields => new Fields($json, InvalidGoal::class, 'A value'));

        return $fields->part('value', static function () use ($value, $toBeKept): array {
            $read = match (true) {
                $value->has('fixed') && ! $value->has('prop') => [self::finite($value), null],
                $value->has('prop') && ! $value->has('fixed') => [null, $value->text('prop', 100)],
                default => throw new InvalidGoal('A value is {"fixed": 5} or {"prop": "value"}.'),
            };
            $toBeKept && $value->nothingElse();

            return $read;
        });
    }

    /** @param Fields<InvalidGoal> $value */
    private static function finite(Fields $value): float
    {
        $fixed = $value->number('fixed');

        return is_finite($fixed) && abs($fixed) < 1e9 ? $fixed : throw new InvalidGoal('A number under a thousand million is needed.', 'fixed');
    }
}
