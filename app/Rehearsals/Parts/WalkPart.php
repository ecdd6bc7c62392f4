<?php

declare(strict_types=1);

namespace App\Rehearsals\Parts;

use App\Measures\Plan;
use App\Rehearsals\Outcome;
use App\Rehearsals\Stage;
use App\Rehearsals\Visitor;
use App\Rehearsals\Walker;
use Pellix\Core\Chain\Link;
use Pellix\Core\Counting\VisitorLog;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\Hit;
use Pellix\Core\Rehearsal\Aim;
use Pellix\Core\Rehearsal\CheckCode;
use Pellix\Core\Rehearsal\Finding;
use Pellix\Core\Rehearsal\GoalJudge;
use Pellix\Core\Rehearsal\MadeUp;
use Pellix\Core\Rehearsal\Step;
use Pellix\Core\Rehearsal\StepKind;
use Pellix\Core\Rules\AddressFacts;
use Pellix\Core\Wiring\Findings\Severity;

/** Walks the script in one variant: to each goal as it should be, on a slow connection, leaving at once, and without the steps. */
final readonly class WalkPart implements Part
{
    private const ORDINARY = '';
    private const SLOW = 'on a slow connection';
    private const LEAVING = 'when the page is left at once';

    /** So long is waited for a goal: longer than it may take, to tell the late from the lost. */
    private const PATIENCE = 9.0;

    /** So long is waited for another one after the first. */
    private const REPEATED_WITHIN = 1.2;

    public function play(Stage $stage, ?string $variant): Outcome
    {
        $outcome = new Outcome();
        if (! $stage->runs()) {
            return $outcome;
        }
        $name = $stage->variant((string) $variant)->name;
        if ($stage->id((string) $variant) === null) {
            return $outcome;
        }
        $this->unknownWays($stage, $outcome);
        $stage->say("The goals in “{$name}”: walking");
        [$reached, $walker] = $this->walk($stage, $outcome, (string) $variant, self::ORDINARY);
        $this->data($stage, $outcome, (string) $variant, $walker);
        $isSound = ! in_array(CheckCode::GoalMissing, array_map(static fn (Finding $one): CheckCode => $one->code, $outcome->findings), true) && ! isset($outcome->figures['stopped']);
        if ($isSound && $reached !== []) {
            foreach ([self::SLOW, self::LEAVING] as $way) {
                $stage->say("The goals in “{$name}”: {$way}");
                $this->walk($stage, $outcome, (string) $variant, $way);
            }
            $stage->say("The goals in “{$name}”: without the steps");
            $this->directly($stage, $outcome, (string) $variant, $reached);
        }

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

    /** @return array{array<string, Hit>, Walker} the hits of the goals that were reached, and who walked */
    private function walk(Stage $stage, Outcome $outcome, string $variant, string $way): array
    {
        $visitor = $stage->visitor($variant, $stage->screen());
        $walker = new Walker($stage, $visitor->tab);
        if ($way === self::SLOW) {
            $visitor->tab->execute('Network.emulateNetworkConditions', ['offline' => false, 'latency' => 300, 'downloadThroughput' => 60_000, 'uploadThroughput' => 30_000]);
        }
        $steps = $stage->script->for($variant);
        $reached = [];
        $goals = array_column(array_map(static fn (Goal $goal): array => [$goal->key, $goal], $stage->experiment->goals), 1, 0);
        $since = $last = microtime(true);
        $done = 0;
        $isFirst = true;
        foreach ($steps as $number => $step) {
            if ($step->aim === Aim::Goal) {
                $goal = $goals[(string) $step->name] ?? null;
                if ($goal !== null) {
                    $hit = $this->goal($stage, $outcome, $visitor, $walker, $goal, $step, $since, $last, $way);
                    $hit === null || $reached[$goal->key] = $hit;
                }
                continue;
            }
            // What is looked for besides goals was looked for in the ordinary walk.
            if ($way !== self::ORDINARY && $step->kind === StepKind::Expect) {
                continue;
            }
            if ($step->kind === StepKind::Open) {
                $since = microtime(true);
            }
            $result = $walker->do($step);
            $step->kind === StepKind::Expect || $last = microtime(true);
            $done++;
            if (! $result['done']) {
                if (! $this->stopped($stage, $outcome, $step, $number, $result['words'], $variant, $way)) {
                    continue;
                }
                break;
            }
            if ($result['words'] !== '' && $way === self::ORDINARY) {
                $outcome->figures['remarks'][] = $result['words'];
            }
            if ($isFirst && $way === self::ORDINARY && $step->kind === StepKind::Open) {
                $isFirst = false;
                $this->strays($stage, $outcome, $visitor, array_slice($steps, $done, null, true));
            }
        }
        $walker->gather();
        $outcome->noteAll($walker->tab->watch, $variant, null);
        if ($way === self::ORDINARY) {
            $outcome->figures['steps'] = $done;
            $this->exposed($stage, $outcome, $visitor);
            if (array_filter($outcome->findings, static fn (Finding $one): bool => $one->severity === Severity::Blocker) !== []) {
                $stage->evidence($walker->tab, "walk-{$variant}");
            }
        }
        $visitor->leave();

        return [$reached, $walker];
    }

    /** Whether a step that could not be done ends the walk: an expectation that fails does not. */
    private function stopped(Stage $stage, Outcome $outcome, Step $step, int $number, string $why, string $variant, string $way): bool
    {
        $evidence = ['step' => $number + 1, 'do' => $step->toArray()];
        if ($step->kind === StepKind::Expect) {
            // A change is judged by itself, with its cause.
            $isOfChange = $step->aim === Aim::Element && $step->variants !== [] && in_array($step->element, array_map(static fn ($change): ?string => $change->selector, $stage->variant($variant)->made()), true);
            $isOfChange || $outcome->found(new Finding(CheckCode::ExpectationFailed, 'Step '.($number + 1)." in “{$variant}” is not as expected: {$step->words()}.", ucfirst($why).'.', 'See the page as it was, and correct the script or the page.', $variant, null, null, $evidence));

            return false;
        }
        $outcome->figures['stopped'] = $number + 1;
        if ($way === self::ORDINARY) {
            $outcome->found(new Finding(CheckCode::StepFailed, 'Step '.($number + 1)." in “{$variant}” could not be done: {$step->words()}.", ucfirst($why).'.', 'What comes after it was not rehearsed. See the page as it was, and correct the script or the page.', $variant, null, null, $evidence));
        }

        return true;
    }

    private function goal(Stage $stage, Outcome $outcome, Visitor $visitor, Walker $walker, Goal $goal, Step $step, float $since, float $last, string $way): ?Hit
    {
        if ($way === self::LEAVING) {
            // As soon as there is something to lose.
            $walker->tab->evaluate('location.href = "about:blank"');
            $walker->tab->attend(0.3);
        }
        $id = (string) $visitor->id;
        $hits = [];
        $find = function () use ($stage, $id, $goal, $since, &$hits): ?true {
            $hits = self::hits($stage, $id, $goal, $since);

            return $hits === [] ? null : true;
        };
        $stage->awaitReceived($walker->tab, $find, $step->not ? 2.0 : self::PATIENCE);
        $seconds = $hits === [] ? null : microtime(true) - $last;
        if ($hits !== [] && $way === self::ORDINARY) {
            $walker->tab->attend(self::REPEATED_WITHIN);
            $find();
        }
        if ($step->not) {
            $hits === [] || $outcome->found(new Finding(CheckCode::GoalStray, "Goal “{$goal->name}” arrives in “{$visitor->variant}”, where nothing of it was to be.", "It was reached on {$hits[0]->url}.", 'See what fires it there.', $visitor->variant, null, $goal->key));

            return null;
        }
        $events = array_values(array_filter($stage->received->events($id), static fn (LogEvent $event): bool => (float) $event->time->format('U.u') >= $since - 1));
        $found = GoalJudge::judge($goal, $hits, $events, $seconds, $visitor->variant, $step->times, $step->amount, $way);
        // What is wrong in every way is told once.
        if ($way !== self::ORDINARY) {
            $found = array_filter($found, static fn (Finding $one): bool => in_array($one->code, [CheckCode::GoalMissing, CheckCode::GoalLost], true));
        }
        foreach ($found as $finding) {
            $outcome->found($this->withOthers($stage, $finding, $goal, $visitor, $since));
        }
        if ($found === []) {
            $outcome->proven(Link::Goals, "Goal “{$goal->name}” arrives ".($way === '' ? 'once, after '.number_format((float) $seconds, 1).' s'.($hits[0]->value === null ? '' : ", worth {$hits[0]->value} {$hits[0]->currency}") : "also {$way}").'.', $visitor->variant, null, $goal->key);
        }
        if ($hits !== [] && $way === self::ORDINARY) {
            $outcome->figures['goals'][$goal->key] = ['seconds' => round((float) $seconds, 2), 'hits' => count($hits), 'value' => $hits[0]->value, 'currency' => $hits[0]->currency];
        }

        return $hits[0] ?? null;
    }

    /** What is known besides of a goal that is missing: whether it arrived for somebody else, and whether it does in the control. */
    private function withOthers(Stage $stage, Finding $finding, Goal $goal, Visitor $visitor, float $since): Finding
    {
        if ($finding->code !== CheckCode::GoalMissing) {
            return $finding;
        }
        $more = '';
        foreach ($stage->received->visitorsSince($since) as $other) {
            if ($other !== $visitor->id && self::hits($stage, $other, $goal, $since) !== []) {
                $more = ' It arrived for another visitor, '.$other.': the id is not the same on that host, or was given anew.';
            }
        }
        $control = $stage->control();
        if ($more === '' && $visitor->variant !== $control->variant->key && isset($stage->figures('walk', $control->variant->key)['goals'][$goal->key])) {
            $more = " In “{$control->variant->key}” it arrives.";
        }

        return new Finding($finding->code, $finding->words, $finding->cause.$more, $finding->next, $finding->variant, null, $finding->goal, $finding->evidence);
    }

    /** @return list<Hit> of a visitor since a moment, in seconds since 1970 */
    private static function hits(Stage $stage, string $visitor, Goal $goal, float $since): array
    {
        $log = new VisitorLog($stage->received->events($visitor), $stage->site->session_minutes);

        // The page's clock and this one are the same machine's; the event may have been made a little before the step was over.
        return array_values(array_filter($log->hits($goal), static fn (Hit $hit): bool => (float) $hit->time->format('U.u') >= $since - 1));
    }

    /** @param array<int, Step> $rest of the script, after the page was opened */
    private function strays(Stage $stage, Outcome $outcome, Visitor $visitor, array $rest): void
    {
        $next = array_values(array_filter($rest, static fn (Step $step): bool => $step->kind !== StepKind::Expect || $step->aim === Aim::Goal))[0] ?? null;
        $visitor->tab->attend(0.8);
        foreach ($stage->experiment->goals as $goal) {
            if ($next?->aim === Aim::Goal && $next->name === $goal->key) {
                continue;
            }
            $hits = self::hits($stage, (string) $visitor->id, $goal, 0.0);
            if ($hits !== []) {
                $outcome->found(new Finding(CheckCode::GoalStray, "Goal “{$goal->name}” fires in “{$visitor->variant}” as soon as the page is opened.", "Nothing was done yet on {$hits[0]->url}.", 'See what fires it, or whether the goal’s rule is too wide.', $visitor->variant, null, $goal->key));
            }
        }
    }

    private function exposed(Stage $stage, Outcome $outcome, Visitor $visitor): void
    {
        $exposures = array_filter($stage->received->events((string) $visitor->id), static fn (LogEvent $event): bool => $event->name === 'exposure' && $event->text('experiment') === $stage->experiment->key);
        $other = array_values(array_filter($exposures, static fn (LogEvent $event): bool => $event->text('variant') !== $visitor->variant));
        if ($exposures === []) {
            $outcome->found(new Finding(CheckCode::ExposureMissing, "No exposure of “{$visitor->variant}” has arrived: whatever visitors do counts for no variant.", 'The visitor did not enter, or the event got lost.', 'See what is found of entry and of the snippet.', $visitor->variant));
        } elseif ($other !== []) {
            $outcome->found(new Finding(CheckCode::AssignmentDiffers, "The visitor belongs to “{$visitor->variant}”, and met “{$other[0]->text('variant')}”.", 'The browser assigned another variant than the core computes for this id.', 'See whether the published file is of this experiment as it is now.', $visitor->variant));
        } else {
            $outcome->proven(Link::Exposure, 'The exposure arrived, with this variant.', $visitor->variant);
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
        $this->personal($stage, $outcome, $variant, $walker);
        if ($events > 0 && ! array_filter($outcome->findings, static fn (Finding $one): bool => $one->code->link() === Link::Data)) {
            $outcome->proven(Link::Data, "All {$events} events keep to the tracking plan".($walker->typed === [] ? '.' : ', and nothing that was typed left the page for a place that it was not meant for.'), $variant);
        }
    }

    private function personal(Stage $stage, Outcome $outcome, string $variant, Walker $walker): void
    {
        $own = AddressFacts::of($stage->pellix)->host;
        foreach ($walker->requests as $request) {
            $host = AddressFacts::of($request['url'])->host;
            $isCollector = str_starts_with($request['url'], $stage->pellix.'/');
            $inAddress = MadeUp::in($request['url'], $walker->typed);
            $inBody = $request['body'] === null ? null : MadeUp::in($request['body'], $walker->typed);
            $found = $inAddress ?? $inBody;
            if ($found === null) {
                continue;
            }
            [$value, $form] = $found;
            $where = $inAddress === null ? 'in what is sent' : 'in the address';
            $evidence = ['step' => $host, 'value' => $value, 'url' => mb_substr($request['url'], 0, 300)];
            if ($isCollector || ! in_array($host, [...$stage->site->hosts, $own], true)) {
                $outcome->found(new Finding(CheckCode::DataPersonal, 'What was typed into a form left the page: “'.$value.'” '.($isCollector ? 'goes to Pellix with the events' : "goes to {$host}").'.', "It stands {$where} of a request {$request['method']} ".mb_substr($request['url'], 0, 200).", {$form}.", 'Keep it out of addresses and events: send the form with POST, and no field’s content as a property.', $variant, null, null, $evidence));
            } elseif ($inAddress !== null) {
                $outcome->found(new Finding(CheckCode::DataAddress, "What was typed into a form stands in an address of the site: “{$value}”.", "{$request['method']} ".mb_substr($request['url'], 0, 200).': whatever the page loads next can read it there, and logs keep it.', 'Send the form with POST.', $variant, null, null, $evidence));
            }
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
            $visitor = $stage->visitor($variant, $stage->screen());
            $stage->open($visitor);
            $visitor->tab->settle();
            $since = microtime(true);
            $visitor->tab->go($hit->url);
            $visitor->tab->settle();
            $found = $stage->awaitReceived($visitor->tab, static fn (): ?true => self::hits($stage, (string) $visitor->id, $goal, $since) === [] ? null : true, 1.5);
            $found === null || $outcome->found(new Finding(CheckCode::GoalEarly, "Goal “{$goal->name}” is also reached without the steps before it.", "Whoever opens {$hit->url} reaches it.", 'Where that happens often, count an event that only the last step sends.', null, null, $goal->key));
            $visitor->leave();
        }
    }
}
