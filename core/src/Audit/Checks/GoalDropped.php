<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Checks;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Check;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\NotRun;
use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Shapes\RateBreak;
use Pellix\Core\Audit\Shapes\Where;
use Pellix\Core\Audit\Sums\Cohorts;
use Pellix\Core\Audit\Sums\GoalSum;
use Pellix\Core\Audit\Told;
use Pellix\Core\Wiring\Findings\Severity;

/**
 * Since when a goal is reached less often: the change point of the part of the newly exposed who reach it within some hours, in
 * all or in one variant, and in the segment that it is clearest in.
 */
final class GoalDropped implements Check
{
    private const FEWEST = 30;

    /** A smaller fall is what markets and campaigns do (common practice, no source). */
    private const DEEP = 0.7;

    /** Days differ from one another by more than chance: variance over the binomial (common practice, no source). */
    private const SPREAD = 1.5;

    private const WHO = ['device', 'browser', 'source', 'country', 'host', 'browser+device'];

    public function code(): AuditCode
    {
        return AuditCode::GoalDropped;
    }

    public function look(Evidence $evidence): array
    {
        $setup = $evidence->setup;
        if ($setup->goals === []) {
            throw new NotRun('No goal is declared.');
        }
        $evidence->needExposed(100);
        $period = $evidence->period();
        $end = intdiv(($period[1] ?? 0) - GoalSum::SOON, 3_600_000);
        $found = [];
        foreach ($setup->goals as $place => $goal) {
            $soon = $evidence->tally->goals[$place]->soon;
            if ($soon->total() < self::FEWEST) {
                continue;
            }
            $best = null;
            foreach ([null, ...array_keys($setup->variants)] as $variant) {
                $break = self::breakOf($evidence, $soon, '', $variant, $end, count($setup->goals));
                // One variant has to be clearer than all together, and the others must go on as before.
                if ($break !== null && ($best === null || $break->logP < $best[0]->logP - 3)) {
                    $best = [$break, $variant];
                }
            }
            if ($best === null) {
                continue;
            }
            [$break, $variant] = $best;
            [$key, $break] = self::segment($evidence, $soon, $variant, $end, $break, count($setup->goals));
            $where = Where::of($key === null ? [] : [$key], $variant === null ? null : $setup->variants[$variant], $break->since, $break->until);
            $found[] = new Finding(
                AuditCode::GoalDropped,
                Severity::Warning,
                "{$goal->key} is reached by ".Told::percent($break->inside).' instead of '.Told::percent($break->outside).($variant === null ? ' of the visitors' : " of the visitors of variant {$setup->variants[$variant]}").$where->told($setup->settings).' ('.Told::p($break->logP).', with the choice of the moment reckoned in).',
                $where->variant,
                $goal->key,
                page: $where->page,
                segment: $where->segment,
                since: $break->since,
                until: $break->until,
                numbers: ['rate' => round($break->inside, 6), 'before' => round($break->outside, 6), 'hits' => $break->hits, 'visitors' => $break->trials, 'log_p' => is_finite($break->logP) ? $break->logP : null],
                causes: ['Something was published that breaks the way to the goal, or the event that tells of it.', 'The goal’s rule or its page was changed.', 'Other people come since then: look at the sources.'],
                next: ['Ask what was published then.', 'Rehearse the way to the goal'.($variant === null ? '.' : " in variant {$setup->variants[$variant]}.")],
                weight: min(1.0, 1 - $break->inside / max(1e-9, $break->outside)),
            );
        }

        return $found;
    }

    private static function breakOf(Evidence $evidence, Cohorts $soon, string $key, ?int $variant, int $end, int $goals): ?RateBreak
    {
        $trials = array_filter($evidence->tally->split->exposed->hours($key, $variant), static fn (int $hour): bool => $hour < $end, ARRAY_FILTER_USE_KEY);
        $break = RateBreak::of($soon->hours($key, $variant), $trials, true, self::SPREAD);
        $looks = $goals * (1 + count($evidence->setup->variants));

        return $break === null || ($break->since === null && $break->until === null) || $break->logP + log($looks) >= log($evidence->setup->alpha / 5) || $break->inside > self::DEEP * $break->outside || $break->trials < self::FEWEST ? null : $break;
    }

    /** @return array{string|null, RateBreak} the segment that it is clearest in, where it is clearer there than in all */
    private static function segment(Evidence $evidence, Cohorts $soon, ?int $variant, int $end, RateBreak $all, int $goals): array
    {
        $best = [null, $all];
        foreach ($soon->keys() as $key) {
            if (in_array(Keys::parts($key)[0], self::WHO, true)) {
                $break = self::breakOf($evidence, $soon, $key, $variant, $end, $goals);
                if ($break !== null && $break->logP < $best[1]->logP - 5 * (1 + substr_count(Keys::parts($key)[0], '+'))) {
                    $best = [$key, $break];
                }
            }
        }

        return $best;
    }
}
