<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Reading;

use Pellix\Core\Audit\Sums\Cohorts;
use Pellix\Core\Formats\Spool;

/** Orders whose number came more than once, in events of their own. */
final readonly class Orders
{
    private const EXAMPLES = 5;

    /**
     * @param int          $orders   different numbers
     * @param Cohorts      $again    events that told of an order that was known, by variant and hour
     * @param list<string> $examples numbers
     */
    private function __construct(public int $orders, public Cohorts $again, public array $examples)
    {
    }

    /** @param list<Spool> $halves */
    public static function of(array $halves): self
    {
        $orders = 0;
        $again = new Cohorts();
        $examples = [];
        foreach (Gathered::of($halves) as [$number, $events]) {
            $orders++;
            if (count($events) === 1) {
                continue;
            }
            usort($events, static fn (array $a, array $b): int => (int) $a[0] <=> (int) $b[0] ?: strcmp($a[1], $b[1]));
            foreach (array_slice($events, 1) as [$time, , $variant]) {
                $again->add([''], 0, intdiv((int) $time, 3_600_000), (int) $variant);
            }
            count($examples) < self::EXAMPLES && $examples[] = Row::text($number);
        }

        return new self($orders, $again, $examples);
    }
}
