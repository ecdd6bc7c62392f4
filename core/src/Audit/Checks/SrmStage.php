<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Audit\Shapes\RatioFault;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/** At which stage of their way the visitors of a variant are first too few. */
final class SrmStage implements Check
{
    public const NAMES = ['assigned' => 'assigned', 'exposed' => 'exposed', 'page-view-after' => 'seen on a page after the exposure', 'second-event-after' => 'seen doing two more things', 'goal-page' => 'on a page where the goal can be reached'];

    /** Later stages are partly what the variant does to people: a loss that is smaller is hardly worth a word (common practice, no source). */
    private const LARGE = 0.08;

    public function code(): AuditCode
    {
        return AuditCode::SrmStage;
    }

    public function look(Evidence $evidence): array
    {
        $evidence->needExposed();
        $setup = $evidence->setup;
        $before = null;
        $stages = $evidence->ratio->stages();
        if (count($stages) < 2) {
            throw new NotRun('Only one stage of the visitors’ way is known.');
        }
        foreach ($stages as $stage) {
            $isLate = ! in_array($stage['stage'], ['assigned', 'exposed'], true);
            // Five stages are five looks, and late ones have to be clear beyond doubt.
            if ($stage['logP'] >= log($setup->alpha / 5) - ($isLate ? log(10) : 0.0)) {
                $before = $stage;
                continue;
            }
            $fault = RatioFault::of($this->of($evidence, $stage['stage']), $setup, ['']);
            if ($fault === null || ($isLate && abs($fault->part) < self::LARGE)) {
                $before = $stage;
                continue;
            }
            $variant = $setup->variants[$fault->variant];

            return [new Finding(
                AuditCode::SrmStage,
                Severity::Warning,
                "Visitors of variant {$variant} are first too few among those ".self::NAMES[$stage['stage']].': '.Told::count(max(0, $fault->missing), 'visitor').' missing ('.Told::percent(max(0.0, $fault->part)).'; '.Told::p($stage['logP']).')'
                    .($before === null ? '; before that nothing is known.' : '; among those '.self::NAMES[$before['stage']].' the split was balanced ('.Told::p($before['logP']).').')
                    .($isLate ? ' What happens after the exposure is partly what the variant does to people, so this alone does not spoil the data.' : ''),
                $variant,
                since: $fault->since,
                until: $fault->until,
                numbers: ['stage' => $stage['stage'], 'balanced' => $before['stage'] ?? null, 'observed' => $stage['observed'], 'log_p' => is_finite($stage['logP']) ? $stage['logP'] : null, 'missing' => $fault->missing, 'part' => round($fault->part, 6)],
                causes: [match ($stage['stage']) {
                    'assigned' => 'Visitors are lost before any event of theirs is received: by a redirect, by an error in the head of the page, by a filter.',
                    'exposed' => 'Exposures are lost though page views arrive: an error in the variant, a consent that is asked later, a beacon that is cut off by the next page.',
                    default => 'The variant breaks the page or the way on, or people leave it; or events after the exposure are lost.',
                }],
                next: ['Rehearse variant '.$variant.' up to this step.'],
                weight: abs($fault->part),
            )];
        }

        return [];
    }

    private function of(Evidence $evidence, string $stage): \Pellix\Core\Audit\Sums\Cohorts
    {
        $split = $evidence->tally->split;

        return match ($stage) {
            'assigned' => $split->due,
            'exposed' => $split->exposed,
            'page-view-after' => $split->moved,
            'second-event-after' => $split->active,
            default => $split->near,
        };
    }
}
