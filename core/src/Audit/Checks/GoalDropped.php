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

    /** A description that is narrower by one has to be clearer by so much (of ln p). */
    private const EARNED = 4.0;

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
            $best = $this->clearest($evidence, $soon, $end);
            if ($best === null) {
                continue;
            }
            [, $break, $variant, $key] = $best;
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

    /**
     * Everybody, one variant, one segment, or both: of the descriptions the clearest, where each restriction has to earn itself.
     *
     * @return array{float, RateBreak, int|null, string|null}|null
     */
    private function clearest(Evidence $evidence, Cohorts $soon, int $end): ?array
    {
        $keys = array_values(array_filter($soon->keys(), static fn (string $key): bool => $key === '' || in_array(Keys::parts($key)[0], self::WHO, true)));
        $looks = count($evidence->setup->goals) * (1 + count($evidence->setup->variants)) * count($keys);
        $best = null;
        foreach ($keys as $key) {
            foreach ([null, ...array_keys($evidence->setup->variants)] as $variant) {
                $break = self::breakOf($evidence, $soon, $key, $variant, $end, $looks);
                if ($break === null) {
                    continue;
                }
                $dimension = Keys::parts($key)[0];
                $score = $break->logP + self::EARNED * (($variant === null ? 0 : 1) + ($key === '' ? 0 : 1 + substr_count($dimension, '+')));
                if ($best === null || $score < $best[0]) {
                    $best = [$score, $break, $variant, $key === '' ? null : $key];
                }
            }
        }

        return $best;
    }

    private static function breakOf(Evidence $evidence, Cohorts $soon, string $key, ?int $variant, int $end, int $looks): ?RateBreak
    {
        $trials = array_filter($evidence->tally->split->exposed->hours($key, $variant), static fn (int $hour): bool => $hour < $end, ARRAY_FILTER_USE_KEY);
        $break = RateBreak::of($soon->hours($key, $variant), $trials, true, self::SPREAD, Cohorts::hoursOf($key));

        return $break === null || ($break->since === null && $break->until === null) || $break->logP + log($looks) >= log($evidence->setup->alpha) || $break->inside > self::DEEP * $break->outside || $break->trials < self::FEWEST ? null : $break;
    }
}
