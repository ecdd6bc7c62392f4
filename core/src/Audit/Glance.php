<?php

declare(strict_types=1);

namespace Pellix\Core\Audit;

use Pellix\Core\Audit\Shapes\OnsetWatch;

/**
 * A look at the split alone, between audits: by how many visitors met each variant first on each day. It is valid however often one
 * looks (see `OnsetWatch`); what it suspects an audit has to confirm.
 */
final class Glance
{
    /** @param array<string, array<int, array<int, int>>> $days day => epoch => place of the variant => visitors */
    public static function isOff(array $days, Setup $setup): bool
    {
        ksort($days);
        $epochs = count($setup->epochs);
        $known = array_map(static fn (array $day): array => array_filter($day, static fn (int $epoch): bool => $epoch < $epochs, ARRAY_FILTER_USE_KEY), $days);
        $weights = array_map($setup->weights(...), array_keys($setup->epochs));

        return $known !== [] && $weights !== [] && OnsetWatch::of($known, $weights, $setup->alpha)->crossed !== null;
    }
}
