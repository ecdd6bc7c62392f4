<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

use Pellix\Core\Statistics\Beta;
use Pellix\Core\Statistics\BetterRate;
use Pellix\Core\Statistics\Holm;
use Pellix\Core\Statistics\Normal;

/** All variants in one item. */
final readonly class Comparison
{
    /**
     * @param non-empty-list<VariantResult> $variants    in their order
     * @param bool                          $naiveDiffers whether adding the epochs up would turn the sign of a difference
     * @param bool                          $isJoined    whether several epochs were joined
     */
    private function __construct(public Item $item, public Look $look, public array $variants, public bool $naiveDiffers, public bool $isJoined)
    {
    }

    /**
     * @param non-empty-list<array{key: string, name: string, control: bool}> $variants
     * @param non-empty-list<array<int, Sample>>                              $samples of each variant: epoch => sample
     * @param bool                                                            $reduces whether what visitors did before is taken off, too
     */
    public static function of(Item $item, array $variants, array $samples, Look $look, bool $reduces = false): self
    {
        $control = (int) array_search(true, array_column($variants, 'control'), true);
        $comparing = $estimates = $reduced = [];
        $theta = $reduces ? Reduced::theta($samples) : null;
        foreach ($samples as $i => $own) {
            if ($i === $control) {
                continue;
            }
            $one = Comparing::of($item->measure, $own, $samples[$control], $look->level);
            if ($one !== null) {
                $comparing[$i] = $one;
                $estimates[$i] = $look->isAnytime ? $one->anytime(self::pair($look, $samples, $i, $control)) : $one->planned();
                $reduced[$i] = $theta === null ? null : Reduced::estimate($theta, $own, $samples[$control], $look, self::pair($look, $samples, $i, $control));
            }
        }
        $adjusted = Holm::adjust(array_map(static fn (Estimate $one): float => $one->logP, $estimates));
        $isJoined = array_filter($comparing, static fn (Comparing $one): bool => $one->isJoined()) !== [];
        $losses = self::losses($item, $samples, $estimates, $control, $isJoined);
        $values = self::values($samples);
        $results = [];
        foreach ($samples as $i => $own) {
            $estimate = $estimates[$i] ?? null;
            $logP = $adjusted[$i] ?? 0.0;
            $results[] = new VariantResult(
                $variants[$i]['key'],
                $variants[$i]['name'],
                $i === $control,
                self::all($item->measure, $own),
                $values[$i],
                $estimate,
                $logP,
                $losses[$i] ?? null,
                $estimate === null ? null : Verdict::of($item, $estimate, $logP, $look),
                $reduced[$i] ?? null,
            );
        }
        /** @var non-empty-list<VariantResult> $results as many as samples */
        $naive = array_filter($comparing, static fn (Comparing $one, int $i): bool => $one->isJoined() && $one->wouldPoolingTurn($estimates[$i]->points), ARRAY_FILTER_USE_BOTH);

        return new self($item, $look, $results, $naive !== [], $isJoined);
    }

    /**
     * Units of a variant and the control at the planned end, as they come.
     *
     * @param list<array<int, Sample>> $samples
     */
    public static function pair(Look $look, array $samples, int $variant, int $control): ?int
    {
        $units = array_map(static fn (array $own): int => array_sum(array_map(static fn (Sample $one): int => $one->n, $own)), $samples);

        return $look->planned === null ? null : max(2, (int) round($look->planned * ($units[$variant] + $units[$control]) / max(1, array_sum($units))));
    }

    /**
     * All epochs together: for counting, never for comparing.
     *
     * @param array<int, Sample> $epochs
     */
    public static function all(Measure $measure, array $epochs): Sample
    {
        return array_reduce($epochs, static fn (Sample $sum, Sample $one): Sample => $sum->plus($one), Sample::none($measure));
    }

    /**
     * The value of each variant: each epoch's counts with the part of all units that entered in it, over the epochs that all have units in that
     * are still compared (direct standardisation: Rothman, Greenland, Lash, "Modern Epidemiology", 3rd edition 2008, chapter 15).
     *
     * @param non-empty-list<array<int, Sample>> $samples
     *
     * @return non-empty-list<float|null>
     */
    public static function values(array $samples): array
    {
        $units = [];
        foreach ($samples as $variant => $epochs) {
            foreach ($epochs as $epoch => $sample) {
                if ($sample->isUsable()) {
                    $units[$epoch][$variant] = $sample->n;
                }
            }
        }
        ksort($units);
        $last = $units === [] ? [] : array_keys($units[array_key_last($units)]);
        $shared = array_filter($units, static fn (array $own): bool => array_diff($last, array_keys($own)) === []);

        return array_map(static function (int $variant) use ($samples, $shared): ?float {
            $own = array_filter($shared, static fn (array $units): bool => isset($units[$variant]));
            $all = array_sum(array_map(array_sum(...), $own));

            return $all === 0 ? null : array_sum(array_map(static fn (int $epoch): float => array_sum($own[$epoch]) / $all * (float) $samples[$variant][$epoch]->value(), array_keys($own)));
        }, array_keys($samples));
    }

    /**
     * @param non-empty-list<array<int, Sample>> $samples
     * @param array<int, Estimate>               $estimates
     *
     * @return array<int, float|null>
     */
    private static function losses(Item $item, array $samples, array $estimates, int $control, bool $isJoined): array
    {
        if ($item->measure === Measure::Rate && ! $isJoined) {
            // Of rates exactly, against the best of all.
            $rates = [];
            foreach ($samples as $i => $own) {
                $all = self::all($item->measure, $own);
                if ($all->n > 0) {
                    $rates[$i] = $item->isLower ? Beta::after($all->n - $all->reached, $all->n) : Beta::after($all->reached, $all->n);
                }
            }

            return $rates === [] ? [] : array_combine(array_keys($rates), BetterRate::shortfalls(array_values($rates)));
        }
        $sign = $item->isLower ? -1 : 1;
        $loss = static fn (Estimate $one, int $sign): ?float => is_finite($one->error) ? Normal::shortfall($sign * $one->points, $one->error) : null;
        $losses = array_map(static fn (Estimate $one): ?float => $loss($one, $sign), $estimates);
        // Choosing the control costs what the only other one may bring; of several nobody adds that up here.
        $losses[$control] = count($estimates) === 1 ? $loss(array_values($estimates)[0], -$sign) : null;

        return $losses;
    }

    public function control(): VariantResult
    {
        foreach ($this->variants as $one) {
            if ($one->isControl) {
                return $one;
            }
        }

        return $this->variants[0];
    }

    /** The variant that the verdict speaks of: the best of those that are better, or of all where none is. */
    public function leading(): ?VariantResult
    {
        $sign = $this->item->isLower ? -1 : 1;
        $others = array_values(array_filter($this->variants, static fn (VariantResult $one): bool => $one->estimate !== null));
        // Of a guardrail the worst one counts.
        [$telling, $way] = $this->item->role === 'guardrail' ? [Verdict::Worse, -$sign] : [Verdict::Better, $sign];
        usort($others, static fn (VariantResult $a, VariantResult $b): int => ($b->verdict === $telling) <=> ($a->verdict === $telling)
            ?: $way * (self::points($b) <=> self::points($a)));

        return $others[0] ?? null;
    }

    private static function points(VariantResult $one): float
    {
        return $one->estimate === null ? 0.0 : $one->estimate->points;
    }

    /** Where there is nothing to compare yet it is too early. */
    public function verdict(): Verdict
    {
        return $this->leading()->verdict ?? Verdict::TooEarly;
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        $isOneOfMany = count($this->variants) > 2;

        return [
            'key' => $this->item->key, 'name' => $this->item->name, 'role' => $this->item->role, 'measure' => $this->item->measure->value, 'currency' => $this->item->currency,
            'lower_is_better' => $this->item->isLower, 'margin' => $this->item->margin, 'worthwhile' => $this->item->worthwhile, 'cap' => $this->item->cap,
            'joined' => $this->isJoined, 'naive_differs' => $this->naiveDiffers,
            'variants' => array_map(fn (VariantResult $one): array => $one->toArray($this->item, $isOneOfMany), $this->variants),
            'verdict' => $this->verdict()->value,
            'sentence' => Sentence::of($this),
        ];
    }
}
