<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Shapes;

use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Audit\Sums\Cohorts;
use Pellix\Core\Statistics\LikelihoodRatio;

/** Where something happens that should not: the variant, the event, the page and the segment that it is nearly confined to, and when. */
final class Culprit
{
    /** It is confined to a part where elsewhere it is at most this part as frequent. */
    private const ELSEWHERE = 0.3;

    /** And where it makes so much of all there is of it. */
    private const COVERED = 0.6;

    /** And where the likelihood ratio of two rates against one, as chi-square, is at least this, times how much the numbers vary. */
    private const CLEAR = 20.0;

    /** Two dimensions have to be clearer by that than one. */
    private const NARROWER = 8.0;

    private const SEGMENTS = ['device', 'browser', 'source', 'country', 'host', 'visitor', 'browser+device', 'browser+country', 'browser+source', 'country+device', 'device+source', 'country+source'];

    /**
     * @param Cohorts                         $bad    how often it happened
     * @param callable(string): int           $total  key => how often it could have
     * @param callable(string): array<int, int> $hours key => hour => how often it could have
     * @param list<int>|null                  $variants how often it could have, in each variant; null where that means nothing
     * @param float                           $spread how much more the numbers vary than binomial ones
     */
    public static function of(Cohorts $bad, callable $total, callable $hours, ?array $variants, Setup $setup, float $spread = 1.0): Where
    {
        $all = $bad->total();
        $trials = max($all, $total(''));
        $variant = self::variant($bad, $variants, $setup, $spread);
        $best = ['segment' => null, 'page' => null, 'event' => null];
        foreach ($bad->keys() as $key) {
            $dimension = Keys::parts($key)[0];
            $kind = $dimension === 'page' || $dimension === 'event' ? $dimension : (in_array($dimension, self::SEGMENTS, true) ? 'segment' : null);
            $n = $kind === null ? 0 : max($bad->total($key), $total($key));
            if ($kind === null || $n === 0 || $n >= $trials) {
                continue;
            }
            $b = $bad->total($key);
            [$in, $out] = [$b / $n, ($all - $b) / ($trials - $n)];
            if ($out > self::ELSEWHERE * $in || $b < self::COVERED * $all) {
                continue;
            }
            $score = LikelihoodRatio::ofRates($b, $n, $all, $trials) / $spread - self::NARROWER * substr_count($dimension, '+');
            if ($score > self::CLEAR && ($best[$kind] === null || $score > $best[$kind][1])) {
                $best[$kind] = [$key, $score];
            }
        }
        // What stands on one page alone is told by the page, and a browser that has only one device by the browser.
        $key = $best['segment'][0] ?? $best['page'][0] ?? $best['event'][0] ?? '';
        $break = RateBreak::of($bad->hours($key), self::at($hours($key), $bad->hours($key)), false, $spread, Cohorts::hoursOf($key));
        $isBroken = $break !== null && $break->logP < log(1e-4) && $break->outside < 0.5 * $break->inside;
        $n = max(1, $bad->total($key), $total($key));
        $segment = $best['segment'] === null ? null : Keys::parts($best['segment'][0]);

        return new Where(
            $variant === null ? null : $setup->variants[$variant],
            $best['event'] === null ? null : Keys::parts($best['event'][0])[1],
            $best['page'] === null ? null : Keys::parts($best['page'][0])[1],
            $segment === null ? null : ['dimension' => $segment[0], 'value' => $segment[1]],
            $isBroken ? $break->since : null,
            $isBroken ? $break->until : null,
            $isBroken ? $break->inside : $bad->total($key) / $n,
        );
    }

    /** The same where all that it could have happened to was counted in the same way. */
    public static function among(Cohorts $bad, Cohorts $all, Setup $setup, float $spread = 1.0): Where
    {
        return self::of($bad, $all->total(...), static fn (string $key): array => $all->hours($key), $all->byVariant(count($setup->variants)), $setup, $spread);
    }

    /** @param list<int>|null $variants */
    private static function variant(Cohorts $bad, ?array $variants, Setup $setup, float $spread): ?int
    {
        if ($variants === null || array_sum($variants) === 0) {
            return null;
        }
        $counts = $bad->byVariant(count($variants));
        [$all, $trials] = [array_sum($counts), array_sum($variants)];
        $found = null;
        foreach ($counts as $i => $count) {
            $n = max($count, $variants[$i]);
            $rest = $trials - $n;
            if ($n > 0 && $rest > 0 && $count >= self::COVERED * $all && ($all - $count) / $rest <= self::ELSEWHERE * $count / $n && LikelihoodRatio::ofRates($count, $n, $all, $trials) / $spread > self::CLEAR / 2) {
                $found = $i;
            }
        }

        return $found;
    }

    /**
     * Hours in which it happened are hours in which it could have.
     *
     * @param array<int, int> $trials
     * @param array<int, int> $hits
     *
     * @return array<int, int>
     */
    private static function at(array $trials, array $hits): array
    {
        foreach ($hits as $hour => $number) {
            $trials[$hour] = max($trials[$hour] ?? 0, $number);
        }

        return $trials;
    }
}
