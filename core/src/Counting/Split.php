<?php

declare(strict_types=1);

namespace Pellix\Core\Counting;

use Pellix\Core\Experiments\DeclaredVariant;
use Pellix\Core\Experiments\Experiment;

/** How the units of an experiment split over its variants, beside how its epochs promised them to. */
final readonly class Split
{
    /**
     * @param list<int>   $units    per variant: the units that count for it
     * @param list<float> $expected per variant: as many as the weights of each epoch give of those who entered in it; the weights
     *                              that are declared now where nobody entered yet
     */
    private function __construct(public array $units, public array $expected)
    {
    }

    /** @param callable(string): int $figure a figure of the experiment by its name (see `Figures::entry`), 0 where there is none */
    public static function of(Experiment $experiment, callable $figure): self
    {
        $variants = $experiment->variants;
        $units = array_map(static fn (DeclaredVariant $one): int => $figure("variant.{$one->variant->key}.units"), $variants);
        $declared = array_map(static fn (DeclaredVariant $one): float => $one->variant->weight, $variants);
        $expected = array_map(static fn (): float => 0.0, $variants);
        foreach (array_keys($experiment->epochs) ?: [0] as $epoch) {
            $entered = array_sum(array_map(static fn (DeclaredVariant $one): int => $figure("variant.{$one->variant->key}.epoch.{$epoch}.units"), $variants));
            $weights = isset($experiment->epochs[$epoch])
                ? array_map(static fn (DeclaredVariant $one): float => $experiment->epochs[$epoch]->weights[$one->variant->key] ?? $one->variant->weight, $variants)
                : $declared;
            $sum = array_sum($weights);
            $expected = array_map(static fn (float $before, float $weight): float => $before + ($sum > 0 ? $entered * $weight / $sum : 0.0), $expected, $weights);
        }

        return new self($units, array_sum($units) === 0 || array_sum($expected) <= 0 ? $declared : $expected);
    }
}
