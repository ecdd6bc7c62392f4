<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Models\Experiment;
use App\Models\Site;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\Experiments\RedirectCircle;
use Pellix\Core\InvalidInput;

/** Keeps redirect tests of one site from sending visitors round in circles. */
final class Redirections
{
    /** @throws ValidationException where the experiment, once it runs, would lead back to itself through others */
    public static function check(Experiment $experiment, Declared $declared, string $field): void
    {
        if ($declared->kind !== 'redirect') {
            return;
        }
        $circle = RedirectCircle::through($declared, self::running($experiment->site, $experiment->id), $experiment->site->hosts);
        if ($circle !== null) {
            throw ValidationException::withMessages([$field => 'Visitors would go round in circles: a variant leads to the pages of '.implode(', then ', $circle).', which leads back to the pages of this one.']);
        }
    }

    /** @return list<Declared> the redirect tests that visitors may meet, but one */
    public static function running(Site $site, int $but): array
    {
        $declared = [];
        foreach ($site->experiments()->whereKeyNot($but)->where('kind', 'redirect')->whereIn('state', ['running', 'paused'])->with('goals', 'revisions')->get() as $other) {
            try {
                $declared[] = $other->declared();
            } catch (InvalidInput) {
                // It is published to nobody, and says so at its own place.
            }
        }

        return $declared;
    }
}
