<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

use Pellix\Core\Chain\Words;
use Pellix\Core\Statistics\SampleRatio;

/** What a change of an experiment that runs does to its analysis, in words and numbers: said before it is made. */
final readonly class EpochChange
{
    /** For the example, those to come reach the goal by this part less often than those before: rates do change (an assumption, no forecast). */
    private const RATE_FALLS_BY = 0.2;

    private const NAMES = ['share' => 'the share', 'pages' => 'the page rule', 'audience' => 'the audience', 'weights' => 'the weights', 'shown' => 'what variants show'];

    /**
     * @param list<string> $fields what of it opens a new epoch; none where nothing does
     * @param list<string> $words
     */
    private function __construct(public array $fields, public array $words)
    {
    }

    /**
     * @param list<int>  $units of each variant so far, in their order
     * @param float|null $rate  part of them who reached the primary goal; null where nobody knows
     */
    public static function between(Experiment $before, Experiment $after, array $units, ?float $rate): self
    {
        $fields = Revision::differing($before->toArray(), $after->toArray());
        $words = [];
        if ($fields !== []) {
            $names = array_map(static fn (string $field): string => self::NAMES[$field], $fields);
            $last = array_pop($names);
            $words[] = 'A new epoch begins: '.($names === [] ? '' : implode(', ', $names).' and ')."{$last} change".(count($fields) === 1 && $last !== 'the weights' ? 's.' : '.');
            $so = array_sum($units);
            $words[] = $so === 0 ? 'Nobody has entered so far.' : 'The '.Words::count($so, 'visitor').' so far and those to come are compared separately, each with their own epoch, and joined by a stratified estimate.';
            array_push($words, ...(in_array('weights', $fields, true) && $so > 0 ? self::naive($before, $after, $units, $rate) : []));
        }

        return new self($fields, [...$words, ...self::stopped($before, $after, $units)]);
    }

    /**
     * What adding up both epochs would make of it, if as many visitors come again.
     *
     * @param list<int> $units
     *
     * @return list<string>
     */
    private static function naive(Experiment $before, Experiment $after, array $units, ?float $rate): array
    {
        $now = self::places($after);
        // In the order of those who are counted, whatever order it is written in now.
        $weights = array_map(static fn (DeclaredVariant $one): float => isset($now[$one->variant->key]) ? $after->variants[$now[$one->variant->key]]->variant->weight : 0.0, $before->variants);
        $sum = array_sum($weights);
        $all = array_sum($units);
        $coming = array_map(static fn (float $weight): int => (int) round($sum > 0 ? $all * $weight / $sum : 0), $weights);
        $pooled = array_map(static fn (int $one, int $other): int => $one + $other, $units, $coming);
        $words = [];
        if (SampleRatio::isTestable($pooled, $weights)) {
            $test = SampleRatio::test($pooled, $weights);
            $test->isMismatch() && $words[] = 'Added up naively and held against the new weights, they would be called a mismatch (p '.(str_starts_with($p = Words::p($test->logP), 'under') ? $p : "= {$p}").') where there is none.';
        }
        $off = $rate === null ? 0.0 : self::off($units, $coming, $rate);
        if ($off >= 0.00005) {
            $words[] = 'If those to come reach the goal by '.Words::percent(self::RATE_FALLS_BY, 1).' less often than those before, whatever the variant, naive pooling would be off by '.number_format(100 * $off, 2, '.', '').' points; the joined estimate is not.';
        }

        return $words;
    }

    /**
     * The largest difference between two variants that naive pooling would show where there is none.
     *
     * @param list<int> $units
     * @param list<int> $coming
     */
    private static function off(array $units, array $coming, float $rate): float
    {
        $rates = [];
        foreach ($units as $i => $before) {
            if ($before + $coming[$i] > 0) {
                $rates[] = ($before * $rate + $coming[$i] * $rate * (1 - self::RATE_FALLS_BY)) / ($before + $coming[$i]);
            }
        }

        return $rates === [] ? 0.0 : max($rates) - min($rates);
    }

    /**
     * @param list<int> $units
     *
     * @return list<string>
     */
    private static function stopped(Experiment $before, Experiment $after, array $units): array
    {
        $words = [];
        $places = self::places($before);
        foreach ($after->variants as $variant) {
            $i = $places[$variant->variant->key] ?? null;
            $was = $i === null ? null : $before->variants[$i];
            if ($variant->variant->weight > 0 || $was === null || ($was->variant->weight <= 0 && $was->moves === $variant->moves)) {
                continue;
            }
            $n = Words::count($units[$i] ?? 0, 'visitor');
            $words[] = $variant->moves
                ? "Variant “{$variant->name}” is stopped, and its {$n} are given another one at their next page view. They have seen both, so they count for neither: the experiment loses them."
                : "Variant “{$variant->name}” is stopped: nobody new gets it, and its {$n} keep it and go on counting for it.";
        }

        return $words;
    }

    /** @return array<int|string, int> where each variant stands, by its key */
    private static function places(Experiment $experiment): array
    {
        return array_flip(array_map(static fn (DeclaredVariant $one): string => $one->variant->key, $experiment->variants));
    }
}
