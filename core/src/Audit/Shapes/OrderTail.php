<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Shapes;

use Pellix\Core\Audit\Sums\OrderSum;

/**
 * The largest orders of a variant, and which of them lie far from all others on the scale of logarithms (by median and MAD:
 * F. R. Hampel, "The Influence Curve and Its Role in Robust Estimation", 1974).
 */
final readonly class OrderTail
{
    /** MADs (made comparable to a standard deviation) from the median (common practice, no source). */
    private const FAR = 4.5;
    private const LEAST_DEVIATION = 0.05;

    public Histogram $values;

    /** What is larger lies far from all others. */
    public float $limit;

    public function __construct(private OrderSum $sum)
    {
        $this->values = new Histogram($sum->histogram[''] ?? []);
        $this->limit = 10 ** ($this->values->median() + self::FAR * max(self::LEAST_DEVIATION, $this->values->deviation()));
    }

    /** @return list<array{float, int, string}> value, time and order number of the largest of a variant, the largest first */
    public function largest(int $variant): array
    {
        $largest = $this->sum->largest[$variant] ?? [];
        usort($largest, static fn (array $a, array $b): int => $b <=> $a);

        // Some more may be remembered, of which not all are.
        return array_slice($largest, 0, OrderSum::LARGEST);
    }

    /** @return list<array{float, int, string}> those that lie far from all others */
    public function far(int $variant): array
    {
        return array_values(array_filter($this->largest($variant), fn (array $one): bool => $one[0] > $this->limit));
    }
}
