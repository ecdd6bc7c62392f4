<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Audit\Shapes\Culprit;
use Pellix\Core\Audit\Shapes\Histogram;
use Pellix\Core\Audit\Shapes\Where;
use Pellix\Core\Audit\Sums\Cohorts;
use Pellix\Core\Audit\Sums\OrderSum;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** Order values in several notations: texts, decimal commas, and cents among units (two modes of the distribution that are a factor of 100 apart). */
final class OrderShape implements Check
{
    private const FEWEST = 5;

    /** Of the orders (common practice, no source). */
    private const NOTED = 0.01;
    private const SPOILS = 0.03;

    /** So far apart (as logarithms to the base 10, about 2) lie the modes of cents and units. */
    private const APART = [1.75, 2.25];

    public function code(): AuditCode
    {
        return AuditCode::OrderShape;
    }

    public function look(Evidence $evidence): array
    {
        $sum = $evidence->tally->orders;
        $all = $sum->orders->total();
        if ($all === 0) {
            throw new NotRun('The log has no orders.');
        }
        $found = array_values(array_filter([
            $this->notation($evidence, $sum->commas, 'comma', 'have a value with a decimal comma, which reads as no number'),
            $this->notation($evidence, $sum->unreadable, 'unreadable', 'have a value that is no number'),
            // All of them as texts are one notation.
            $sum->texts->total() < $all ? $this->notation($evidence, $sum->texts, 'text', 'have a value that is a text, where the others have a number') : null,
            $this->cents($evidence),
        ]));

        // What is unreadable and a comma is told once.
        return array_slice($found, 0, 1);
    }

    private function notation(Evidence $evidence, Cohorts $of, string $shape, string $words): ?Finding
    {
        $all = $evidence->tally->orders->orders;
        $number = $of->total();
        if ($number < self::FEWEST || $number / $all->total() < self::NOTED) {
            return null;
        }

        return self::finding($evidence, Culprit::among($of, $all, $evidence->setup), $shape, $number, $words, []);
    }

    /** @param array<string, mixed> $more */
    private static function finding(Evidence $evidence, Where $where, string $shape, int $number, string $words, array $more): Finding
    {
        $part = $number / $evidence->tally->orders->orders->total();

        return $where->finding(
            AuditCode::OrderShape,
            $part >= self::SPOILS ? Severity::Warning : Severity::Note,
            Told::count($number, 'order').' ('.Told::percent($part).')'.$where->told($evidence->setup->settings)." {$words}.",
            event: 'order',
            numbers: ['shape' => $shape, 'orders' => $number, 'part' => round($part, 6), ...$more],
            causes: ['The value is read from the page as people see it there, in the notation of their language.', 'Two places send orders, and one of them counts in the smallest unit.'],
            next: ['Send a number with a decimal point, in whole units of the currency, from everywhere.'],
            weight: $part,
        );
    }

    private function cents(Evidence $evidence): ?Finding
    {
        $sum = $evidence->tally->orders;
        $histogram = new Histogram($sum->histogram[''] ?? []);
        if ($histogram->number < 4 * self::FEWEST) {
            return null;
        }
        $best = null;
        // Two groups at every place where the distribution could be parted: between them it is nearly empty.
        for ($cut = -2.0; $cut < 8.0; $cut += 0.1) {
            $low = $histogram->between(-INF, $cut);
            $high = $histogram->number - $low;
            $few = min($low, $high);
            if ($few < self::FEWEST || $few / $histogram->number < self::NOTED) {
                continue;
            }
            $below = $histogram->medianOf(static fn (int $bin): bool => ($bin + 0.5) / OrderSum::BINS < $cut);
            $above = $histogram->medianOf(static fn (int $bin): bool => ($bin + 0.5) / OrderSum::BINS >= $cut);
            if ($above - $below < self::APART[0] || $above - $below > self::APART[1]) {
                continue;
            }
            // Around the cut there are few; around both medians many.
            $valley = $histogram->between($cut - 0.15, $cut + 0.15);
            $peak = min($histogram->between($below - 0.15, $below + 0.15), $histogram->between($above - 0.15, $above + 0.15));
            if ($valley < 0.35 * $peak && ($best === null || $valley / $peak < $best[0])) {
                $best = [$valley / $peak, $cut, $few, $above - $below, $high <= $low];
            }
        }
        if ($best === null) {
            return null;
        }
        [, $cut, $few, $apart, $areHigh] = $best;
        $of = new Cohorts();
        $bins = static fn (array $one): int => array_sum(array_filter($one, static fn (int $bin): bool => (($bin + 0.5) / OrderSum::BINS >= $cut) === $areHigh, ARRAY_FILTER_USE_KEY));
        foreach ($sum->histogram as $key => $one) {
            $number = $bins($one);
            if ($number > 0 && $key !== '') {
                $of->add([(string) $key], 0, 0, Cohorts::NONE, $number);
            }
        }
        foreach ($sum->hours as $hour => $one) {
            $number = $bins($one);
            $number > 0 && $of->add([''], 0, $hour, Cohorts::NONE, $number);
        }
        $where = Culprit::of($of, $sum->orders->total(...), static fn (string $key): array => $key === '' ? $sum->orders->hours('') : [], null, $evidence->setup);

        return self::finding($evidence, $where, 'factor-100', $few, 'have a value about a hundred times '.($areHigh ? 'larger' : 'smaller').' than the others, as cents among units', ['factor' => round(10 ** $apart, 1)]);
    }
}
