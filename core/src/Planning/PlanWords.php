<?php

declare(strict_types=1);

namespace Pellix\Core\Planning;

use Pellix\Core\Chain\Words;

/** A plan in plain words. */
final readonly class PlanWords
{
    public function __construct(private Outcome $of)
    {
    }

    public function sentence(): string
    {
        $plan = $this->of->plan;
        $needed = $this->of->needed();
        if ($needed === null) {
            return $this->foundInTime();
        }
        $each = count(array_unique($needed->each)) === 1
            ? Words::count($needed->each[0], 'visitor').' a variant'
            : self::listed(array_map(Words::number(...), $needed->each)).' visitors';
        $time = $this->of->weeks() === null ? ($plan->traffic === null ? '' : 'Never at this traffic: ') : 'About '.Words::count($this->of->weeks(), 'week').': ';
        $what = $plan->measure instanceof NotWorse
            ? 'show that no variant is worse by '.self::difference($plan, $plan->measure->margin()).' or more'
            : 'find '.self::effect($plan, (float) $plan->effect);

        return "{$time}{$each} {$what}.";
    }

    /** `a change from 5.0 % to 5.5 %` */
    public static function effect(Plan $plan, float $difference): string
    {
        $from = $plan->measure->baseline();
        if ($plan->measure instanceof NotWorse) {
            return 'a margin of '.self::difference($plan, $difference);
        }
        $difference *= ($plan->effect ?? 0) < 0 && $difference > 0 ? -1 : 1;
        $places = self::places($plan, $difference);

        return 'a change from '.self::value($plan, $from, $places).' to '.self::value($plan, $from + $difference, $places);
    }

    /** @return list<string> */
    public function assumptions(): array
    {
        $plan = $this->of->plan;
        $demand = $plan->demand;
        $all = ['Test: '.$plan->measure->method().'.'];
        $all[] = ($demand->sides === 2 ? 'Two sides' : 'One side').', significance level '.self::plain($demand->alpha).', power '.self::plain($demand->power).'.';
        if ($demand->comparisons > 1) {
            $all[] = $demand->isCorrected
                ? "{$demand->comparisons} comparisons with the control, to be tested by Holm's procedure; planned at the Bonferroni level ".self::plain($demand->each()).' each, which needs at least as many visitors.'
                : "{$demand->comparisons} comparisons with the control, each at the whole level: with no correction one of them is called a difference more often than the level says.";
        }
        if ($plan->measure instanceof Means) {
            $all[] = 'One standard deviation for all variants: '.self::plain($plan->measure->sd()).'.';
        }
        if ($plan->traffic !== null) {
            $all[] = $plan->traffic->isMeasured
                ? 'Different visitors within each number of weeks as they were measured; each later week brings as many new ones as the last one measured.'
                : 'Each day brings as many visitors who were never there before; who comes again makes it longer.';
            $all[] = 'The run is whole weeks long, so that each weekday counts alike.';
        }
        if ($plan->share < 1) {
            $all[] = self::percent($plan->share, 1).' of the eligible visitors enter.';
        }

        return $all;
    }

    private function foundInTime(): string
    {
        $plan = $this->of->plan;
        if ($plan->days === null || $plan->traffic === null) {
            return 'Say which effect is to be found, or how long the experiment is to run.';
        }
        $entered = (int) floor((float) $plan->entered($plan->days / 7));

        return Words::count($plan->days, 'day').', '.Words::count($entered, 'visitor').' in all'
            .($this->of->found === null ? ': no effect, however large, would be found.' : ' find '.self::effect($plan, $this->of->found).' or more.');
    }

    private static function difference(Plan $plan, float $difference): string
    {
        return $plan->measure->kind() === 'mean' ? self::short($difference) : self::short(100 * $difference).' points';
    }

    private static function value(Plan $plan, float $value, int $places): string
    {
        return $plan->measure->kind() === 'mean' ? number_format($value, $places, '.', "\u{202f}") : self::percent($value, $places);
    }

    private static function percent(float $part, int $places): string
    {
        return number_format(100 * $part, $places, '.', '')."\u{202f}%";
    }

    /** As many places as show the difference with two digits; one at least. */
    private static function places(Plan $plan, float $difference): int
    {
        $size = abs($difference) * ($plan->measure->kind() === 'mean' ? 1 : 100);

        return $size <= 0 ? 1 : max(1, min(6, (int) ceil(-log10($size)) + ($size < 0.5 ? 1 : 0)));
    }

    /** With three digits that say something. */
    private static function short(float $number): string
    {
        return self::plain((float) sprintf('%.3g', $number));
    }

    /** @param list<string> $words */
    private static function listed(array $words): string
    {
        $last = array_pop($words);

        return implode(', ', $words).' and '.$last;
    }

    private static function plain(float $number): string
    {
        return rtrim(rtrim(number_format($number, 6, '.', ''), '0'), '.');
    }
}
