<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

use Pellix\Core\Statistics\FalseDiscovery;
use Pellix\Core\Statistics\InverseVariance;

/**
 * The difference of an item in parts of the visitors. Whoever looks at many parts finds something in one of them by chance alone: so
 * p-values are adjusted over all of them (Benjamini, Hochberg 1995), and whether the parts of a dimension differ from each other at all
 * is tested first (Cochran's Q).
 */
final readonly class SegmentResults
{
    /** A part with fewer units of either variant is left out (common practice, no source). */
    public const FEWEST = 50;

    private const MOST_VALUES = 20;

    /** @param list<array{dimension: string, value: string, variant: string, n: array{int, int}, estimate: Estimate, without: Estimate|null, logQ: float}> $rows */
    private function __construct(private array $rows, private Item $item)
    {
    }

    public static function of(Item $item, Subject $subject, Table $table, Look $look): self
    {
        $parts = [];
        foreach ($table->segments() as $segment) {
            $parts[$segment] = array_map(static fn (int $variant): array => $table->samples($item, $variant, $segment), array_keys($subject->variants));
        }
        $all = array_map(static fn (int $variant): array => $table->samples($item, $variant), array_keys($subject->variants));

        return self::among($item, $subject->variants, $subject->control, $parts, $all, $look);
    }

    /**
     * @param list<string>                               $variants keys
     * @param array<string, list<array<int, Sample>>> $parts    dimension and value, parted by U+001F => of each variant: epoch => sample
     * @param list<array<int, Sample>>                   $all      the same of everybody
     */
    public static function among(Item $item, array $variants, int $control, array $parts, array $all, Look $look): self
    {
        $found = [];
        foreach ($parts as $segment => $samples) {
            [$dimension, $value] = explode("\x1f", (string) $segment, 2) + ['', ''];
            $units = array_map(static fn (array $own): int => Comparison::all($item->measure, $own)->n, $samples);
            foreach ($samples as $variant => $own) {
                if ($variant === $control || min($units[$variant], $units[$control]) < self::FEWEST) {
                    continue;
                }
                $estimate = self::estimate($item, $own, $samples[$control], $look, Comparison::pair($look, $samples, $variant, $control));
                if ($estimate !== null) {
                    $without = self::estimate($item, self::without($all[$variant], $own), self::without($all[$control], $samples[$control]), $look, Comparison::pair($look, $all, $variant, $control));
                    $found["{$dimension}\x1f{$variants[$variant]}"][] = ['dimension' => $dimension, 'value' => $value, 'variant' => $variants[$variant], 'n' => [$units[$variant], $units[$control]], 'estimate' => $estimate, 'without' => $without];
                }
            }
        }
        $rows = [];
        foreach ($found as $own) {
            // Everybody in one part is no part.
            if (count($own) < 2) {
                continue;
            }
            usort($own, static fn (array $a, array $b): int => array_sum($b['n']) <=> array_sum($a['n']));
            array_push($rows, ...array_slice($own, 0, self::MOST_VALUES));
        }
        $adjusted = FalseDiscovery::adjust(array_map(static fn (array $row): float => $row['estimate']->logP, $rows));

        return new self(array_map(static fn (array $row, int $i): array => [...$row, 'logQ' => min(0.0, $adjusted[$i])], $rows, array_keys($rows)), $item);
    }

    /**
     * @param array<int, Sample> $variant
     * @param array<int, Sample> $control
     */
    private static function estimate(Item $item, array $variant, array $control, Look $look, ?int $end): ?Estimate
    {
        $comparing = Comparing::of($item->measure, $variant, $control, $look->level);

        return $comparing === null ? null : ($look->isAnytime ? $comparing->anytime($end) : $comparing->planned());
    }

    /**
     * @param array<int, Sample> $all
     * @param array<int, Sample> $part
     *
     * @return array<int, Sample>
     */
    private static function without(array $all, array $part): array
    {
        return array_map(static fn (int $epoch): Sample => isset($part[$epoch]) ? $all[$epoch]->minus($part[$epoch]) : $all[$epoch], array_combine(array_keys($all), array_keys($all)));
    }

    /** @return array{item: string, tested: int, warning: string, dimensions: list<array<string, mixed>>} */
    public function toArray(): array
    {
        $dimensions = [];
        foreach ($this->rows as $row) {
            $dimensions["{$row['dimension']}\x1f{$row['variant']}"][] = $row;
        }

        return [
            'item' => $this->item->key,
            'tested' => count($this->rows),
            'warning' => $this->rows === [] ? 'No part of the visitors is large enough to be told apart.' : 'Parts of the visitors are looked at after the fact. Of '.count($this->rows).' comparisons about '.max(1, (int) round(0.05 * count($this->rows))).' would stand out at 5 % by chance alone; q is adjusted for that. What is found here is an idea for the next experiment, and no result of this one.',
            'dimensions' => array_map($this->dimension(...), array_values($dimensions)),
        ];
    }

    /**
     * @param non-empty-list<array{dimension: string, value: string, variant: string, n: array{int, int}, estimate: Estimate, without: Estimate|null, logQ: float}> $rows
     *
     * @return array<string, mixed>
     */
    private function dimension(array $rows): array
    {
        $joined = InverseVariance::of(array_map(static fn (array $row): array => [$row['estimate']->points, $row['estimate']->error], $rows));

        return [
            'dimension' => $rows[0]['dimension'],
            'variant' => $rows[0]['variant'],
            'interaction' => $joined === null || $joined->df < 1 ? null : ['q' => $joined->q, 'df' => $joined->df, 'p' => exp($joined->logPOfSame())],
            'rows' => array_map(fn (array $row): array => [
                'value' => $row['value'], 'n' => $row['n'][0], 'control_n' => $row['n'][1], 'points' => $row['estimate']->points,
                'low' => is_finite($row['estimate']->interval->low) ? $row['estimate']->interval->low : null, 'high' => is_finite($row['estimate']->interval->high) ? $row['estimate']->interval->high : null,
                'p' => exp($row['estimate']->logP), 'q' => exp($row['logQ']),
                'without' => $row['without'] === null ? null : [
                    'points' => $row['without']->points, 'told' => Amounts::signed($this->item, $row['without']->points).' ('.Amounts::interval($this->item, $row['without']->interval).')',
                ],
            ], $rows),
        ];
    }
}
