<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Reading;

use Pellix\Core\Audit\Sums\Cohorts;
use Pellix\Core\Formats\Spool;

/** Orders whose number came more than once, in events of their own. */
final readonly class Orders
{
    private const PARTS = 32;

    private const EXAMPLES = 5;

    /**
     * @param int          $orders   different numbers
     * @param Cohorts      $again    events that told of an order that was known, by variant and hour
     * @param list<string> $examples numbers
     */
    private function __construct(public int $orders, public Cohorts $again, public array $examples)
    {
    }

    /** @param array{Spool, Spool} $halves */
    public static function of(array $halves): self
    {
        $parts = new Spool(self::PARTS);
        foreach ($halves as $half) {
            $file = $half->part(0);
            while (($line = fgets($file)) !== false) {
                $parts->add(crc32(substr($line, 0, (int) strpos($line, "\t"))), $line);
            }
        }
        $orders = 0;
        $again = new Cohorts();
        $examples = [];
        for ($part = 0; $part < self::PARTS; $part++) {
            $told = [];
            $file = $parts->part($part);
            while (($line = fgets($file)) !== false) {
                [$number, $time, $event, $variant] = explode("\t", $line);
                $told["#{$number}"][] = [(int) $time, $event, (int) $variant];
            }
            ksort($told);
            foreach ($told as $number => $events) {
                $orders++;
                if (count($events) > 1) {
                    sort($events);
                    foreach (array_slice($events, 1) as [$time, , $variant]) {
                        $again->add([''], 0, intdiv($time, 3_600_000), $variant);
                    }
                    count($examples) < self::EXAMPLES && $examples[] = Row::text(substr((string) $number, 1));
                }
            }
        }

        return new self($orders, $again, $examples);
    }
}
