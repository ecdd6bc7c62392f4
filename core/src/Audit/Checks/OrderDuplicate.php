<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Audit\Shapes\Culprit;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** Order numbers that came in several events. */
final class OrderDuplicate implements Check
{
    private const FEWEST = 3;

    /** Of the orders (common practice, no source). */
    private const NOTED = 0.01;
    private const SPOILS = 0.03;

    public function code(): AuditCode
    {
        return AuditCode::OrderDuplicate;
    }

    public function look(Evidence $evidence): array
    {
        $orders = $evidence->orders;
        if ($orders->orders === 0) {
            throw new NotRun('The log has no orders with a number (props.order_id).');
        }
        $again = $orders->again->total();
        $part = $again / ($orders->orders + $again);
        if ($again < self::FEWEST || $part < self::NOTED) {
            return [];
        }
        $all = $evidence->tally->orders->orders;
        $where = Culprit::of($orders->again, $all->total(...), static fn (string $key): array => $all->hours($key), $all->byVariant(count($evidence->setup->variants)), $evidence->setup);

        return [new Finding(
            AuditCode::OrderDuplicate,
            $part >= self::SPOILS ? Severity::Warning : Severity::Note,
            Told::count($again, 'event').' ('.Told::percent($part).') tell of an order that another event has told of'.$where->told($evidence->setup->settings).': '.implode(', ', $orders->examples).'. Of each order only the first counts.',
            $where->variant,
            event: 'order',
            since: $where->since,
            until: $where->until,
            numbers: ['events' => $again, 'orders' => $orders->orders, 'part' => round($part, 6), 'examples' => $orders->examples],
            causes: ['The page of thanks tells of the order each time it is opened, also from an e-mail or the history.', 'Order numbers are not unique.'],
            next: ['Send the order from a place that runs once, or let the collector take each number once.'],
            weight: $part,
        )];
    }
}
