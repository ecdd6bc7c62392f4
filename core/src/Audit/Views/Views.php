<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Views;

use Pellix\Core\Audit\Checks\SrmStage;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\Part;
use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Shapes\Gap;
use Pellix\Core\Audit\Shapes\OrderTail;
use Pellix\Core\Audit\Shapes\RatioFault;
use Pellix\Core\Audit\Shapes\Rhythm;
use Pellix\Core\Audit\Sums\OrderSum;

/** What people look at to see what an audit found: the figures of each view, which are its table, and what its picture is drawn from. */
final class Views
{
    /** So many segments are told, those that contribute most. */
    private const MOST_SEGMENTS = 300;

    /** More hours are put together. */
    private const MOST_HOURS = 1500;

    private const MOST_GAPS = 40;
    private const LARGEST_ORDERS = 10;

    /** @return array<string, array<string, mixed>> as docs/formats.md has it */
    public static function of(Evidence $evidence, Part $part): array
    {
        return [
            'split' => SplitView::of($evidence),
            'segments' => self::segments($evidence),
            'stages' => self::stages($evidence),
            'volume' => self::volume($evidence, $part),
            'delays' => self::delays($evidence),
            'orders' => self::orders($evidence, $part),
        ];
    }

    /** @return array<string, mixed> visitors missing of each variant, those first that miss most */
    private static function segments(Evidence $evidence): array
    {
        $setup = $evidence->setup;
        $all = RatioFault::counts($evidence->tally->split->exposed, '', $setup);
        $everybody = RatioFault::missing(...$all);
        $rows = [];
        foreach ($evidence->ratio->segments() as $one) {
            [$dimension, $value] = Keys::parts($one['key']);
            $missing = RatioFault::missing($one['observed'], $one['expected']);
            $worst = self::largest($missing);
            $rows[] = [
                'dimension' => $dimension, 'value' => $value, 'observed' => $one['observed'], 'expected' => array_map(static fn (float $mean): float => round($mean, 2), $one['expected']),
                'missing' => array_map(static fn (float $number): float => round($number, 1), $missing), 'variant' => $setup->variants[$worst],
                'part' => round(max(0.0, $missing[$worst]) / max(1.0, $one['observed'][$worst] + max(0.0, $missing[$worst])), 6),
                'p' => exp($one['logP']), 'q' => exp($one['logQ']), 'off' => $one['logQ'] < log($setup->alpha),
            ];
        }
        usort($rows, static fn (array $a, array $b): int => $b['off'] <=> $a['off'] ?: max([0, ...$b['missing']]) <=> max([0, ...$a['missing']]) ?: strcmp("{$a['dimension']} {$a['value']}", "{$b['dimension']} {$b['value']}"));

        return ['variants' => $setup->variants, 'observed' => $all[0], 'missing' => array_map(static fn (float $number): float => round($number, 1), $everybody), 'tested' => count($rows), 'rows' => array_slice($rows, 0, self::MOST_SEGMENTS)];
    }

    /** @param list<float> $numbers */
    private static function largest(array $numbers): int
    {
        arsort($numbers);

        return (int) array_key_first($numbers);
    }

    /** @return array<string, mixed> the stages of the visitors' way, by variant, with the first at which the split is off */
    private static function stages(Evidence $evidence): array
    {
        $rows = [];
        $before = $broken = null;
        $stages = $evidence->ratio->stages();
        foreach ($stages as $stage) {
            $isOff = $stage['logP'] < log($evidence->setup->alpha / count($stages));
            $broken ??= $isOff ? $stage['stage'] : null;
            $rows[] = [
                'stage' => $stage['stage'], 'words' => SrmStage::NAMES[$stage['stage']], 'observed' => $stage['observed'],
                'of_before' => $before === null ? null : array_map(static fn (int $now, int $then): ?float => $then === 0 ? null : round($now / $then, 6), $stage['observed'], $before),
                'p' => $stage['p'], 'off' => $isOff,
            ];
            $before = $stage['observed'];
        }

        return ['variants' => $evidence->setup->variants, 'rows' => $rows, 'first_break' => $broken];
    }

    /** @return array<string, mixed> events hour by hour, what was to be expected of them, and stretches with too few */
    private static function volume(Evidence $evidence, Part $part): array
    {
        $volume = $evidence->tally->volume;
        $key = $part->key ?? '';
        $hours = $volume->hours($key);
        $all = array_keys($volume->hours());
        if ($hours === [] || $all === [] || $evidence->isTable) {
            return ['kept' => $evidence->isTable || $key === '' || $volume->has($key), 'step_hours' => 1, 'rows' => [], 'gaps' => []];
        }
        sort($all);
        [$first, $last] = [$all[0], $all[count($all) - 1]];
        $rhythm = Rhythm::of($hours, $first + 1, $last);
        $shown = array_values(array_filter(range($first, $last), static fn (int $hour): bool => $part->holds(3_600_000 * $hour)));
        $step = max(1, (int) ceil(count($shown) / self::MOST_HOURS));
        $rows = [];
        foreach (array_chunk($shown, $step) as $some) {
            $rows[] = ['at' => Finding::time(3_600_000 * $some[0]), 'events' => array_sum(array_map(static fn (int $hour): int => $hours[$hour] ?? 0, $some)), 'expected' => $rhythm === null ? null : round(array_sum(array_map($rhythm->at(...), $some)), 1)];
        }
        $settings = $evidence->setup->settings;
        $gaps = array_filter($evidence->gaps->all(), static fn (Gap $gap): bool => $part->key === null || $gap->key === $part->key);

        return ['kept' => true, 'step_hours' => $step, 'rows' => $rows, 'gaps' => array_map(static fn (Gap $gap): array => [
            'since' => Finding::time($gap->since), 'until' => Finding::time($gap->until), 'parts' => (object) $gap->parts(), 'silence' => $gap->isSilence(), 'events' => $gap->observed, 'expected' => round($gap->expected, 1),
            'words' => ($gap->parts() === [] ? 'everything' : implode(', ', $gap->parts())).$gap->where()->time($settings),
        ], array_slice(array_values($gaps), 0, self::MOST_GAPS))];
    }

    /** @return array<string, mixed> how long events took to arrive */
    private static function delays(Evidence $evidence): array
    {
        $sum = $evidence->tally->delays;
        $days = [];
        foreach ($sum->late->hours() as $hour => $number) {
            $day = $evidence->ratio->day($hour);
            $days[$day] = ($days[$day] ?? 0) + $number;
        }

        return [
            'known' => $sum->known, 'late' => $sum->late->total(), 'clocks_off' => $sum->off->total(), 'clocks' => $sum->clocks->total(),
            'seconds' => $sum->known === 0 ? null : ['0.5' => $sum->quantile(0.5), '0.95' => $sum->quantile(0.95), '0.99' => $sum->quantile(0.99)],
            'rows' => array_map(static fn (int|string $seconds, int $events): array => ['within_seconds' => (float) $seconds, 'events' => $events], array_keys($sum->bins()), array_values($sum->bins())),
            'late_by_day' => array_map(static fn (string $day, int $events): array => ['day' => $day, 'events' => $events], array_keys($days), array_values($days)),
        ];
    }

    /** @return array<string, mixed> values of orders, and those that lie far from all others */
    private static function orders(Evidence $evidence, Part $part): array
    {
        $sum = $evidence->tally->orders;
        $bins = match (true) {
            $part->key !== null => $sum->histogram[$part->key] ?? [],
            $part->isAll() => $sum->histogram[''] ?? [],
            default => self::during($sum, $part),
        };
        ksort($bins);
        $tail = new OrderTail($sum);
        $variants = [];
        foreach ($part->isAll() ? $evidence->setup->variants : [] as $place => $variant) {
            [$orders, $all] = $sum->totals[$place] ?? [0, 0.0];
            $far = $tail->far($place);
            $without = $all - array_sum(array_column($far, 0));
            $units = max(1, $evidence->variants()[$variant]);
            $variants[] = [
                'variant' => $variant, 'orders' => $orders, 'sum' => round($all, 4), 'per_visitor' => round($all / $units, 6), 'per_visitor_without' => round($without / $units, 6),
                'largest' => array_map(static fn (array $one): array => ['value' => $one[0], 'time' => Finding::time($one[1]), 'order_id' => $one[2] === '' ? null : $one[2], 'far' => $one[0] > $tail->limit], array_slice($tail->largest($place), 0, self::LARGEST_ORDERS)),
            ];
        }

        return [
            'orders' => array_sum($bins), 'median' => $tail->values->number === 0 ? null : round(10 ** $tail->values->median(), 2), 'limit' => $tail->values->number === 0 ? null : round($tail->limit, 2),
            'rows' => array_map(static fn (int $bin, int $orders): array => ['from' => round(10 ** ($bin / OrderSum::BINS), 2), 'to' => round(10 ** (($bin + 1) / OrderSum::BINS), 2), 'orders' => $orders], array_keys($bins), array_values($bins)),
            'variants' => $variants,
        ];
    }

    /** @return array<int, int> bin => orders of a stretch of time */
    private static function during(OrderSum $sum, Part $part): array
    {
        $bins = [];
        foreach ($sum->hours as $hour => $numbers) {
            foreach ($part->holds(3_600_000 * $hour) ? $numbers : [] as $bin => $orders) {
                $bins[$bin] = ($bins[$bin] ?? 0) + $orders;
            }
        }

        return $bins;
    }
}
