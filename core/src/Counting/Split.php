<?php

declare(strict_types=1);

namespace Pellix\Core\Counting;

use Pellix\Core\Experiments\DeclaredVariant;
use Pellix\Core\Experiments\Epoch;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Statistics\EpochRatios;
use Pellix\Core\Statistics\SampleRatio;

/** How the units of an experiment split over its variants, epoch by epoch, beside what each epoch promised them. */
final readonly class Split
{
    /**
     * @param list<int>                                               $units    per variant: the units that count for it
     * @param list<float>                                             $expected per variant: as many as the weights of each epoch give of those who entered in it; the
     *                                                                          weights that are declared now where nobody entered yet
     * @param non-empty-list<array{counts: list<int>, weights: list<float>}> $epochs   units that entered in each, and its weights
     */
    private function __construct(public array $units, public array $expected, public array $epochs)
    {
    }

    /** @param callable(string): int $figure a figure of the experiment by its name (see `Figures::entry`), 0 where there is none */
    public static function of(Experiment $experiment, callable $figure): self
    {
        $variants = $experiment->variants;
        $units = array_map(static fn (DeclaredVariant $one): int => $figure("variant.{$one->variant->key}.units"), $variants);
        $declared = array_map(static fn (DeclaredVariant $one): float => $one->variant->weight, $variants);
        $expected = array_map(static fn (): float => 0.0, $variants);
        $epochs = [];
        foreach ($experiment->epochs ?: [null] as $i => $epoch) {
            $counts = array_map(static fn (DeclaredVariant $one): int => $figure("variant.{$one->variant->key}.epoch.{$i}.units"), $variants);
            $weights = $epoch === null ? $declared : self::weights($experiment, $epoch);
            $epochs[] = ['counts' => $counts, 'weights' => $weights];
            $sum = array_sum($weights);
            $entered = array_sum($counts);
            $expected = array_map(static fn (float $before, float $weight): float => $before + ($sum > 0 ? $entered * $weight / $sum : 0.0), $expected, $weights);
        }

        return new self($units, array_sum($units) === 0 || array_sum($expected) <= 0 ? $declared : $expected, $epochs);
    }

    public function test(float $alpha = SampleRatio::ALPHA): EpochRatios
    {
        return EpochRatios::test($this->epochs, $alpha);
    }

    /** @return list<float> per variant, in its order */
    private static function weights(Experiment $experiment, Epoch $epoch): array
    {
        return array_map(static fn (DeclaredVariant $one): float => $epoch->weights[$one->variant->key] ?? $one->variant->weight, $experiment->variants);
    }
}
