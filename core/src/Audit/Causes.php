<?php

declare(strict_types=1);

namespace Pellix\Core\Audit;

/** Puts findings under the one that explains them: the report leads with the cause. */
final class Causes
{
    /** What each code may explain, where it is about the same visitors, variant and time; those that come first explain before others do. */
    private const EXPLAINS = [
        ['gap.silence', ['srm', 'gap', 'goal.dropped', 'goal.silent', 'exposure']],
        ['gap.drop', ['exposure']],
        ['gap.page', ['srm', 'gap', 'goal.dropped', 'goal.silent', 'goal.never', 'exposure']],
        ['event.bot', ['srm', 'gap', 'goal.dropped']],
        ['assign.mismatch', ['srm', 'assign.switched', 'assign.unknown-variant', 'assign.dependent', 'assign.user-split', 'assign.outside']],
        ['assign.unknown-variant', ['srm', 'exposure.missing', 'assign.mismatch']],
        ['assign.switched', ['srm', 'assign.dependent', 'event.double-fired']],
        ['assign.outside', ['srm', 'exposure', 'event.clock-order', 'assign.outside']],
        ['exposure.missing', ['srm', 'gap', 'goal.dropped', 'assign.switched', 'assign.dependent']],
        ['exposure.without-page', ['gap', 'srm.stage', 'goal.dropped', 'exposure.missing']],
        ['event.clock-order', ['exposure.late', 'exposure', 'gap.clock']],
        ['gap.clock', ['event.clock-order', 'gap', 'exposure', 'assign.outside', 'goal.dropped']],
        ['gap.late', ['gap', 'event.clock-order']],
        ['exposure.late', ['goal.dropped', 'event.clock-order', 'srm.stage', 'gap']],
        ['goal.silent', ['goal.dropped', 'gap', 'srm.stage']],
        ['goal.never', ['gap']],
        ['epoch.goal-changed', ['goal.dropped']],
        ['epoch.weights-changed', ['goal.dropped']],
        ['event.double-fired', ['goal.duplicate', 'gap', 'event.bot', 'order.duplicate-id']],
        ['event.duplicate-id', ['gap']],
        ['goal.duplicate', ['order.duplicate-id', 'gap']],
        ['order.duplicate-id', ['goal.duplicate', 'gap']],
        ['order.value-shape', ['goal.no-value', 'order.outlier', 'epoch']],
        ['order.currency', ['order.outlier', 'goal.no-value']],
        ['goal.dropped', ['gap', 'goal.dropped', 'order', 'goal.no-value']],
        ['srm.segment', ['srm', 'exposure', 'gap', 'event.bot', 'assign.dependent', 'goal.dropped']],
        ['srm.overall', ['srm', 'gap', 'assign.dependent', 'goal.dropped', 'epoch']],
        ['srm.sequential', ['srm']],
        ['srm.onset', ['srm', 'gap']],
        ['srm.stage', ['gap', 'goal.dropped', 'goal.silent']],
        ['gap.drop', ['gap', 'goal.dropped', 'exposure', 'srm']],
        ['run.too-short', ['run']],
        ['run.few-visitors', ['run']],
        ['event.internal', ['order.outlier']],
        ['event.self-referral', []],
        ['assign.short-memory', ['assign.user-split']],
        ['gap.stale', ['gap', 'run']],
    ];

    /**
     * @param list<Finding> $findings
     *
     * @return list<Finding>
     */
    public static function group(array $findings): array
    {
        /** @var array<int, int> $under place of a finding => that of its cause */
        $under = [];
        foreach (self::EXPLAINS as [$code, $explained]) {
            foreach ($findings as $i => $cause) {
                if ($cause->code->value !== $code) {
                    continue;
                }
                foreach ($findings as $k => $finding) {
                    if ($k !== $i && ! isset($under[$k]) && ! self::isUnder($i, $k, $under) && self::isNamed($finding->code->value, $explained) && self::mayExplain($cause, $finding)) {
                        $under[$k] = $i;
                    }
                }
            }
        }

        return self::trees($findings, $under, null);
    }

    /**
     * @param list<Finding>   $findings
     * @param array<int, int> $under
     *
     * @return list<Finding>
     */
    private static function trees(array $findings, array $under, ?int $of): array
    {
        $trees = [];
        foreach ($findings as $i => $finding) {
            if (($under[$i] ?? null) === $of) {
                $trees[] = $finding->leadingTo(Finding::byWeight(self::trees($findings, $under, $i)));
            }
        }

        return $trees;
    }

    /**
     * Whether a finding already follows, through others, from another: no circle.
     *
     * @param array<int, int> $under
     */
    private static function isUnder(int $finding, int $cause, array $under): bool
    {
        for ($at = $finding; isset($under[$at]); $at = $under[$at]) {
            if ($under[$at] === $cause) {
                return true;
            }
        }

        return false;
    }

    /** @param list<string> $explained */
    private static function isNamed(string $code, array $explained): bool
    {
        foreach ($explained as $one) {
            if ($code === $one || str_starts_with($code, "{$one}.")) {
                return true;
            }
        }

        return false;
    }

    /** Whether they are about the same variant and time. What has no time of its own may be of any. */
    private static function mayExplain(Finding $cause, Finding $finding): bool
    {
        // That exposures are lost explains no loss of other events, and fewer exposures are no cause of their own.
        $isGap = static fn (Finding $one): bool => str_starts_with($one->code->value, 'gap.');
        $isLost = static fn (Finding $one): bool => str_starts_with($one->code->value, 'exposure.');
        if (($isLost($cause) && $isGap($finding) && $finding->event !== 'exposure') || ($isGap($cause) && $isLost($finding) && $cause->event === 'exposure')) {
            return false;
        }
        // What is lost of all variants alike leaves the ratio as it is: it has to be about the same variant, visitors or moment.
        if ($isGap($cause) && str_starts_with($finding->code->value, 'srm.')) {
            $isSame = ($cause->variant !== null && $cause->variant === $finding->variant)
                || ($cause->segment !== null && $cause->segment === $finding->segment)
                || ($cause->page !== null && $cause->page === $finding->page)
                || ($cause->since !== null && $finding->since !== null && abs($cause->since - $finding->since) <= 86_400_000);
            if (! $isSame) {
                return false;
            }
        }
        // The rate was another one in another epoch, of all variants alike: that is why adding up misleads.
        if ($cause->code === AuditCode::EpochWeights) {
            $isAtChange = array_filter([$finding->since, $finding->until], static fn (?int $at): bool => $at !== null && abs($at - (int) $cause->since) <= 86_400_000) !== [];

            return $finding->variant === null && $isAtChange && $cause->goal === $finding->goal;
        }
        if ($cause->since !== null || $cause->until !== null) {
            $from = $finding->since ?? PHP_INT_MIN;
            $to = $finding->until ?? PHP_INT_MAX;
            // A day of leave: ends are not known to the minute.
            if ($from > ($cause->until ?? PHP_INT_MAX - 86_400_000) + 86_400_000 || $to < ($cause->since ?? PHP_INT_MIN + 86_400_000) - 86_400_000) {
                return false;
            }
        }

        return $cause->goal === null || $finding->goal === null || $cause->goal === $finding->goal;
    }
}
