<?php

declare(strict_types=1);

namespace App\Cli;

/** `--weights=50,50`: those that variants were promised. */
final class Weights
{
    /**
     * @return list<float>|null null where nothing was said
     *
     * @throws BadUsage
     */
    public static function of(CommandLine $line): ?array
    {
        $weights = $line->value('weights') === null ? null : array_map(static fn (string $word): float => Number::of(trim($word), '--weights'), explode(',', $line->value('weights')));
        if ($weights !== null && (min($weights) < 0 || array_sum($weights) <= 0)) {
            throw new BadUsage('--weights: weights are numbers that are not negative, with a positive sum.');
        }

        return $weights;
    }
}
