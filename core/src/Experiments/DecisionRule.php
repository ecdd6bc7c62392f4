<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

use Pellix\Core\Formats\Fields;

/** How an experiment is to be decided, said before it starts: by whom, from what size of effect on, and what may not get worse. */
final readonly class DecisionRule
{
    /** By a person; by the primary goal at the planned end; by that, unless a guardrail has fallen below its margin. */
    public const BY = ['person', 'primary', 'guarded'];

    private const MOST_GOALS = 30;
    private const MOST_PROPERTIES = 5;
    private const MOST_EARLIER_DAYS = 90;
    private const LARGEST = 1e12;

    /**
     * @param string               $by          one of BY
     * @param bool                 $acts        whether Pellix acts on its own proposal at the planned end, without a person who confirms it
     * @param float|null           $worthwhile  the smallest difference of the primary goal that is worth having, in units of its measure (a rate: 0.02 for two points)
     * @param array<string, float> $margins     key of a guardrail => by how much it may get worse, above 0, in units of its measure
     * @param array<string, float> $caps        key of a goal with a value => a visitor's value above that counts as that
     * @param list<string>         $lower       keys of goals of which less is better
     * @param int|null             $earlierDays so many days before the first exposure are looked at for variance reduction; null for none
     * @param list<string>         $properties  own properties of the exposure that visitors are told apart by
     */
    private function __construct(
        public string $by,
        public bool $acts,
        public ?float $worthwhile,
        public array $margins,
        public array $caps,
        public array $lower,
        public ?int $earlierDays,
        public array $properties,
    ) {
    }

    /**
     * From `{"by":"guarded","worthwhile":0.02,"margins":{"searched":0.01},"caps":{"donated":500},"lower":["complained"],"earlier_days":14,"properties":["plan"]}`;
     * null stands for nothing declared.
     *
     * @throws InvalidExperiment
     */
    public static function read(mixed $json): self
    {
        $fields = new Fields($json ?? [], InvalidExperiment::class, 'A decision rule');
        $by = $fields->word('by', self::BY, 'person');
        $acts = $fields->flag('acts');
        if ($acts && $by === 'person') {
            throw new InvalidExperiment('What a person decides, Pellix does not act on by itself: choose another rule, or leave this out.', 'acts');
        }
        $worthwhile = $fields->has('worthwhile') ? self::above($fields->number('worthwhile'), 'worthwhile') : null;
        $rule = new self(
            $by,
            $acts,
            $worthwhile,
            self::numbers($fields, 'margins'),
            self::numbers($fields, 'caps'),
            self::keys($fields, 'lower'),
            $fields->has('earlier_days') ? self::days($fields) : null,
            self::properties($fields),
        );
        $fields->nothingElse();

        return $rule;
    }

    public function isEmpty(): bool
    {
        return $this->toArray() === ['by' => 'person'];
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return array_filter([
            'by' => $this->by, 'acts' => $this->acts ?: null, 'worthwhile' => $this->worthwhile, 'margins' => $this->margins ?: null, 'caps' => $this->caps ?: null,
            'lower' => $this->lower ?: null, 'earlier_days' => $this->earlierDays, 'properties' => $this->properties ?: null,
        ], static fn (mixed $value): bool => $value !== null);
    }

    private static function above(float $number, string $field): float
    {
        return $number > 0 && $number <= self::LARGEST ? $number : throw new InvalidExperiment('A number above 0 is needed.', $field);
    }

    /**
     * @param Fields<InvalidExperiment> $fields
     *
     * @return array<string, float>
     */
    private static function numbers(Fields $fields, string $name): array
    {
        $numbers = [];
        $json = $fields->has($name) ? $fields->raw($name) : [];
        if (! is_array($json) || ($json !== [] && array_is_list($json))) {
            throw new InvalidExperiment('An object is needed: the key of a goal, and a number.', $name);
        }
        foreach ($json as $key => $number) {
            $numbers[(string) $key] = is_int($number) || is_float($number) ? self::above((float) $number, "{$name}.{$key}") : throw new InvalidExperiment('A number above 0 is needed.', "{$name}.{$key}");
        }

        return count($numbers) <= self::MOST_GOALS ? $numbers : throw new InvalidExperiment('At most '.self::MOST_GOALS.' goals can be named.', $name);
    }

    /**
     * @param Fields<InvalidExperiment> $fields
     *
     * @return list<string>
     */
    private static function keys(Fields $fields, string $name): array
    {
        $keys = [];
        foreach ($fields->list($name) as $i => $key) {
            $keys[] = is_string($key) && $key !== '' ? $key : throw new InvalidExperiment('The key of a goal is needed.', "{$name}.{$i}");
        }

        return count($keys) <= self::MOST_GOALS ? $keys : throw new InvalidExperiment('At most '.self::MOST_GOALS.' goals can be named.', $name);
    }

    /**
     * @param Fields<InvalidExperiment> $fields
     *
     * @return list<string>
     */
    private static function properties(Fields $fields): array
    {
        $properties = [];
        foreach ($fields->list('properties') as $i => $name) {
            $properties[] = is_string($name) && preg_match('/\A[A-Za-z_][A-Za-z0-9_]{0,39}\z/', $name) === 1 ? $name
                : throw new InvalidExperiment('A property is named by letters, digits and "_", up to 40.', "properties.{$i}");
        }

        return count($properties) <= self::MOST_PROPERTIES ? $properties : throw new InvalidExperiment('Visitors are told apart by at most '.self::MOST_PROPERTIES.' properties.', 'properties');
    }

    /** @param Fields<InvalidExperiment> $fields */
    private static function days(Fields $fields): int
    {
        $days = $fields->number('earlier_days');

        return $days === floor($days) && $days >= 1 && $days <= self::MOST_EARLIER_DAYS ? (int) $days
            : throw new InvalidExperiment('A whole number of days from 1 to '.self::MOST_EARLIER_DAYS.' is needed.', 'earlier_days');
    }
}
