<?php

declare(strict_types=1);

namespace Pellix\Core\Reconcile;

use Pellix\Core\Audit\Setup;
use Pellix\Core\Audit\Told;

/**
 * Whether another source and Pellix tell the same. Two sources never agree to the last visitor; what matters is whether they
 * differ by little, and if not, whether all variants alike.
 */
final readonly class Reconciliation
{
    /** Common practice, no source. */
    public const TOLERANCE = 0.05;

    /** Seconds; common practice, no source. */
    public const WINDOW = 600;

    public const COUNTED = ['seen' => 'visitors with any event on the day', 'exposed' => 'visitors exposed on the day', 'first' => 'visitors first exposed on the day', 'hits' => 'hits of the goal on the day', 'reached' => 'visitors who reached the goal on the day'];

    private function __construct(private Setup $setup, private Other $other, private Days $days, private ?OrderDifferences $orders, private int $matchedById, private Evenness $even, private int $ahead, private ?string $counted, private float $tolerance, private ?string $goal = null)
    {
    }

    /**
     * @param float $tolerance part by which figures may differ
     * @param int   $window    seconds by which the times of one order may differ
     * @param string|null $goal key of the goal whose hits `$ours` has counted; null for visitors
     */
    public static function of(Ours $ours, Other $other, Setup $setup, float $tolerance = self::TOLERANCE, int $window = self::WINDOW, ?string $goal = null): self
    {
        $calendar = new Calendar($setup->settings->zone);
        if ($other->kind === 'orders') {
            $found = OrderMatch::of($ours->orders, $other->orders, $window);
            $match = OrderDifferences::of($found, $calendar, $window, $ours->from, $ours->to);
            $days = new Days($match->ourDays, $match->theirDays, static fn (string $day): bool => true);

            return new self($setup, $other, $days, $match, $found->matchedById, self::evenOrders($match), $found->ahead, null, $tolerance);
        }
        $ways = $ours->ways($other->hasVariants);
        $shift = $ours->from > $ours->to ? null : DayShift::find($ways, $other->days, $calendar, $ours->from, $ours->to);
        $counted = $shift->counted ?? array_key_first($ways);
        $ahead = $shift->ahead ?? 0;
        $own = [];
        foreach (Days::variants($other->days) as $variant) {
            foreach (($ways[$counted] ?? $ours->seen)->days($variant, static fn (int $slot): string => $calendar->day($slot, $ahead)) as $day => $number) {
                $own[$day][$variant] = $number;
            }
        }
        $days = new Days($own, $other->days, $shift === null ? static fn (string $day): bool => true : Days::covered($ours->hours, $ours->from, $ours->to, $calendar, $ahead));
        $even = $other->hasVariants ? Evenness::ofVisitors($days->sums, $days->within, $days->isSumOff($tolerance)) : Evenness::untold('The table has no variants.');

        return new self($setup, $other, $days, null, 0, $even, $ahead, $counted, $tolerance, $goal);
    }

    private static function evenOrders(OrderDifferences $match): Evenness
    {
        return match (true) {
            $match->counts['missing'] > 0 && $match->missingBy !== [] => Evenness::ofOrders($match->missingBy, 'orders that are missing here'),
            $match->counts['surplus'] > 0 && $match->surplusBy !== [] => Evenness::ofOrders($match->surplusBy, 'orders that are missing there'),
            $match->counts['value_differs'] > 0 && $match->valueBy !== [] => Evenness::ofOrders($match->valueBy, 'orders of another value'),
            $match->counts['missing'] > 0 => Evenness::untold('Of orders that are missing here nobody knows the variant: the file has no column variant.'),
            default => Evenness::untold('Nothing is missing whose variant is known.'),
        };
    }

    /** @return 'agree'|'differ'|'uneven' */
    public function verdict(): string
    {
        return match (true) {
            $this->even->isUneven() => 'uneven',
            $this->orders !== null ? $this->ordersDiffer($this->orders) : $this->days->isOff($this->tolerance) => 'differ',
            default => 'agree',
        };
    }

    private function ordersDiffer(OrderDifferences $match): bool
    {
        return self::off($match) > $this->tolerance * self::orders($match)
            || abs($match->ours - $match->theirs) > $this->tolerance * max(abs($match->theirs), 0.01)
            || (self::orders($match) === 0);
    }

    /** Orders that are not the same on both sides. */
    private static function off(OrderDifferences $match): int
    {
        return $match->counts['missing'] + $match->counts['surplus'] + $match->counts['value_differs'] + $match->counts['currency_differs'] + $match->counts['doubled'];
    }

    private static function orders(OrderDifferences $match): int
    {
        return $match->matched + $match->counts['missing'] + $match->counts['surplus'];
    }

    public function sentence(): string
    {
        $hours = Told::hours($this->ahead / 2);
        $shift = match (true) {
            $this->ahead === 0 => '',
            $this->orders !== null => " Their times are Pellix’s moved by {$hours}.",
            default => " Their days are Pellix’s days moved by {$hours}.",
        };
        $out = $this->other->skipped === 0 ? '' : ' '.Told::count($this->other->skipped, 'line').' of their file '.($this->other->skipped === 1 ? 'was' : 'were').' left out.';

        return ($this->orders === null ? $this->daysTold() : $this->ordersTold($this->orders)).$shift.$out;
    }

    private function daysTold(): string
    {
        [$ours, $theirs] = $this->days->total();
        if (array_sum(array_column($this->days->rows, 'ours')) === 0) {
            return "The log has no {$this->noun()} on any of the days of the table.";
        }
        $numbers = Told::number($ours)." {$this->noun()} here, ".Told::number($theirs).' there';
        $difference = $this->days->difference(null)->part;
        $by = $difference === null ? '' : ($difference < 0 ? 'fewer' : 'more');
        $part = Told::percent(abs($difference ?? 0.0));
        if ($this->verdict() === 'uneven') {
            $variant = (string) $this->even->variant;
            $own = Difference::of(...$this->days->sums[$variant])->part ?? 0.0;
            $others = array_diff_key($this->days->sums, [$variant => true]);
            $rest = Difference::of((int) array_sum(array_column($others, 0)), (int) array_sum(array_column($others, 1)))->part ?? 0.0;

            return "Pellix and the other source do not differ evenly: of variant {$variant} Pellix has ".$this->by($own).', of the others '.$this->by($rest).' ('.Told::p(log(max(1e-300, $this->even->p ?? 1.0))).').';
        }
        $even = $this->even->p === null ? '' : ', in all variants alike ('.Told::p(log(max(1e-300, $this->even->p))).')';
        if ($this->verdict() === 'differ') {
            $out = $this->days->clearlyOut($this->tolerance);
            $worst = $out === [] ? '' : ' Off by more than '.Told::percent($this->tolerance).' beyond chance: '.(count($out) > 3 ? Told::count(count($out), 'day').', first '.$out[0] : implode(', ', $out)).'.';

            return $difference === null ? "The other source has no {$this->noun()} on the days that both cover; Pellix has {$ours}." : "Pellix has {$part} {$by} {$this->noun()} than the other source{$even}: {$numbers}.{$worst}";
        }

        return 'The two sources agree within '.Told::percent($this->tolerance).": {$numbers}".($difference == 0 ? '' : " ({$part} {$by} here)").$even.'.';
    }

    private function noun(): string
    {
        return match (true) {
            $this->goal === null => 'visitors',
            $this->counted === 'reached' => "visitors who reached goal {$this->goal}",
            default => "hits of goal {$this->goal}",
        };
    }

    private function by(float $part): string
    {
        return abs($part) < 0.0005 ? "as many {$this->noun()}" : Told::percent(abs($part)).' '.($part < 0 ? 'fewer' : 'more')." {$this->noun()}";
    }

    private function ordersTold(OrderDifferences $match): string
    {
        $all = self::orders($match);
        if ($all === 0) {
            return 'There are no orders to compare on the days that both cover.';
        }
        $parts = [];
        foreach (['missing' => 'are missing here', 'surplus' => 'are missing there', 'doubled' => 'are told more than once', 'value_differs' => 'have another value', 'currency_differs' => 'have another currency', 'time_differs' => 'have another time'] as $name => $words) {
            $number = $match->counts[$name];
            $number === 0 || $parts[] = Told::number($number).' '.($number === 1 ? strtr($words, ['are ' => 'is ', 'have ' => 'has ']) : $words);
        }
        $told = Told::count($match->matched, 'order').' of '.Told::number($all).' are on both sides'.($parts === [] ? ', all the same' : '; '.implode(', ', $parts)).'.';

        return match ($this->verdict()) {
            'uneven' => "The orders do not differ evenly: variant {$this->even->variant} differs from the others (".Told::p(log(max(1e-300, $this->even->p ?? 1.0)))."). {$told}",
            'differ' => "The orders differ: {$told}",
            default => 'The orders agree within '.Told::percent($this->tolerance).": {$told}",
        };
    }

    /** @return array<string, mixed> as docs/formats.md has it */
    public function toArray(): array
    {
        $match = $this->orders;

        return [
            'pellix' => 1,
            'kind' => $this->other->kind,
            'experiment' => $this->setup->experiment->key,
            'goal' => $this->goal,
            'verdict' => $this->verdict(),
            'sentence' => $this->sentence(),
            'tolerance' => $this->tolerance,
            'shift_hours' => $this->ahead % 2 === 0 ? intdiv($this->ahead, 2) : $this->ahead / 2,
            'counted' => $this->counted === null ? null : self::COUNTED[$this->counted],
            'totals' => $this->totals(),
            'days' => $this->days->toArray($this->tolerance),
            'orders' => $match === null ? null : [
                'matched' => $match->matched, 'matched_by_id' => $this->matchedById, 'counts' => $match->counts, 'values' => ['ours' => round($match->ours, 6), 'theirs' => round($match->theirs, 6)],
                ...$match->lists,
                'concentrated' => ['missing' => $match->missing->toArray(), 'surplus' => $match->surplus->toArray()],
            ],
            'even' => $this->even->toArray(),
            'skipped' => ['lines' => $this->other->skipped, 'first' => $this->other->examples],
        ];
    }

    /** @return list<array<string, mixed>> of each variant, then of all */
    private function totals(): array
    {
        if ($this->orders !== null) {
            [$ours, $theirs] = $this->orders->total();

            return [self::total(null, $ours, $theirs, Difference::of($ours, $theirs))];
        }
        $totals = [];
        foreach ($this->days->sums as $variant => [$ours, $theirs]) {
            (string) $variant === '' || $totals[] = self::total((string) $variant, $ours, $theirs, $this->days->difference((string) $variant));
        }

        return [...$totals, self::total(null, ...[...$this->days->total(), $this->days->difference(null)])];
    }

    /** @return array<string, mixed> */
    private static function total(?string $variant, int $ours, int $theirs, Difference $difference): array
    {
        return ['variant' => $variant, 'ours' => $ours, 'theirs' => $theirs, 'difference' => $difference->part, 'low' => $difference->low, 'high' => $difference->high];
    }
}
