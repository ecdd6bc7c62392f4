<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

/** What a declared rule says at the planned end: which variant is kept, and why. */
final readonly class Proposal
{
    private function __construct(public string $choice, public string $because)
    {
    }

    /** Null where a person decides, or the end has not come. */
    public static function of(Readout $readout): ?self
    {
        $rule = $readout->subject->experiment->decision;
        $primary = $readout->primary();
        $leading = $primary?->leading();
        if ($rule->by === 'person' || ! $readout->look->isOver || $primary === null || $leading === null) {
            return null;
        }
        $control = $primary->control();
        if ($leading->verdict !== Verdict::Better) {
            return new self($control->key, "“{$control->name}” is kept: no variant was shown to be better in “{$primary->item->name}”, by the rule that was declared.");
        }
        $fallen = self::fallen($readout, $leading->key);
        if ($rule->by === 'guarded' && $fallen !== []) {
            return new self($control->key, "“{$control->name}” is kept: “{$leading->name}” is better in “{$primary->item->name}”, and falls below the margin of ".implode(', ', $fallen).', which the rule does not allow.');
        }
        $worthwhile = $rule->worthwhile;
        $points = $leading->estimate === null ? 0.0 : $leading->estimate->points;

        return $worthwhile !== null && abs($points) < $worthwhile
            ? new self($control->key, "“{$control->name}” is kept: “{$leading->name}” is better in “{$primary->item->name}” by ".Amounts::size($primary->item, $points).', and '.Amounts::size($primary->item, $worthwhile).' were to be worth it.')
            : new self($leading->key, "“{$leading->name}” is kept: it is better in “{$primary->item->name}”, by the rule that was declared.");
    }

    /** @return list<string> names of the guardrails that a variant harms */
    private static function fallen(Readout $readout, string $variant): array
    {
        $fallen = [];
        foreach ($readout->goals as $goal) {
            foreach ($goal->item->role === 'guardrail' ? $goal->variants : [] as $one) {
                if ($one->key === $variant && $one->verdict === Verdict::Worse) {
                    $fallen[] = "“{$goal->item->name}”";
                }
            }
        }

        return $fallen;
    }

    /** @return array{choice: string, because: string} */
    public function toArray(): array
    {
        return ['choice' => $this->choice, 'because' => $this->because];
    }
}
