<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Shapes\Culprit;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** Exposures of visitors who, by the log, did not view that page in the same session. */
final class ExposureWithoutPage implements Check
{
    private const FEWEST = 10;

    /** Of those who were exposed (common practice, no source). */
    private const NOTED = 0.05;
    private const SPOILS = 0.1;

    public function code(): AuditCode
    {
        return AuditCode::ExposureWithoutPage;
    }

    public function look(Evidence $evidence): array
    {
        $evidence->needExposed();
        if ($evidence->tally->volume->total(Keys::key('event', 'page_view')) === 0) {
            throw new NotRun('The log has no page views.');
        }
        [$pageless, $all] = [$evidence->tally->split->pageless, $evidence->tally->split->exposed];
        $units = $pageless->total();
        $part = $units / max(1, $all->total());
        $where = Culprit::among($pageless, $all, $evidence->setup);
        if ($units < self::FEWEST || ($part < self::NOTED && ($where->rate < 2 * self::NOTED || $part < 0.01))) {
            return [];
        }

        return [$where->finding(
            AuditCode::ExposureWithoutPage,
            max($part, $where->rate) >= self::SPOILS ? Severity::Warning : Severity::Note,
            Told::count($units, 'visitor').' ('.Told::percent($part).') were exposed without a view of the page'.$where->told($evidence->setup->settings).': page views are lost, or the exposure comes from elsewhere.',
            numbers: ['visitors' => $units, 'exposed' => $all->total(), 'part' => round($part, 6)],
            causes: ['The tag that sends page views is missing or late on this page.', 'The exposure is sent by a server, or under another address.', 'Two ids: the page view belongs to another visitor id.'],
            next: ['Inspect the page for the snippet and its tags.'],
            weight: $part,
        )];
    }
}
