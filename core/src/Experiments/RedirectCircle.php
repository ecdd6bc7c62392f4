<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

/** Finds redirect tests of one site that would send a visitor round: from one page to another and back again. */
final class RedirectCircle
{
    /**
     * @param list<Experiment> $others those that run beside it
     * @param list<string>     $hosts  of the site, for targets that are paths
     *
     * @return list<string>|null keys of the experiments that lead back to it, in the order of the way; null where none do
     */
    public static function through(Experiment $experiment, array $others, array $hosts): ?array
    {
        $ways = [[$experiment, []]];
        $seen = [$experiment->key => true];
        while (($way = array_shift($ways)) !== null) {
            [$from, $passed] = $way;
            if ($from !== $experiment && self::leads($from, $experiment, $hosts)) {
                return $passed;
            }
            foreach ($others as $other) {
                if (! isset($seen[$other->key]) && self::leads($from, $other, $hosts)) {
                    $seen[$other->key] = true;
                    $ways[] = [$other, [...$passed, $other->key]];
                }
            }
        }

        return null;
    }

    /**
     * Whether a variant of one leads to a page that visitors of the other are sent away from.
     *
     * @param list<string> $hosts
     */
    public static function leads(Experiment $from, Experiment $to, array $hosts): bool
    {
        if ($to->kind !== 'redirect') {
            return false;
        }
        foreach ($from->variants as $variant) {
            if ($variant->target !== null && Redirect::returns($to->pages, $variant->target, $hosts)) {
                return true;
            }
        }

        return false;
    }
}
