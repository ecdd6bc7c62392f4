<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Shapes\Culprit;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** The same hit again within ten seconds, or by loading the same page again. */
final class GoalDuplicate implements Check
{
    private const FEWEST = 10;

    /** Of the hits: some people do load a page again (common practice, no source). */
    private const NOTED = 0.05;
    private const SPOILS = 0.1;

    public function code(): AuditCode
    {
        return AuditCode::GoalDuplicate;
    }

    public function look(Evidence $evidence): array
    {
        $setup = $evidence->setup;
        if ($setup->goals === []) {
            throw new NotRun('No goal is declared.');
        }
        $found = [];
        foreach ($setup->goals as $place => $goal) {
            $sum = $evidence->tally->goals[$place];
            $again = $sum->again->total();
            $all = $sum->hits->total();
            if ($again < self::FEWEST) {
                continue;
            }
            $where = Culprit::among($sum->again, $sum->hits, $setup, 1.2);
            $part = max($again / $all, $where->variant !== null || $where->segment !== null || $where->since !== null ? $where->rate : 0.0);
            if ($part < self::NOTED) {
                continue;
            }
            $pages = array_values(array_filter($sum->hits->keys(), static fn (string $key): bool => Keys::parts($key)[0] === 'page'));
            $found[] = new Finding(
                AuditCode::GoalDuplicate,
                $goal->count === 'every' || $part >= self::SPOILS ? Severity::Warning : Severity::Note,
                Told::count($again, 'hit')." of {$goal->key} (".Told::percent($again / $all).') came again within ten seconds, or by loading the page again'.$where->told($setup->settings)
                    .($goal->count === 'every' ? ': each counts, so the goal is counted too often.' : ': the goal counts once a '.$goal->count.', so its rate is not touched, but its events are.'),
                $where->variant,
                $goal->key,
                page: $where->page ?? (count($pages) === 1 ? Keys::parts($pages[0])[1] : null),
                segment: $where->segment,
                since: $where->since,
                until: $where->until,
                numbers: ['again' => $again, 'hits' => $all, 'part' => round($again / $all, 6)],
                causes: ['The event is bound twice: by two tags, or once more after each redraw of the page.', 'The page of thanks can be loaded again, and tells of the goal each time.'],
                next: ['Rehearse the goal: it has to arrive once, also when the page is loaded again.'],
                weight: $again / $all,
            );
        }

        return $found;
    }
}
