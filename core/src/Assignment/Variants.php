<?php

declare(strict_types=1);

namespace Pellix\Core\Assignment;

/** The variants of one experiment in their declared order, which is part of the assignment. */
final readonly class Variants
{
    /** @param non-empty-list<Variant> $all */
    private function __construct(public array $all)
    {
    }

    /**
     * @param list<Variant> $variants at least two, keys distinct, weights with a positive sum, at most one control
     *
     * @throws InvalidAssignment
     */
    public static function of(array $variants): self
    {
        if (count($variants) < 2) {
            throw new InvalidAssignment('An experiment has at least two variants.');
        }
        $seen = [];
        $controls = 0;
        foreach ($variants as $i => $variant) {
            if (isset($seen[$variant->key])) {
                throw new InvalidAssignment("The key \"{$variant->key}\" is taken by an earlier variant.", "{$i}.key");
            }
            $seen[$variant->key] = true;
            if ($variant->isControl && ++$controls > 1) {
                throw new InvalidAssignment('An experiment has one control.', "{$i}.control");
            }
        }
        $sum = array_sum(array_column($variants, 'weight'));
        if (! is_finite($sum) || $sum <= 0) {
            throw new InvalidAssignment('The weights need a positive sum.');
        }

        return new self($variants);
    }

    /** @return non-empty-list<string> */
    public function keys(): array
    {
        return array_map(static fn (Variant $v): string => $v->key, $this->all);
    }

    /**
     * Where each variant's stretch of [0, 1) ends: its cumulative weight fraction.
     *
     * One running sum in declared order, divided once, so that whoever follows this text gets the same doubles.
     *
     * @return non-empty-list<float>
     */
    public function ends(): array
    {
        $total = 0.0;
        foreach ($this->all as $variant) {
            $total += $variant->weight;
        }
        $sum = 0.0;
        $ends = [];
        foreach ($this->all as $variant) {
            $sum += $variant->weight;
            $ends[] = $sum / $total;
        }

        return $ends;
    }

    /** @return non-empty-list<float> */
    public function weights(): array
    {
        return array_map(static fn (Variant $v): float => $v->weight, $this->all);
    }
}
