<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Models\Experiment;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\Experiments\RedirectCircle;

/** Keeps redirect tests of one site from sending visitors round in circles. */
final class Redirections
{
    /** @throws ValidationException where the experiment, once it runs, would lead back to itself through others */
    public static function check(Experiment $experiment, Declared $declared, string $field): void
    {
        if ($declared->kind !== 'redirect') {
            return;
        }
        $circle = RedirectCircle::through($declared, Beside::of($experiment->site, $experiment->key, ['running', 'paused']), $experiment->site->hosts);
        if ($circle !== null) {
            throw ValidationException::withMessages([$field => 'Visitors would go round in circles: a variant leads to the pages of '.implode(', then ', $circle).', which leads back to the pages of this one.']);
        }
    }
}
