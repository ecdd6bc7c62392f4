<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/**
 * The score interval of a part of a whole (E. B. Wilson, "Probable Inference, the Law of Succession, and Statistical Inference",
 * Journal of the American Statistical Association 22, 1927), as R's `prop.test(x, n, correct = FALSE)$conf.int`.
 */
final class Wilson
{
    /**
     * @param float $z     how many standard errors to each side: 1.96 for 95 %
     *
     * @return array{float, float} both between 0 and 1
     */
    public static function interval(int $x, int $n, float $z): array
    {
        if ($n < 1 || $x < 0 || $x > $n) {
            throw new InvalidCounts('A part of a whole has from none to all of it.');
        }
        $p = $x / $n;
        $middle = $p + $z * $z / (2 * $n);
        $half = $z * sqrt($p * (1 - $p) / $n + $z * $z / (4 * $n * $n));
        $by = 1 + $z * $z / $n;

        return [$x === 0 ? 0.0 : max(0.0, ($middle - $half) / $by), $x === $n ? 1.0 : min(1.0, ($middle + $half) / $by)];
    }
}
