<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

use Pellix\Core\Experiments\DeclaredVariant;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Goals\Goal;

/** What is read out of an experiment: its variants, and the items that they are compared by. */
final readonly class Subject
{
    public const MOST_VARIANTS = 60;
    public const MOST_GOALS = 30;

    /** @var non-empty-list<string> keys, in their order */
    public array $variants;

    /** Place of the control among them. */
    public int $control;

    /** @var list<Item> goals first, the primary one before the others; then what is measured of visits */
    public array $items;

    /**
     * @param list<Goal>|null $goals null for the experiment's own
     *
     * @throws InvalidReadout
     */
    public function __construct(public Experiment $experiment, ?array $goals = null)
    {
        if (count($experiment->variants) > self::MOST_VARIANTS) {
            throw new InvalidReadout('A readout compares '.self::MOST_VARIANTS.' variants at most.', 'variants');
        }
        /** @var non-empty-list<string> $keys an experiment has two at least */
        $keys = array_map(static fn (DeclaredVariant $one): string => $one->variant->key, $experiment->variants);
        $this->variants = $keys;
        $control = 0;
        foreach ($experiment->variants as $i => $one) {
            $control = $one->variant->isControl ? $i : $control;
        }
        $this->control = $control;
        $this->items = self::items($experiment, array_slice($goals ?? $experiment->goals, 0, self::MOST_GOALS));
    }

    /**
     * @param list<Goal> $goals
     *
     * @return list<Item>
     */
    private static function items(Experiment $experiment, array $goals): array
    {
        $rule = $experiment->decision;
        $plan = $experiment->plan;
        $planned = $plan?->toArray()['measure'] ?? 'rate';
        $ofVisit = is_string($planned) ? Visit::ofPlan($planned) : null;
        // Where several are called primary the first decides; where none is, the first goal; where the plan is for visits, that.
        $primary = $ofVisit !== null ? null : (array_values(array_filter($goals, static fn (Goal $goal): bool => $goal->role === 'primary'))[0] ?? $goals[0] ?? null);
        $items = [];
        foreach ($goals as $goal) {
            $isPrimary = $goal === $primary;
            $role = $isPrimary ? 'primary' : ($goal->role === 'primary' ? 'secondary' : $goal->role);
            $isPlanned = $plan !== null && ($plan->goal === $goal->key || ($plan->goal === null && $isPrimary));
            $items[] = Item::ofGoal(
                $goal->in($role),
                $isPlanned && $planned === 'rate' && $plan->measure->kind() === 'proportion',
                in_array($goal->key, $rule->lower, true),
                $role === 'guardrail' ? $rule->margins[$goal->key] ?? null : null,
                $isPrimary ? $rule->worthwhile ?? ($isPlanned && $plan->effect !== null ? abs($plan->effect) : null) : null,
                $rule->caps[$goal->key] ?? null,
            );
        }
        usort($items, static fn (Item $a, Item $b): int => ($b->role === 'primary' ? 1 : 0) <=> ($a->role === 'primary' ? 1 : 0));
        foreach (Visit::cases() as $visit) {
            $isPrimary = $visit === $ofVisit;
            $margin = $rule->margins[$visit->value] ?? null;
            $item = Item::ofVisit($visit, $isPrimary ? 'primary' : ($margin === null ? 'visit' : 'guardrail'), $margin, $isPrimary ? $rule->worthwhile ?? ($plan?->effect === null ? null : abs($plan->effect)) : null);
            $isPrimary ? array_unshift($items, $item) : $items[] = $item;
        }

        return $items;
    }

    public function primary(): ?Item
    {
        return isset($this->items[0]) && $this->items[0]->role === 'primary' ? $this->items[0] : null;
    }

    public function name(int $variant): string
    {
        return $this->experiment->variants[$variant]->name;
    }
}
