<?php

declare(strict_types=1);

namespace App\Rehearsals\Parts;

use App\Measures\Plan;
use App\Rehearsals\Outcome;
use App\Rehearsals\Stage;
use App\Rehearsals\Walker;
use App\Rehearsals\Walks\Manner;
use App\Rehearsals\Walks\Walk;
use Pellix\Core\Chain\Link;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\Hit;
use Pellix\Core\Rehearsal\CheckCode;
use Pellix\Core\Rehearsal\DataJudge;
use Pellix\Core\Rehearsal\Finding;
use Pellix\Core\Wiring\Findings\Severity;

/** Walks the script in one variant: to each goal as it should be, on a slow connection, leaving at once, and without the steps. */
final readonly class WalkPart implements Part
{
    public function play(Stage $stage, ?string $variant): Outcome
    {
        $outcome = new Outcome();
        if (! $stage->runs() || $stage->id((string) $variant) === null) {
            return $outcome;
        }
        $name = $stage->variant((string) $variant)->name;
        $this->unknownWays($stage, $outcome);
        $stage->say("The goals in “{$name}”: walking");
        $walk = new Walk($stage, $outcome, (string) $variant, Manner::Ordinary);
        $walk->play();
        $this->data($stage, $outcome, (string) $variant, $walk->walker);
        if (array_filter($outcome->findings, static fn (Finding $one): bool => $one->severity === Severity::Blocker) !== []) {
            $walk->evidence();
        }
        $isMissing = in_array(CheckCode::GoalMissing, array_map(static fn (Finding $one): CheckCode => $one->code, $outcome->findings), true);
        if (! $isMissing && ! $walk->isStopped && $walk->reached !== []) {
            foreach ([Manner::Slow, Manner::Leaving] as $manner) {
                $stage->say("The goals in “{$name}”: {$manner->value}");
                $other = new Walk($stage, $outcome, (string) $variant, $manner);
                $other->play();
                $other->leave();
            }
            $stage->say("The goals in “{$name}”: without the steps");
            $this->directly($stage, $outcome, (string) $variant, $walk->reached);
            $walk->lookAgain();
        }
        $walk->leave();

        return $outcome;
    }

    private function unknownWays(Stage $stage, Outcome $outcome): void
    {
        $walked = $stage->script->goals();
        foreach ($stage->experiment->goals as $goal) {
            if (! in_array($goal->key, $walked, true)) {
                $outcome->found(new Finding(CheckCode::GoalUnreachable, "Goal “{$goal->name}” was not walked to.", 'No recorded visit tells how to reach it, and its definition does not say.', 'Write the steps that lead to it into the script of the rehearsal.', null, null, $goal->key));
            }
        }
    }

    private function data(Stage $stage, Outcome $outcome, string $variant, Walker $walker): void
    {
        $plan = Plan::of($stage->site);
        $events = 0;
        foreach ($stage->received->visitorsSince(0.0) as $visitor) {
            foreach ($stage->received->events($visitor) as $event) {
                $events++;
                ['verdict' => $verdict, 'mistakes' => $mistakes] = $plan->judge($event->name, $event->props);
                if ($verdict === 'lacks' || $verdict === 'wrong-type') {
                    $outcome->found(new Finding(CheckCode::DataPlan, "Event {$event->name} does not keep to the tracking plan.", ($mistakes[0]['property'] ?? '') === '' ? ($mistakes[0]['message'] ?? '') : "{$mistakes[0]['property']}: {$mistakes[0]['message']}", 'Have the page send it as planned, or change the plan.', null, null, null, ['step' => $event->name]));
                }
            }
        }
        foreach ($stage->received->rejected() as $row) {
            $outcome->found(new Finding(CheckCode::DataRejected, 'The collector rejected an event of the walk.', "{$row->rejected}: {$row->message}", 'See what the page sends.', null, null, null, ['step' => $row->rejected, 'sample' => mb_substr($row->props, 0, 300)]));
        }
        foreach (DataJudge::personal(array_values($walker->requests), $walker->forms->typed, $walker->forms->madeUp->mark, $stage->pellix, $stage->site->hosts, $variant) as $finding) {
            $outcome->found($finding);
        }
        if ($events > 0 && ! array_filter($outcome->findings, static fn (Finding $one): bool => $one->code->link() === Link::Data)) {
            $outcome->proven(Link::Data, "All {$events} events keep to the tracking plan".($walker->forms->typed === [] ? '.' : ', and nothing that was typed left the page for a place that it was not meant for.'), $variant);
        }
    }

    /** @param array<string, Hit> $reached */
    private function directly(Stage $stage, Outcome $outcome, string $variant, array $reached): void
    {
        foreach ($reached as $key => $hit) {
            $goal = array_values(array_filter($stage->experiment->goals, static fn (Goal $one): bool => $one->key === $key))[0];
            if ($goal->kind === 'steps' || $stage->experiment->pages->matches($hit->url)) {
                continue;
            }
            $visitor = $stage->visitors->make($variant, $stage->screen());
            $stage->visitors->open($visitor);
            $visitor->tab->settle();
            $since = microtime(true);
            $visitor->tab->go($hit->url);
            $visitor->tab->settle();
            $found = $stage->awaitReceived($visitor->tab, static fn (): ?true => $stage->received->hits((string) $visitor->id, $goal, $since) === [] ? null : true, 1.5);
            $found === null || $outcome->found(new Finding(CheckCode::GoalEarly, "Goal “{$goal->name}” is also reached without the steps before it.", "Whoever opens {$hit->url} reaches it.", 'Where that happens often, count an event that only the last step sends.', null, null, $goal->key));
            $visitor->leave();
        }
    }
}
