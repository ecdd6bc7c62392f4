<?php

declare(strict_types=1);

namespace Pellix\Core\Planning;

/** What follows from a plan: visitors and time for what is wanted, and what can be found in the time that was chosen. */
final readonly class Outcome
{
    /** So many weeks are in the picture, at least; and at most. */
    private const CURVE = [8, 26];

    /** Longer than that no test should take (common practice, no source): visitors lose their cookies, and the season changes. */
    public const LONG_WEEKS = 12;

    /**
     * @param Sizes|null  $sizes visitors for the wanted effect; null where none was said
     * @param Sizes|null  $exact by the exact calculation, where the approximation is poor
     * @param int|null    $days  whole days until they were there; null without traffic, or never
     * @param float|null  $found smallest difference (of a guardrail: margin) that the chosen days find; null without them, or where nothing is
     */
    private function __construct(public Plan $plan, public ?Sizes $sizes, public ?Sizes $exact, public ?int $days, public ?float $found)
    {
    }

    /** @throws InvalidAssumption */
    public static function of(Plan $plan): self
    {
        $planner = $plan->planner();
        $sizes = $plan->effect === null ? null : $planner->visitors($plan->effect);
        $exact = $plan->effect === null ? null : $planner->exactly($plan->effect);
        $needed = $exact ?? $sizes;
        $entered = $plan->days === null ? null : $plan->entered($plan->days / 7);

        return new self(
            $plan,
            $sizes,
            $exact,
            $needed === null ? null : $plan->daysFor($needed->total()),
            $entered === null ? null : self::smallest($plan, $entered),
        );
    }

    /** Whole weeks that it takes. */
    public function weeks(): ?int
    {
        return $this->days === null ? null : (int) ceil($this->days / 7);
    }

    /** What is needed: by the exact calculation where there is one. */
    public function needed(): ?Sizes
    {
        return $this->exact ?? $this->sizes;
    }

    /** Whether the approximation is poor, and nothing better could be worked out. */
    public function isOnlyRough(): bool
    {
        return $this->sizes !== null && $this->exact === null && $this->plan->effect !== null && $this->plan->planner()->isPoor($this->plan->effect, $this->sizes);
    }

    /** Weeks until even a doubling of the baseline was found; null where nobody knows. */
    public function weeksForDoubling(): ?int
    {
        $measure = $this->plan->measure;
        if (! $measure instanceof Proportions || $measure->baseline() >= 0.5) {
            return null;
        }
        $planner = $this->plan->planner();
        $days = $this->plan->daysFor(($planner->exactly($measure->baseline()) ?? $planner->visitors($measure->baseline()))->total());

        return $days === null ? null : (int) ceil($days / 7);
    }

    /** @return list<array{weeks: int, visitors: int, points: float|null, lift: float|null}> the smallest effect that each number of weeks finds */
    public function curve(): array
    {
        if ($this->plan->traffic === null) {
            return [];
        }
        $last = min(self::CURVE[1], max(self::CURVE[0], ($this->weeks() ?? 0) + 4, (int) ceil(($this->plan->days ?? 0) / 7) + 2));
        $curve = [];
        for ($weeks = 1; $weeks <= $last; $weeks++) {
            $entered = (float) $this->plan->entered($weeks);
            $points = self::smallest($this->plan, $entered);
            $curve[] = ['weeks' => $weeks, 'visitors' => (int) floor($entered), 'points' => $points, 'lift' => $points === null ? null : $this->plan->lift($points)];
        }

        return $curve;
    }

    /**
     * @return array{kind: string, per_variant: list<int>|null, total: int|null, days: int|null, weeks: int|null, alpha: float, alpha_each: float, power: float,
     *               points: float|null, lift: float|null, exact: array{per_variant: list<int>, total: int, test: string}|null,
     *               finds: array{points: float, lift: float|null}|null, words: string, warnings: list<array{code: string, words: string}>, assumptions: list<string>}
     */
    public function toArray(): array
    {
        $words = new PlanWords($this);

        return [
            'kind' => $this->plan->measure->kind(),
            'per_variant' => $this->sizes?->each,
            'total' => $this->sizes?->total(),
            'days' => $this->days,
            'weeks' => $this->weeks(),
            'alpha' => $this->plan->demand->alpha,
            'alpha_each' => $this->plan->demand->each(),
            'power' => $this->plan->demand->power,
            'points' => $this->plan->effect === null ? null : round($this->plan->effect, 12),
            'lift' => $this->plan->effect === null ? null : $this->plan->lift($this->plan->effect),
            'exact' => $this->exact === null ? null : ['per_variant' => $this->exact->each, 'total' => $this->exact->total(), 'test' => 'fisher'],
            'finds' => $this->found === null ? null : ['points' => $this->found, 'lift' => $this->plan->lift($this->found)],
            'words' => $words->sentence(),
            'warnings' => array_map(static fn (Warning $warning): array => $warning->toArray(), Warnings::of($this)),
            'assumptions' => $words->assumptions(),
        ];
    }

    private static function smallest(Plan $plan, float $entered): ?float
    {
        return $entered < 2 * count($plan->weights) ? null : $plan->planner()->smallest($entered, ($plan->effect ?? 0) < 0 && ! $plan->measure instanceof NotWorse ? -1 : 1);
    }
}
