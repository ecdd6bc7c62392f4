<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Audit\Shapes\OrderTail;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/**
 * Orders that move the mean value of a variant by themselves: far from all others (see `OrderTail`), and a good part of the variant's sum.
 */
final class OrderOutlier implements Check
{
    private const FEWEST = 20;

    /** Part of a variant's sum (common practice, no source). */
    private const HEAVY = 0.1;

    /** And so many times the next one: a tail without end has no outliers. */
    private const APART = 3;

    public function code(): AuditCode
    {
        return AuditCode::OrderOutlier;
    }

    public function look(Evidence $evidence): array
    {
        $sum = $evidence->tally->orders;
        $tail = new OrderTail($sum);
        if ($tail->values->number < self::FEWEST) {
            throw new NotRun('The log has fewer than '.self::FEWEST.' orders with a value.');
        }
        $found = [];
        foreach ($evidence->setup->variants as $place => $variant) {
            [$orders, $all] = $sum->totals[$place] ?? [0, 0.0];
            $largest = $tail->largest($place);
            $far = $tail->far($place);
            $their = array_sum(array_column($far, 0));
            $next = $largest[count($far)][0] ?? 0.0;
            if ($far === [] || $far[count($far) - 1][0] < self::APART * $next || count($far) > max(5, 0.01 * $orders) || $their < self::HEAVY * $all || $orders <= count($far)) {
                continue;
            }
            $units = max(1, $evidence->variants()[$variant]);
            $found[] = new Finding(
                AuditCode::OrderOutlier,
                Severity::Warning,
                (count($far) === 1 ? 'One order' : count($far).' orders')." in variant {$variant} ".(count($far) === 1 ? 'makes ' : 'make ').Told::percent($their / $all).' of its sum: '.number_format($all / $units, 2, '.', ' ').' per visitor with, '.number_format(($all - $their) / $units, 2, '.', ' ').' without.',
                $variant,
                event: 'order',
                since: null,
                numbers: [
                    'orders' => array_map(static fn (array $one): array => ['value' => $one[0], 'time' => Finding::time($one[1]), 'order_id' => $one[2] === '' ? null : $one[2]], array_slice($far, 0, 10)),
                    'mean_with' => round($all / $units, 4), 'mean_without' => round(($all - $their) / $units, 4), 'part' => round($their / $all, 6), 'median' => round(10 ** $tail->values->median(), 2),
                ],
                causes: ['An order of a reseller or of one’s own people, a test order, a typing error.', 'The value is in another unit or currency.'],
                next: ['Look the orders up in the order system.', 'Compare with values that are capped at a limit declared beforehand.'],
                weight: $their / $all,
            );
        }

        return $found;
    }
}
