<?php

declare(strict_types=1);

namespace App\Cli;

use Pellix\Core\InvalidInput;
use Pellix\Core\Planning\InvalidAssumption;
use Pellix\Core\Planning\Outcome;
use Pellix\Core\Planning\Plan;
use Pellix\Core\Planning\PlanWords;
use Pellix\Core\Planning\Warning;
use Pellix\Core\Planning\Warnings;

/** `bin/pellix plan --baseline=0.05 --lift=0.10 --daily=1200 --json` */
final class PlanCommand
{
    private const NUMBERS = ['baseline', 'mean', 'sd', 'lift', 'points', 'margin', 'alpha', 'power', 'sides', 'daily', 'share', 'days', 'weeks', 'visitors', 'n'];

    /**
     * @param list<string> $arguments
     * @param resource     $out
     * @param resource     $err
     *
     * @return int 0 fine, 2 bad input
     */
    public static function run(array $arguments, $out, $err): int
    {
        try {
            $line = CommandLine::parse($arguments, [...self::NUMBERS, 'weights', 'within', 'comparisons'], ['json', 'points']);
            if ($line->words !== []) {
                throw new BadUsage("\"{$line->words[0]}\" is no option; all options begin with --.");
            }
            $plan = Plan::read(self::plan($line));
            $answer = self::answer($line, $plan);
        } catch (BadUsage $e) {
            fwrite($err, "plan: {$e->getMessage()}\n");

            return 2;
        } catch (InvalidInput $e) {
            fwrite($err, 'plan: '.($e->field === '' ? '' : "{$e->field}: ")."{$e->getMessage()}\n");

            return 2;
        }
        fwrite($out, ($line->has('json') ? json_encode($answer, JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE) : self::words($answer))."\n");

        return 0;
    }

    /** @return array<string, mixed> the options as the JSON of a plan */
    private static function plan(CommandLine $line): array
    {
        $plan = [];
        foreach (['baseline', 'mean', 'sd', 'lift', 'margin', 'alpha', 'power', 'sides', 'daily', 'share', 'days', 'points'] as $name) {
            $value = $line->value($name);
            if ($value !== null) {
                $plan[$name] = Number::of($value, "--{$name}");
            }
        }
        if ($line->has('points') && $line->value('points') === null) {
            // The bare word says what --lift is.
            $plan['points'] = $plan['lift'] ?? throw new BadUsage('--points says that --lift is a difference; give --lift=… too, or --points=….');
            unset($plan['lift']);
        }
        if ($line->value('weeks') !== null) {
            $plan['days'] = 7 * Number::of($line->value('weeks'), '--weeks');
        }
        foreach (['weights', 'within'] as $name) {
            if ($line->value($name) !== null) {
                $plan[$name] = array_map(static fn (string $word): float => Number::of(trim($word), "--{$name}"), explode(',', $line->value($name)));
            }
        }
        if ($line->value('comparisons') !== null) {
            $plan['comparisons'] = $line->value('comparisons');
        }

        return $plan;
    }

    /**
     * @return array<string, mixed>
     *
     * @throws BadUsage
     * @throws InvalidAssumption
     */
    private static function answer(CommandLine $line, Plan $plan): array
    {
        $visitors = $line->value('visitors');
        $n = $line->value('n');
        if ($visitors !== null && $n !== null) {
            throw new BadUsage('Give --visitors=… (of all variants together) or --n=… (of each), not both.');
        }
        if ($n !== null) {
            // Of the control; the others in proportion to their weights.
            $total = self::visitors($n, '--n') / $plan->weights[0] * array_sum($plan->weights);

            return $plan->effect === null ? self::smallest($plan, $total) : self::power($plan, $total);
        }
        if ($visitors !== null) {
            return self::smallest($plan, self::visitors($visitors, '--visitors'));
        }
        if ($plan->effect === null && ($plan->days === null || $plan->traffic === null)) {
            throw new BadUsage('Say what is to be found (--lift=…), or with how many: --visitors=…, --n=…, or --weeks=… with --daily=….');
        }

        return Outcome::of($plan)->toArray();
    }

    /** @return array<string, mixed> */
    private static function power(Plan $plan, float $total): array
    {
        $powers = $plan->planner()->powers((float) $plan->effect, $total);

        return ['kind' => $plan->measure->kind(), 'power' => min($powers), 'powers' => $powers, 'total' => $total, ...self::asked($plan)];
    }

    /** @return array<string, mixed> */
    private static function smallest(Plan $plan, float $total): array
    {
        $found = [];
        foreach ([1, -1] as $way) {
            $points = $plan->planner()->smallest($total, $way);
            $found[$way] = ['lift' => $points === null ? null : $plan->lift($points), 'points' => $points];
        }

        return ['kind' => $plan->measure->kind(), ...$found[1], 'downwards' => $found[-1], 'total' => $total, 'power' => $plan->demand->power, ...self::asked($plan)];
    }

    /** @return array<string, mixed> */
    private static function asked(Plan $plan): array
    {
        $outcome = Outcome::of($plan);

        return ['alpha' => $plan->demand->alpha, 'alpha_each' => $plan->demand->each(), 'assumptions' => (new PlanWords($outcome))->assumptions(),
            'warnings' => array_map(static fn (Warning $warning): array => $warning->toArray(), Warnings::of($outcome))];
    }

    private static function visitors(string $word, string $option): float
    {
        $number = Number::of($word, $option);

        return $number >= 2 && $number <= 1e12 ? $number : throw new BadUsage("{$option}: \"{$word}\" is no number of visitors that a plan can be made for: at least 2.");
    }

    /** @param array<string, mixed> $answer */
    private static function words(array $answer): string
    {
        $first = $answer['words'] ?? (isset($answer['powers'])
            ? sprintf('With %s visitors in all the chance to find it is %.1f %%.', number_format($answer['total']), 100 * $answer['power'])
            : ($answer['points'] === null ? 'No effect, however large, would be found.' : sprintf('With %s visitors in all a difference of %.6g can be found%s.', number_format($answer['total']), $answer['points'], $answer['lift'] === null ? '' : sprintf(' (%.1f %% of the baseline)', 100 * $answer['lift']))));

        return implode("\n", [$first, ...array_map(static fn (array $warning): string => "Warning: {$warning['words']}", $answer['warnings']), ...$answer['assumptions']]);
    }
}
