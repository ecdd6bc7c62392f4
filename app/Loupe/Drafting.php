<?php

declare(strict_types=1);

namespace App\Loupe;

use App\Experiments\ExperimentStore;
use App\Experiments\WrittenExperiment;
use App\Models\Experiment;
use App\Models\LoupeLink;
use Illuminate\Support\Facades\Gate;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Experiments\Change;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\Experiments\Together\ChangeMerge;
use Pellix\Core\Formats\Same;
use Pellix\Core\InvalidInput;
use Pellix\Core\Rights\Right;
use Symfony\Component\HttpKernel\Exception\HttpException;

/** The changes of the one variant that a link is for: the same list that the experiment's form has, in the same draft. */
final readonly class Drafting
{
    /** So often a list is put together anew where somebody else was faster. */
    private const TRIES = 5;

    private const MOST_GOALS = 20;

    public function __construct(private ExperimentStore $store)
    {
    }

    /**
     * The list as it is kept now.
     *
     * @return array<string, mixed>
     */
    public function of(LoupeLink $link): array
    {
        return self::state($link, self::experiment($link));
    }

    /**
     * Puts what somebody has made of the list into what others have made of it meanwhile, and keeps that.
     *
     * @param list<array<string, mixed>> $base what they began with
     * @param list<array<string, mixed>> $mine what they have made of it
     *
     * @return array<string, mixed> the list as it is kept now; `both` names by index those that somebody else has written anew as well, `with` who has changed something meanwhile
     *
     * @throws HttpException where it is no draft any more
     */
    public function keep(LoupeLink $link, array $base, array $mine): array
    {
        for ($try = 1; ; $try++) {
            $experiment = self::experiment($link);
            self::refuseStarted($experiment);
            $written = WrittenExperiment::of($experiment);
            $kept = self::changesIn($written, $link);
            $other = Same::json($kept, $base) ? null : $experiment->changed_by;
            $merged = ChangeMerge::of($base, $mine, $kept);
            abort_if(count($merged->changes) > DraftShape::MOST_CHANGES, 422, 'A variant has at most '.DraftShape::MOST_CHANGES.' changes: take some out first.');
            try {
                if (! Same::json($merged->changes, $kept)) {
                    $experiment = $this->write($link, $experiment, self::with($written, $link, $merged->changes));
                }

                return [...self::state($link, $experiment), 'both' => $merged->both, 'with' => $other];
            } catch (HttpException $e) {
                // Somebody else has kept something between the two.
                $e->getStatusCode() === 412 && $try < self::TRIES || throw $e;
            }
        }
    }

    /** Gives a goal of the site to the experiment: the primary one where it has none yet. */
    public function attach(LoupeLink $link, string $goal): void
    {
        for ($try = 1; ; $try++) {
            $experiment = self::experiment($link);
            self::refuseStarted($experiment);
            $written = WrittenExperiment::of($experiment);
            $goals = array_values((array) ($written['goals'] ?? []));
            if (in_array($goal, array_column($goals, 'key'), true)) {
                return;
            }
            abort_if(count($goals) >= self::MOST_GOALS, 422, 'An experiment has at most '.self::MOST_GOALS.' goals.');
            try {
                $this->write($link, $experiment, [...$written, 'goals' => [...$goals, ['key' => $goal, 'role' => $goals === [] ? 'primary' : 'secondary']]]);

                return;
            } catch (HttpException $e) {
                $e->getStatusCode() === 412 && $try < self::TRIES || throw $e;
            }
        }
    }

    /** @throws HttpException where what the link is for is no draft any more */
    public function mustBeDraft(LoupeLink $link): void
    {
        self::refuseStarted(self::experiment($link));
    }

    private static function refuseStarted(Experiment $experiment): void
    {
        abort_unless($experiment->state === 'draft', 409, "This experiment is {$experiment->state}: what its visitors see is changed in Pellix alone. Make a copy of it to go on here.");
    }

    /**
     * The experiment as it is declared, with the changes that can be read: what the page is shown with.
     *
     * @throws InvalidInput
     */
    public static function declared(LoupeLink $link): Declared
    {
        $experiment = self::experiment($link);
        $file = $experiment->file();
        $changes = array_values(array_filter(self::changesIn(WrittenExperiment::of($experiment), $link), static fn (array $change): bool => self::wrong($change) === null));

        return Declared::read(['variants' => self::with($file, $link, $changes)['variants']] + $file);
    }

    /** @param array<string, mixed> $written */
    private function write(LoupeLink $link, Experiment $experiment, array $written): Experiment
    {
        $person = $link->person ?? throw new Refused('Whoever made this link is gone.');
        try {
            return $this->store->replace($experiment, WrittenExperiment::read($link->site, $experiment, $written, Gate::forUser($person)->allows(Right::Publish->value, $link->site)), $person, $experiment->revision);
        } catch (ValidationException) {
            return $this->store->keepUnfinished($experiment, $written, $person, $experiment->revision);
        }
    }

    private static function experiment(LoupeLink $link): Experiment
    {
        // Anew each time: another process may have kept something.
        return Experiment::query()->with('unfinished', 'goals')->find($link->experiment_id) ?? throw new Refused('The experiment is gone.');
    }

    /** @return array<string, mixed> */
    private static function state(LoupeLink $link, Experiment $experiment): array
    {
        $changes = self::changesIn(WrittenExperiment::of($experiment), $link);
        $mayCode = Gate::forUser($link->person)->allows(Right::Publish->value, $link->site);
        $problems = array_filter(array_map(static fn (array $change): ?string => self::wrong($change) ?? ($mayCode || ! Change::read($change)->kind->isCode() ? null : 'HTML and scripts run in every visitor’s browser: it takes the right to publish on the site to keep them.'), $changes));

        return ['revision' => $experiment->revision, 'state' => $experiment->state, 'changed_by' => $experiment->changed_by, 'may_code' => $mayCode, 'changes' => $changes, 'problems' => (object) $problems];
    }

    /** @param array<string, mixed> $change */
    private static function wrong(array $change): ?string
    {
        try {
            Change::read($change, true);

            return null;
        } catch (InvalidInput $e) {
            return "{$e->field}: {$e->getMessage()}";
        }
    }

    /**
     * @param array<string, mixed> $written
     *
     * @return list<array<string, mixed>>
     */
    private static function changesIn(array $written, LoupeLink $link): array
    {
        foreach ((array) ($written['variants'] ?? []) as $variant) {
            if (($variant['key'] ?? null) === $link->variant) {
                // A form begins with an empty one, which says nothing yet.
                return array_values(array_filter((array) ($variant['changes'] ?? []), static fn (mixed $change): bool => is_array($change) && (trim((string) ($change['selector'] ?? '')) !== '' || trim((string) ($change['value'] ?? '')) !== '')));
            }
        }
        throw new Refused('The variant that this link is for is gone.');
    }

    /**
     * @param array<string, mixed>       $json
     * @param list<array<string, mixed>> $changes
     *
     * @return array<string, mixed>
     */
    private static function with(array $json, LoupeLink $link, array $changes): array
    {
        $isThere = false;
        foreach ($json['variants'] as $i => $variant) {
            if ($variant['key'] === $link->variant) {
                $json['variants'][$i]['changes'] = $changes;
                $isThere = true;
            }
        }
        if (! $isThere) {
            // It was added to a draft that is not whole yet.
            $json['variants'][] = ['key' => $link->variant, 'weight' => 1, 'changes' => $changes];
        }

        return $json;
    }
}
