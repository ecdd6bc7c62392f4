<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Models\Site;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\InvalidInput;

/** The other experiments of a site that visitors may meet. */
final class Beside
{
    /**
     * @param list<string> $states
     *
     * @return list<Declared> those that can be read: the others are published to nobody, and say so at their own place
     */
    public static function of(Site $site, string $but, array $states): array
    {
        $declared = [];
        foreach ($site->experiments()->where('key', '<>', $but)->whereIn('state', $states)->with('goals', 'revisions')->get() as $other) {
            try {
                $declared[] = $other->declared();
            } catch (InvalidInput) {
                continue;
            }
        }

        return $declared;
    }
}
