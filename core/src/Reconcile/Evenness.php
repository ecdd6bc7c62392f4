<?php

declare(strict_types=1);

namespace Pellix\Core\Reconcile;

use Pellix\Core\Statistics\Hypergeometric;
use Pellix\Core\Statistics\Normal;

/**
 * Whether what is missing is missing evenly from all variants: Fisher's exact test of each variant against the others, the
 * smallest p-value times their number (Bonferroni). Where days vary by more than chance, it counts for less.
 */
final readonly class Evenness
{
    /** Common practice, no source. */
    public const ALPHA = 0.01;

    /** Where all variants are within the tolerance, it takes more to call them uneven (common practice, no source). */
    private const STRICT = 0.001;

    /** ln p under which a p-value is no number any more. */
    private const TINY = -690.0;

    /**
     * @param string|null $test    how it was tested; null where it could not be
     * @param string|null $variant the one that differs most from the others, where they differ
     * @param string|null $why     why it was not tested
     */
    private function __construct(public ?string $test, public ?float $p, public ?string $variant, public ?string $why = null, private float $alpha = self::ALPHA)
    {
    }

    public static function untold(string $why): self
    {
        return new self(null, null, null, $why);
    }

    /**
     * @param array<string, array{int, int}> $sums  variant => ours and theirs
     * @param float                          $spread see `Spread`
     * @param bool                           $isOff  whether a variant is off by more than the tolerance
     */
    public static function ofVisitors(array $sums, float $spread, bool $isOff): self
    {
        $less = array_map(static fn (array $sum): array => [max(0, $sum[1] - $sum[0]), min($sum[0], $sum[1])], $sums);
        $more = array_map(static fn (array $sum): array => [max(0, $sum[0] - $sum[1]), min($sum[0], $sum[1])], $sums);
        $tests = array_values(array_filter([$less, $more], static fn (array $one): bool => array_sum(array_column($one, 0)) > 0));

        return self::of($tests === [] ? [$less] : $tests, 'Fisher’s exact test of visitors lost by each variant', $spread, $isOff ? self::ALPHA : self::STRICT);
    }

    /** @param array<string, array{int, int}> $counts variant => orders that differ, and those that do not */
    public static function ofOrders(array $counts, string $what): self
    {
        return self::of([$counts], "Fisher’s exact test of {$what} by variant", 1.0, self::ALPHA);
    }

    /** @param non-empty-list<array<string, array{int, int}>> $tables each: variant => marked, and the others */
    private static function of(array $tables, string $test, float $spread, float $alpha): self
    {
        $variants = array_filter($tables[0], static fn (array $counts): bool => array_sum($counts) > 0);
        if (count($variants) < 2) {
            return self::untold('There is no more than one variant to compare.');
        }
        $least = 0.0;
        $worst = null;
        foreach ($tables as $table) {
            $table = array_intersect_key($table, $variants);
            [$marked, $others] = [array_sum(array_column($table, 0)), array_sum(array_column($table, 1))];
            foreach ($table as $variant => [$has, $hasNot]) {
                $log = Hypergeometric::logFisher([$has, $hasNot], [$marked - $has, $others - $hasNot]);
                $all = $marked + $others;
                // Of two variants both tests are the same; the one is named that has more of them.
                if ($log < $least - 1e-12 || ($worst !== null && abs($log - $least) < 1e-9 && $has * ($all - $has - $hasNot) > ($marked - $has) * ($has + $hasNot))) {
                    $least = min($least, $log);
                    $worst = (string) $variant;
                }
            }
        }
        $log = min(0.0, $least + log(count($tables) * (count($variants) === 2 ? 1 : count($variants))));
        if ($spread > 1 && $log < 0) {
            $z = $log < self::TINY ? sqrt(-2 * $log) : Normal::above(max(1e-300, exp($log) / 2));
            $log = log(max(1e-300, 2 * Normal::upperTail($z / sqrt($spread))));
            $test .= sprintf(', for %.1f times the variance', $spread);
        }
        $p = max(0.0, min(1.0, exp($log)));

        return new self($test, $p, $p < $alpha ? $worst : null, null, $alpha);
    }

    public function isUneven(): bool
    {
        return $this->p !== null && $this->p < $this->alpha;
    }

    /** @return array{test: string|null, p: float|null, variant: string|null, why: string|null} */
    public function toArray(): array
    {
        return ['test' => $this->test, 'p' => $this->p, 'variant' => $this->variant, 'why' => $this->why];
    }
}
