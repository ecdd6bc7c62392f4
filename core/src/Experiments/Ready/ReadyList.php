<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments\Ready;

use Pellix\Core\Chain\Words;
use Pellix\Core\Experiments\Advice\Advice;
use Pellix\Core\Experiments\Advice\AdviceCode;
use Pellix\Core\Experiments\DeclaredVariant;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Planning\Outcome;
use Pellix\Core\Planning\Plan;
use Pellix\Core\Planning\PlanWords;

/** Looks an experiment over before its start, along the chain: each point with its evidence, and none fine without one. */
final class ReadyList
{
    /**
     * @return list<ReadyPoint> in the order of the chain
     */
    public static function of(ReadyFacts $facts): array
    {
        $experiment = $facts->experiment;
        if ($experiment === null) {
            return [new ReadyPoint(ReadyCode::Finished, ReadyState::Blocker, 'The draft is not finished: what is missing is marked on its chain.')];
        }
        $points = [
            ...self::what($experiment),
            self::rehearsed($facts),
            ...ReadyPages::of($facts, $experiment),
            ...self::entry($facts, $experiment),
            ...self::split($facts, $experiment),
            ...ReadyEffects::of($facts, $experiment),
            ...ReadyGoals::of($facts, $experiment),
            ...self::data($facts, $experiment),
        ];
        if ($facts->isCounting) {
            $points = array_map(self::ofFormerRules(...), $points);
        }
        $order = array_flip(array_column(ReadyCode::cases(), 'value'));
        usort($points, static fn (ReadyPoint $a, ReadyPoint $b): int => $order[$a->code->value] <=> $order[$b->code->value]);

        return $points;
    }

    /** What is told by counts stays, and says that they are those of the rules before the last change. */
    private static function ofFormerRules(ReadyPoint $point): ReadyPoint
    {
        return in_array($point->code, [ReadyCode::Pages, ReadyCode::Audience], true)
            ? new ReadyPoint($point->code, $point->state, "{$point->words} It is being counted anew since its last change: look again in a moment.", $point->at, $point->subject, $point->examples)
            : $point;
    }

    /**
     * @param list<ReadyPoint> $points
     *
     * @return list<string> the words of what keeps it from starting
     */
    public static function blockers(array $points): array
    {
        return array_values(array_map(static fn (ReadyPoint $point): string => $point->words, array_filter($points, static fn (ReadyPoint $point): bool => $point->state === ReadyState::Blocker)));
    }

    /**
     * Advice of some codes, as points.
     *
     * @param list<Advice> $all
     *
     * @return list<ReadyPoint>
     */
    public static function advised(array $all, ReadyCode $as, ReadyState $state, AdviceCode ...$codes): array
    {
        return array_values(array_map(static fn (Advice $one): ReadyPoint => new ReadyPoint($as, $state, $one->words), array_filter($all, static fn (Advice $one): bool => in_array($one->code, $codes, true))));
    }

    private static function rehearsed(ReadyFacts $facts): ReadyPoint
    {
        $rehearsed = $facts->seen->rehearsed;
        if ($rehearsed === null) {
            return new ReadyPoint(ReadyCode::Rehearsed, ReadyState::Advice, 'It has not been rehearsed: no browser has met its variants and goals yet.');
        }
        if ($rehearsed->changed !== []) {
            return new ReadyPoint(ReadyCode::Rehearsed, ReadyState::Advice, 'It was rehearsed before this changed: '.implode(', ', $rehearsed->changed).'. Rehearse it again.', $rehearsed->at);
        }
        $blockers = array_merge(...array_column($rehearsed->links, 'blockers'), ...[[]]);

        return $blockers === []
            ? new ReadyPoint(ReadyCode::Rehearsed, ReadyState::Fine, 'A browser has met every variant and reached every goal that a way is known to.', $rehearsed->at)
            : new ReadyPoint(ReadyCode::Rehearsed, ReadyState::Blocker, "In a rehearsal: {$blockers[0]}".(count($blockers) > 1 ? ' And '.Words::count(count($blockers) - 1, 'thing').' more.' : ''), $rehearsed->at);
    }

    /** @return list<ReadyPoint> */
    private static function what(Experiment $experiment): array
    {
        $hypothesis = trim($experiment->hypothesis->text);

        return [
            new ReadyPoint(ReadyCode::Name, ReadyState::Fine, "It is called “{$experiment->name}”."),
            $hypothesis === '' ? new ReadyPoint(ReadyCode::Hypothesis, ReadyState::Advice, 'Nothing says why it is made, nor what is expected of it. In three months nobody will know.')
                : new ReadyPoint(ReadyCode::Hypothesis, ReadyState::Fine, $hypothesis),
            $experiment->owner === '' ? new ReadyPoint(ReadyCode::Owner, ReadyState::Advice, 'Nobody looks after it by name.')
                : new ReadyPoint(ReadyCode::Owner, ReadyState::Fine, "{$experiment->owner} looks after it."),
            self::plan($experiment),
        ];
    }

    private static function plan(Experiment $experiment): ReadyPoint
    {
        $plan = $experiment->plan;
        if ($plan === null) {
            return new ReadyPoint(ReadyCode::Plan, ReadyState::Advice, 'It is not planned: nobody knows whether so many visitors come that anything can be found.');
        }
        if (! self::divides($plan, $experiment) || abs($plan->share - $experiment->share) > 1e-9) {
            return new ReadyPoint(ReadyCode::Plan, ReadyState::Advice, 'It was planned with other weights or another share than it has now. Plan it again.', $plan->madeAt);
        }

        return new ReadyPoint(ReadyCode::Plan, ReadyState::Fine, (new PlanWords(Outcome::of($plan)))->sentence(), $plan->madeAt);
    }

    /** Whether a plan divides visitors as the experiment does: by ratio, the control first, the others in any order. */
    private static function divides(Plan $plan, Experiment $experiment): bool
    {
        $taking = array_values(array_filter($experiment->variants, static fn (DeclaredVariant $one): bool => $one->variant->weight > 0));
        usort($taking, static fn (DeclaredVariant $a, DeclaredVariant $b): int => $b->variant->isControl <=> $a->variant->isControl);
        return self::parts($plan->weights) === self::parts(array_map(static fn (DeclaredVariant $one): float => $one->variant->weight, $taking));
    }

    /**
     * @param list<float> $weights
     *
     * @return list<float> of the whole; the first stays first
     */
    private static function parts(array $weights): array
    {
        $parts = array_map(static fn (float $weight): float => round($weight / array_sum($weights), 9), $weights);
        $others = array_slice($parts, 1);
        sort($others);

        return [...array_slice($parts, 0, 1), ...$others];
    }

    /** @return list<ReadyPoint> */
    private static function entry(ReadyFacts $facts, Experiment $experiment): array
    {
        $eligible = $facts->seen->pageViews;
        $audience = match (true) {
            $experiment->audience === null => new ReadyPoint(ReadyCode::Audience, ReadyState::Fine, 'Everybody may enter.'),
            ! $facts->seen->eligibleKnown => new ReadyPoint(ReadyCode::Audience, ReadyState::Advice, 'Recorded visits do not tell who belongs to this audience: try it with the tester at the Entry link.'),
            $eligible->visitors === 0 => new ReadyPoint(ReadyCode::Audience, ReadyState::Blocker, 'Nobody whose visit was recorded in the last week would have entered: the audience rule leaves nobody.', $facts->seen->siteViews->last),
            default => new ReadyPoint(ReadyCode::Audience, ReadyState::Fine, Words::count($eligible->visitors, 'visitor').' of the last week would have entered.', $eligible->last),
        };

        return [
            $audience,
            $experiment->share <= 0 ? new ReadyPoint(ReadyCode::Share, ReadyState::Blocker, 'The share is 0 %: nobody would enter.')
                : new ReadyPoint(ReadyCode::Share, ReadyState::Fine, Words::percent($experiment->share, 1).' of the eligible visitors enter.'),
            ...($experiment->group === null ? [] : (self::advised($facts->advice, ReadyCode::Group, ReadyState::Blocker, AdviceCode::GroupFull)
                ?: [new ReadyPoint(ReadyCode::Group, ReadyState::Fine, "The group “{$experiment->group->key}” has room for its share.")])),
            new ReadyPoint(ReadyCode::Internal, ReadyState::Advice, 'No rule tells visits of your own people from those of visitors: they are counted. Mark your own browser in the live feed, so that you can tell at least yours.'),
        ];
    }

    /** @return list<ReadyPoint> */
    private static function split(ReadyFacts $facts, Experiment $experiment): array
    {
        $taking = count(array_filter($experiment->variants, static fn (DeclaredVariant $one): bool => $one->variant->weight > 0));
        $days = $experiment->plannedDays;
        $kept = min($experiment->lifetimeDays ?? $facts->cookieDays, $facts->cookieDays);

        return [
            $taking < 2 ? new ReadyPoint(ReadyCode::Weights, ReadyState::Blocker, 'One variant alone takes visitors in: there would be nothing to compare.')
                : new ReadyPoint(ReadyCode::Weights, ReadyState::Fine, "{$taking} variants take visitors in."),
            ...(self::advised($facts->advice, ReadyCode::Lifetime, ReadyState::Advice, AdviceCode::LifetimeShort, AdviceCode::CookieShort)
                ?: [new ReadyPoint(ReadyCode::Lifetime, ReadyState::Fine, "A visitor keeps its variant for {$kept} days".($days === null ? '.' : "; the run is planned for {$days}."))]),
        ];
    }

    /** @return list<ReadyPoint> */
    private static function data(ReadyFacts $facts, Experiment $experiment): array
    {
        return [
            $facts->asksConsent ? new ReadyPoint(ReadyCode::Consent, ReadyState::Advice, 'Visitors are asked first: whoever does not agree is in no variant and counts for no goal. The result holds for those who agree.')
                : new ReadyPoint(ReadyCode::Consent, ReadyState::Fine, 'The site asks nobody: everybody is counted.'),
            match (true) {
                $facts->hasEnd => new ReadyPoint(ReadyCode::End, ReadyState::Fine, 'It ends by itself.'),
                $experiment->plannedDays !== null => new ReadyPoint(ReadyCode::End, ReadyState::Fine, "It is planned for {$experiment->plannedDays} days; somebody has to end it."),
                default => new ReadyPoint(ReadyCode::End, ReadyState::Advice, 'Nothing says when it ends: such tests are ended when the figures look right.'),
            },
        ];
    }
}
