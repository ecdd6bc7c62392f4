<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Shapes\EventCulprit;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** Visitors who come back from a payment page or another host of one's own, and are taken for new ones from there. */
final class EventReferral implements Check
{
    private const FEWEST = 20;

    /** Of the sessions (common practice, no source). */
    private const NOTED = 0.005;
    private const SPOILS = 0.1;

    /** A host that is met in the middle of sessions much more often than at their beginning is one that visitors are sent to. */
    private const MIDDLE = 0.8;
    private const BEGIN = 0.01;

    public function code(): AuditCode
    {
        return AuditCode::EventReferral;
    }

    public function look(Evidence $evidence): array
    {
        $setup = $evidence->setup;
        $sum = $evidence->tally->hygiene;
        $own = [];
        foreach ($evidence->tally->volume->keys() as $key) {
            [$dimension, $host] = Keys::parts($key);
            $dimension === 'host' && $own[$host] = true;
        }
        $hosts = [];
        foreach ($sum->referrers as $host => [$middle, $begin]) {
            $host = (string) $host;
            $isSister = in_array($host, $setup->settings->sisters, true);
            // Between the hosts of a site people go as they like; what counts is where they are sent and come back from.
            if ($isSister || (! isset($own[$host]) && ! in_array($host, $setup->settings->hosts, true) && $middle >= self::MIDDLE * ($middle + $begin) && $begin <= self::BEGIN * $sum->sessions)) {
                $hosts[$host] = $middle + $begin;
            }
        }
        arsort($hosts);
        $views = array_sum($hosts);
        $part = $views / max(1, $sum->sessions);
        if ($views < self::FEWEST || $part < self::NOTED) {
            return [];
        }
        $where = EventCulprit::of($sum->broken, $evidence);
        $host = (string) array_key_first($hosts);

        return [new Finding(
            AuditCode::EventReferral,
            $part >= self::SPOILS ? Severity::Warning : Severity::Note,
            Told::count($views, 'page view').' ('.number_format(100 * $part, 1)." for each 100 sessions) say that the visitor came from {$host}: whatever goes by the referrer begins a session there, and gives the goal to the wrong source.",
            page: $where->page,
            since: $where->since,
            until: $where->until,
            numbers: ['views' => $views, 'sessions' => $sum->sessions, 'hosts' => array_slice($hosts, 0, 10, true)],
            causes: ['The host of a payment or of a sister site is not on the list of those that begin no session.', 'The visitor id is not handed on to it.'],
            next: ["Put {$host} on the list of referrers that begin no session."],
            weight: $part,
        )];
    }
}
