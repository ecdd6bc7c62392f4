<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Shapes;

use Pellix\Core\Audit\Evidence;

/** How long an experiment ran, as far as the log tells. */
final readonly class Run
{
    private const DAY = 86_400_000;

    /**
     * @param bool $isOver     whether its declared end lies before the end of the log, or the moment of the audit
     * @param bool $isUnderWay whether it goes on, as far as somebody has said when it ends, or up to when the log goes
     */
    private function __construct(public float $days, public bool $isOver, public bool $isUnderWay)
    {
    }

    public static function of(Evidence $evidence): self
    {
        $setup = $evidence->setup;
        $hours = array_keys($evidence->tally->split->exposed->hours());
        $first = 3_600_000 * ($hours[0] ?? 0);
        // The rows of a table hold a day each.
        $last = $evidence->isTable ? $evidence->tally->volume->last : 3_600_000 * (($hours[count($hours) - 1] ?? 0) + 1);
        $from = $setup->from > $first - self::DAY && $setup->from !== PHP_INT_MIN ? min($setup->from, $first) : $first;
        $now = $setup->until ?? $evidence->tally->volume->last;
        // A log that ends with the run may have its last event some hours before.
        $isOver = $setup->to !== PHP_INT_MAX && $now > $setup->to - self::DAY / 2;

        return new self((($isOver ? max($last, min($setup->to, $last + self::DAY / 2)) : $last) - $from) / self::DAY, $isOver, ! $isOver && ($setup->to !== PHP_INT_MAX || $setup->until !== null));
    }
}
