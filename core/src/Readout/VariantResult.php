<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

/** One variant in one item. */
final readonly class VariantResult
{
    /**
     * @param Sample        $all      of all epochs together: for counting, never for comparing
     * @param float|null    $value    rate, mean or ratio; of several epochs joined by the part of all units that entered in each
     * @param Estimate|null $estimate against the control; null of the control, and where there is nothing to compare
     * @param float         $logP     of that, adjusted for the number of variants (Holm)
     * @param float|null    $loss     what is lost on average by choosing it, in units of the measure
     * @param Estimate|null $reduced  the same comparison with what visitors did before taken off
     */
    public function __construct(
        public string $key,
        public string $name,
        public bool $isControl,
        public Sample $all,
        public ?float $value,
        public ?Estimate $estimate,
        public float $logP,
        public ?float $loss,
        public ?Verdict $verdict,
        public ?Estimate $reduced,
    ) {
    }

    /**
     * @param bool $isOneOfMany whether p-values were adjusted
     *
     * @return array<string, mixed>
     */
    public function toArray(Item $item, bool $isOneOfMany): array
    {
        $all = $this->all;
        $isRate = $item->measure === Measure::Rate;

        return [
            'key' => $this->key,
            'control' => $this->isControl,
            'n' => $all->n,
            'hits' => $item->goal === null && ! $isRate ? null : $all->hits,
            'rate' => match (true) {
                $isRate => $this->value,
                $item->goal !== null && $all->n > 0 => $all->reached / $all->n,
                default => null,
            },
            'mean' => $isRate ? null : $this->value,
            'sd' => $isRate || $all->n < 2 || $item->measure === Measure::Ratio ? null : sqrt($all->spread()),
            ...($item->cap === null ? [] : ['capped' => $all->capped]),
            ...($this->isControl ? [] : [
                'difference' => $this->estimate === null ? null : self::difference($this->estimate, $this->logP, $isOneOfMany),
                'relative' => $this->estimate?->relative === null ? null : ['value' => $this->estimate->relative, 'low' => self::end($this->estimate->relatives?->low), 'high' => self::end($this->estimate->relatives?->high)],
                'better' => $this->estimate === null ? null : ($item->isLower ? 1 - $this->estimate->chance : $this->estimate->chance),
            ]),
            'expected_loss' => $this->loss,
            ...($this->isControl ? [] : ['verdict' => $this->verdict?->value]),
            'told' => [
                'value' => Amounts::value($item, $this->value),
                ...($this->estimate === null ? [] : [
                    'difference' => Amounts::signed($item, $this->estimate->points),
                    'interval' => Amounts::interval($item, $this->estimate->interval),
                    'relative' => $this->estimate->relative === null ? null : Amounts::relative($this->estimate->relative),
                ]),
                'loss' => $this->loss === null ? null : Amounts::size($item, $this->loss),
            ],
            ...($this->reduced === null ? [] : ['reduced' => self::difference($this->reduced, $this->reduced->logP, false)]),
        ];
    }

    /** @return array<string, mixed> */
    private static function difference(Estimate $estimate, float $logP, bool $isOneOfMany): array
    {
        return [
            'points' => $estimate->points, 'low' => self::end($estimate->interval->low), 'high' => self::end($estimate->interval->high),
            'p' => exp($logP), ...($isOneOfMany ? ['p_raw' => exp($estimate->logP)] : []), 'test' => $estimate->test,
        ];
    }

    /** JSON has no infinity. */
    private static function end(?float $end): ?float
    {
        return $end !== null && is_finite($end) ? $end : null;
    }
}
