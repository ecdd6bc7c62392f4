<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Sums;

use Pellix\Core\Audit\Reading\Row;
use Pellix\Core\Audit\Reading\Unit;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Formats\Spool;

/** Orders: their values, currencies and numbers. */
final class OrderSum extends CohortSums
{
    /** Bins of the histogram of values in each tenfold. */
    public const BINS = 20;

    /** So many of the largest orders are remembered of each variant. */
    public const LARGEST = 40;

    private const MOST_CURRENCIES = 50;
    private const MOST_KEYS = 600;
    private const MOST_CELLS = 60_000;

    /** Orders during the run; of them those whose value is a text; a text with a decimal comma; something that is no number. */
    public Cohorts $orders;
    public Cohorts $texts;
    public Cohorts $commas;
    public Cohorts $unreadable;

    /** @var array<string, Cohorts> currency, '' where none is given => orders */
    public array $currencies = [];

    /** @var array<string, array<int, int>> key => bin of the logarithm of the value => orders of a value above zero */
    public array $histogram = [];

    /** @var array<int, array<int, int>> hour => bin => orders */
    public array $hours = [];

    /** @var array<int, list<array{float, int, string}>> place of the variant => value, time and order number of the largest, those of units that count */
    public array $largest = [];

    /** @var array<int, float> place of the variant => what is less is none of the largest */
    private array $least = [];

    /** @var array<int, array{int, float}> place of the variant => orders and sum of their values, of units that count */
    public array $totals = [];

    protected static function names(): array
    {
        return ['orders', 'texts', 'commas', 'unreadable'];
    }

    public function add(Unit $unit, Setup $setup, Spool $numbers): void
    {
        foreach ($unit->orders as $i) {
            if ($unit->isDuring($unit->times[$i])) {
                $this->order($unit, $i, $setup, $numbers);
            }
        }
    }

    private function order(Unit $unit, int $i, Setup $setup, Spool $numbers): void
    {
        $row = $unit->rows[$i];
        $props = $unit->props($i);
        $time = $unit->times[$i];
        $hour = intdiv($time, 3_600_000);
        $epoch = $setup->epochAt($time);
        $keys = $unit->keysOf($i);
        $this->orders->add($keys, $epoch, $hour, $unit->variant);
        $raw = $props['value'] ?? null;
        [$value, $isText, $isComma] = self::value($raw);
        $isText && $this->texts->add($keys, $epoch, $hour, $unit->variant);
        $isComma && $this->commas->add($keys, $epoch, $hour, $unit->variant);
        if ($value === null && $raw !== null && $raw !== '') {
            $this->unreadable->add($keys, $epoch, $hour, $unit->variant);
        }
        $currency = $props['currency'] ?? null;
        $currency = is_string($currency) ? strtoupper(mb_strcut(mb_scrub(trim($currency)), 0, 12)) : '';
        if (isset($this->currencies[$currency]) || count($this->currencies) < self::MOST_CURRENCIES) {
            ($this->currencies[$currency] ??= new Cohorts())->add($keys, $epoch, $hour, $unit->variant);
        }
        $number = $props['order_id'] ?? null;
        $number = is_string($number) || is_int($number) ? mb_strcut(mb_scrub((string) $number), 0, 100) : '';
        if ($number !== '') {
            $numbers->add(crc32($number), implode("\t", [Row::cell($number), $time, $row[Row::ID], $unit->variant])."\n");
        }
        if ($value === null || $value <= 0) {
            return;
        }
        $bin = (int) floor(log10($value) * self::BINS);
        foreach ($keys as $key) {
            $this->histogram[$key][$bin] = ($this->histogram[$key][$bin] ?? 0) + 1;
        }
        $this->hours[$hour][$bin] = ($this->hours[$hour][$bin] ?? 0) + 1;
        $variant = $unit->counted();
        if ($variant !== null && $unit->exposedAt !== null && $time >= $unit->times[$unit->exposedAt]) {
            $this->totals[$variant] = [($this->totals[$variant][0] ?? 0) + 1, ($this->totals[$variant][1] ?? 0.0) + $value];
            if ($value >= ($this->least[$variant] ?? 0.0)) {
                $this->largest[$variant][] = [$value, $time, $number];
                $this->cut($variant);
            }
        }
    }

    /** @return array{float|null, bool, bool} value, whether it is a text, and one with a decimal comma */
    private static function value(mixed $raw): array
    {
        if (is_int($raw) || is_float($raw)) {
            return [abs($raw) > 1e29 ? null : (float) $raw, false, false];
        }
        if (! is_string($raw)) {
            return [null, false, false];
        }
        $text = trim($raw);
        if (is_numeric($text)) {
            return [(float) $text, true, false];
        }

        return preg_match('/\A-?\d{1,3}(?:\.?\d{3})*,\d{1,2}\z/', $text) === 1 ? [(float) strtr(str_replace('.', '', $text), ',', '.'), true, true] : [null, true, str_contains($text, ',')];
    }

    /** Leaves the largest of a variant, once there are many more. */
    private function cut(int $variant): void
    {
        $orders = $this->largest[$variant];
        if (count($orders) > 2 * self::LARGEST) {
            usort($orders, static fn (array $a, array $b): int => $b <=> $a);
            $this->largest[$variant] = array_slice($orders, 0, self::LARGEST);
            $this->least[$variant] = $this->largest[$variant][self::LARGEST - 1][0];
        }
    }

    public function prune(): void
    {
        parent::prune();
        foreach (Rarest::of(array_map(count(...), $this->histogram), fn (string $key): int => (int) array_sum($this->histogram[$key]), self::MOST_KEYS, self::MOST_CELLS) as $key) {
            unset($this->histogram[$key]);
        }
    }

    /** @param int $sign see `Counts` */
    public function plus(self $other, int $sign = Counts::PLUS): void
    {
        $this->join($other, $sign);
        foreach ($other->currencies as $currency => $cohorts) {
            $own = $this->currencies[$currency] ??= new Cohorts();
            $own->plus($cohorts, $sign);
            if ($own->of === []) {
                unset($this->currencies[$currency]);
            }
        }
        $this->histogram = Counts::sum($this->histogram, $other->histogram, $sign);
        $this->hours = Counts::sum($this->hours, $other->hours, $sign);
        foreach ($other->totals as $variant => [$orders, $sum]) {
            $this->totals[$variant] = [($this->totals[$variant][0] ?? 0) + $sign * $orders, ($this->totals[$variant][1] ?? 0.0) + $sign * $sum];
            $this->largest[$variant] ??= [];
            if ($sign === Counts::PLUS) {
                array_push($this->largest[$variant], ...$other->largest[$variant] ?? []);
                $this->cut($variant);
            } else {
                $this->largest[$variant] = array_values(array_udiff($this->largest[$variant], $other->largest[$variant] ?? [], static fn (array $a, array $b): int => $a <=> $b));
            }
            if ($this->totals[$variant][0] <= 0) {
                unset($this->totals[$variant], $this->largest[$variant], $this->least[$variant]);
            }
        }
    }
}
