<?php

declare(strict_types=1);

namespace Pellix\Core\Planning;

use Pellix\Core\Formats\Fields;
use Pellix\Core\Formats\Moment;

/** What an experiment is planned with: what was assumed, what is wanted, and by whom. `docs/formats.md` has its JSON. */
final readonly class Plan
{
    /** What of the goal, or of the visit, is compared. */
    public const MEASURES = ['rate', 'value', 'bounce', 'engaged'];

    private const MOST_DAYS = 400;

    /**
     * @param string|null             $goal    key of the goal that it is for
     * @param float|null              $effect  wanted difference in units of the measure; null where none was said
     * @param list<float>             $weights the control first
     * @param float                   $share   part of the eligible visitors that enters
     * @param int|null                $days    how long it is to run; null for as long as it takes
     * @param \DateTimeImmutable|null $madeAt
     */
    private function __construct(
        public ?string $goal,
        public Measure $measure,
        public Demand $demand,
        public ?float $effect,
        public array $weights,
        public float $share,
        public ?Traffic $traffic,
        public ?int $days,
        public ?string $madeBy,
        public ?\DateTimeImmutable $madeAt,
        /** @var array<string, mixed> as it was read */
        private array $json,
    ) {
    }

    /** @throws InvalidAssumption with the path of the field at fault */
    public static function read(mixed $json): self
    {
        $fields = new Fields($json, InvalidAssumption::class, 'A plan');
        $goal = $fields->has('goal') ? $fields->text('goal', 60) : null;
        $fields->word('measure', self::MEASURES, 'rate');
        $measure = self::measure($fields);
        $weights = [];
        foreach ($fields->has('weights') ? $fields->list('weights') : [1, 1] as $i => $weight) {
            $weights[] = is_int($weight) || is_float($weight) ? (float) $weight : throw new InvalidAssumption('A weight is a number.', "weights.{$i}");
        }
        $guards = $measure instanceof NotWorse;
        /** @var array<string, mixed> $json an object, as `Fields` has seen to */
        $demand = Demand::of(
            $fields->number('alpha', Demand::ALPHA),
            $fields->number('power', Demand::POWER),
            self::whole($fields, 'sides', $guards ? 1 : 2, 2),
            max(1, count($weights) - 1),
            $fields->word('comparisons', ['holm', 'none'], 'holm') === 'holm',
        );
        $share = $fields->number('share', 1.0);
        if (! ($share > 0 && $share <= 1)) {
            throw new InvalidAssumption('A share lies above 0 and is at most 1.', 'share');
        }
        $plan = new self(
            $goal,
            $measure,
            $demand,
            self::effect($fields, $measure),
            $weights,
            $share,
            self::traffic($fields),
            $fields->has('days') ? self::whole($fields, 'days', 1, self::MOST_DAYS) : null,
            $fields->has('made_by') ? $fields->text('made_by', 120) : null,
            $fields->moment('made_at'),
            array_filter($json, static fn (mixed $value): bool => $value !== null),
        );
        $fields->nothingElse();
        $plan->planner();

        return $plan;
    }

    /** @throws InvalidAssumption */
    public function planner(): Planner
    {
        return Planner::of($this->measure, $this->demand, $this->weights);
    }

    /** How many visitors have entered after so many weeks; null where nothing is known of them. */
    public function entered(float $weeks): ?float
    {
        return $this->traffic === null ? null : $this->share * $this->traffic->visitors($weeks);
    }

    /** How many days it takes until so many have entered; null where nobody knows, or never. */
    public function daysFor(float $visitors): ?int
    {
        return $this->traffic?->days($visitors / $this->share);
    }

    /** The wanted difference as a part of the baseline; null where there is no baseline to compare with. */
    public function lift(float $difference): ?float
    {
        // What rounding errors add, nobody has typed.
        return $this->measure->baseline() == 0.0 ? null : round($difference / abs($this->measure->baseline()), 12);
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return [...$this->json, ...($this->madeAt === null ? [] : ['made_at' => Moment::format($this->madeAt)])];
    }

    /** @param Fields<InvalidAssumption> $fields */
    private static function measure(Fields $fields): Measure
    {
        $isMean = $fields->has('mean') || $fields->has('sd');
        if ($isMean && $fields->has('baseline')) {
            throw new InvalidAssumption('A plan is for a rate (baseline) or for a mean (mean and sd), not for both.', 'baseline');
        }
        $measure = $isMean ? Means::of($fields->number('mean'), $fields->number('sd')) : Proportions::of($fields->number('baseline'));

        return $fields->has('margin') ? NotWorse::of($measure, $fields->number('margin')) : $measure;
    }

    /** @param Fields<InvalidAssumption> $fields */
    private static function effect(Fields $fields, Measure $measure): ?float
    {
        if ($fields->has('lift') && $fields->has('points')) {
            throw new InvalidAssumption('Say the effect once: relative (lift), or as a difference (points).', 'points');
        }
        if (! $fields->has('lift') && ! $fields->has('points')) {
            return $measure instanceof NotWorse ? 0.0 : null;
        }
        if ($fields->has('lift') && $measure->baseline() == 0.0) {
            throw new InvalidAssumption('Of nothing there is no relative change; say the difference (points) instead.', 'lift');
        }
        $name = $fields->has('lift') ? 'lift' : 'points';
        $effect = $fields->number($name) * ($name === 'lift' ? abs($measure->baseline()) : 1);
        if (! is_finite($effect) || ($effect == 0.0 && ! $measure instanceof NotWorse)) {
            throw new InvalidAssumption('An effect that is to be found is not 0.', $name);
        }
        if ($measure instanceof Proportions) {
            Fields::within('', static fn (): float => $measure->other($effect), InvalidAssumption::class);
        }

        return $effect;
    }

    /** @param Fields<InvalidAssumption> $fields */
    private static function traffic(Fields $fields): ?Traffic
    {
        if ($fields->has('daily') && $fields->has('within')) {
            throw new InvalidAssumption('Say the traffic once: visitors a day (daily), or different visitors within weeks (within).', 'daily');
        }

        return match (true) {
            $fields->has('daily') => Traffic::daily($fields->number('daily')),
            $fields->has('within') => Traffic::measured($fields->list('within')),
            default => null,
        };
    }

    /** @param Fields<InvalidAssumption> $fields */
    private static function whole(Fields $fields, string $name, int $default, int $most): int
    {
        $value = $fields->number($name, (float) $default);

        return $value === floor($value) && $value >= 1 && $value <= $most ? (int) $value
            : throw new InvalidAssumption("A whole number from 1 to {$most} is needed.", $name);
    }
}
