<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Incremental;

use Pellix\Core\Audit\Reading\Cells;
use Pellix\Core\Audit\Reading\Skipped;
use Pellix\Core\Audit\Reading\Unit;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Audit\Sums\Tally;
use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Formats\Spool;

/** Counts visitors whose events come visitor by visitor. */
final class Counter
{
    public readonly Tally $tally;
    public int $lines = 0;
    public int $units = 0;

    private readonly Skipped $skipped;
    private int $copies = 0;

    private readonly Cells $cells;

    /**
     * @param Spool $users  takes what `Users` reads later
     * @param Spool $orders takes what `Orders` reads later
     */
    public function __construct(private readonly Setup $setup, private readonly Spool $users, private readonly Spool $orders)
    {
        $this->tally = new Tally($setup);
        $this->skipped = new Skipped();
        $this->cells = new Cells($setup);
    }

    /** @param list<array<string, mixed>> $events all of one visitor, in the form of an event log */
    public function visitor(array $events): void
    {
        $own = [];
        $visitor = '';
        foreach ($events as $event) {
            try {
                $made = $this->cells->of(++$this->lines, $event);
                if ($made !== null) {
                    $own[] = $made[1];
                    $visitor = $made[3];
                }
            } catch (InvalidLog $e) {
                $this->skipped->refuse($this->lines, $e);
            }
        }
        if ($own === []) {
            return;
        }
        $unit = $this->setup->settings->exclusions->left(new Unit("v{$visitor}", $own, $this->setup), $this->setup, $this->tally->exclusions);
        if ($unit !== null) {
            $this->units++;
            $this->copies += count($unit->copies);
            $this->tally->add($unit, $this->setup, $this->users, $this->orders);
        }
    }

    public function totals(): Totals
    {
        return new Totals($this->tally, $this->skipped, $this->lines, $this->cells->events, $this->cells->later, $this->copies, $this->units, $this->cells->fingerprint);
    }
}
