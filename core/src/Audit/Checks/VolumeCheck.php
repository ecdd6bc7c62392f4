<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Audit\Shapes\Gap;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** What the checks of the volume have in common: one finding for each gap, described by as little as covers it. */
abstract class VolumeCheck implements Check
{
    abstract protected function isMine(Gap $gap, Evidence $evidence): bool;

    /** @return list<string> */
    abstract protected function causes(): array;

    public function look(Evidence $evidence): array
    {
        if (! $evidence->gaps->isLongEnough()) {
            throw new NotRun('The log is shorter than a day.');
        }
        $found = [];
        foreach ($evidence->gaps->all() as $gap) {
            if ($this->isMine($gap, $evidence)) {
                $found[] = $this->finding($gap, $evidence);
            }
        }

        return $found;
    }

    private function finding(Gap $gap, Evidence $evidence): Finding
    {
        $where = $gap->where();
        $lost = max(0, (int) round($gap->expected - $gap->observed));
        $parts = $gap->parts();
        $what = ($parts['event'] ?? '') === '' ? 'events' : "{$parts['event']} events";
        $of = ($where->variant === null ? '' : " of variant {$where->variant}").$where->told($evidence->setup->settings, false);

        return new Finding(
            $this->code(),
            Severity::Warning,
            ($gap->observed === 0 ? "No {$what}{$of} arrived" : "Only {$gap->observed} {$what}{$of} arrived")
                .$where->time($evidence->setup->settings).', where about '.Told::count((int) round($gap->expected), 'event').' were to be expected'
                .' ('.Told::p($gap->logP).', with the choice of the stretch reckoned in).',
            $where->variant,
            event: $where->event,
            page: $where->page,
            segment: $where->segment,
            since: $gap->since,
            until: $gap->until,
            numbers: ['observed' => $gap->observed, 'expected' => round($gap->expected, 1), 'lost' => $lost, 'dispersion' => round($gap->dispersion, 2), 'log_p' => $gap->logP],
            causes: $this->causes(),
            next: ['Ask what was released or changed then.', $where->page === null ? 'Look at the events on both sides of the gap.' : "Inspect {$where->page}."],
            weight: min(1.0, $lost / max(1, $evidence->tally->volume->total())) + 0.01,
        );
    }
}
