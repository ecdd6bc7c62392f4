<?php

declare(strict_types=1);

namespace Pellix\Core\Chain;

/** Exposure: do visitors see what their variant declares? */
final class ExposureLink
{
    /** A smaller part of exposures with every change applied is a doubt (common practice, no source). */
    private const WANTED_APPLIED = 0.95;

    /** So many exposures without a single applied change are no accident (common practice, no source). */
    private const ENOUGH_EXPOSURES = 20;

    public static function judge(Observations $seen): Verdict
    {
        if ($seen->entered->nothing()) {
            return new Verdict(
                Link::Exposure,
                State::Unseen,
                $seen->started ? 'No exposure has been received.' : 'Not started: no variant has been shown.',
            );
        }
        $evidence = [];
        $worst = State::Holds;
        $words = 'Every variant is shown, and its changes are applied.';
        foreach ($seen->variants as $variant) {
            [$state, $said, $what] = self::variant($variant, $seen);
            $evidence[] = new Evidence("{$variant->name}: {$what}", $variant->exposures->last, 'collector');
            if ($state === State::Broken || ($state === State::Doubt && $worst === State::Holds)) {
                [$worst, $words] = [$state, $said];
            }
        }

        return $worst === State::Holds && $seen->isStale($seen->entered->last)
            ? new Verdict(Link::Exposure, State::Stale, 'Variants were shown, but not lately.', $evidence)
            : new Verdict(Link::Exposure, $worst, $words, $evidence);
    }

    /** @return array{State, string, string} state, what to say of it, evidence */
    private static function variant(VariantSeen $variant, Observations $seen): array
    {
        $exposures = $variant->exposures->count;
        $what = Words::count($exposures, 'exposure');
        if ($exposures === 0) {
            return $variant->weight > 0 && $seen->canAlarm
                ? [State::Broken, "Variant “{$variant->name}” has not been shown to anybody.", $what]
                : [State::Doubt, "Variant “{$variant->name}” has not been shown yet.", $what];
        }
        if ($variant->changes === 0) {
            return [State::Holds, '', "{$what}; declares no change"];
        }
        $applied = min($variant->applied->count, $exposures);
        $what .= '; changes confirmed in '.Words::number($applied).' ('.Words::percent($applied, $exposures).'), missing element reported in '
            .Words::number($variant->missed->count)
            .($variant->reverted->nothing() ? '' : ', taken back by the page in '.Words::number($variant->reverted->count))
            .($variant->failed->nothing() ? '' : ', errors reported in '.Words::number($variant->failed->count));
        if ($applied === 0 && $exposures >= self::ENOUGH_EXPOSURES) {
            return [State::Broken, "Variant “{$variant->name}” looks like the control: no change was ever applied.", $what];
        }
        if ($applied < self::WANTED_APPLIED * $exposures) {
            return [State::Doubt, "Variant “{$variant->name}” was shown, but its changes are confirmed in only ".Words::percent($applied, $exposures).' of exposures.', $what];
        }

        foreach (['ran into errors' => $variant->failed, 'were taken back by the page' => $variant->reverted] as $trouble => $seenOf) {
            if ($seenOf->count > (1 - self::WANTED_APPLIED) * $exposures) {
                return [State::Doubt, "Changes of variant “{$variant->name}” {$trouble} in ".Words::percent($seenOf->count, $exposures).' of exposures.', $what];
            }
        }

        return [State::Holds, '', $what];
    }
}
