<?php

declare(strict_types=1);

namespace App\Rehearsals\Walks;

use App\Rehearsals\Outcome;
use App\Rehearsals\Stage;
use App\Rehearsals\Visitor;
use App\Rehearsals\Walker;
use Pellix\Core\Chain\Link;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Experiments\Change;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\Hit;
use Pellix\Core\Rehearsal\Aim;
use Pellix\Core\Rehearsal\CheckCode;
use Pellix\Core\Rehearsal\Finding;
use Pellix\Core\Rehearsal\GoalJudge;
use Pellix\Core\Rehearsal\Proof;
use Pellix\Core\Rehearsal\Step;
use Pellix\Core\Rehearsal\StepKind;

/** One visitor of a variant who walks the script in one way, and what arrives of it. */
final class Walk
{
    /** So long is waited for a goal: longer than it may take, to tell the late from the lost. */
    private const PATIENCE = 9.0;

    /** So long is waited for another one after the first. */
    private const REPEATED_WITHIN = 1.2;

    private const MOST_PICTURES = 8;

    public readonly Walker $walker;

    /** @var array<string, Hit> goal => how it was reached */
    public array $reached = [];

    public bool $isStopped = false;

    private readonly Visitor $visitor;

    /** @var array<string, Goal> by its key */
    private readonly array $goals;

    /** @var array<string, Step> goal => what was expected of it, where nothing was done since */
    private array $last = [];

    private float $since;

    /** When the last step was done. */
    private float $done;

    public function __construct(private readonly Stage $stage, private readonly Outcome $outcome, private readonly string $variant, private readonly Manner $manner)
    {
        $this->visitor = $stage->visitors->make($variant, $stage->screen());
        $this->walker = new Walker($stage, $this->visitor->tab);
        $this->goals = array_column(array_map(static fn (Goal $goal): array => [$goal->key, $goal], $stage->experiment->goals), 1, 0);
        $this->since = $this->done = microtime(true);
        if ($manner === Manner::Slow) {
            $this->visitor->tab->execute('Network.emulateNetworkConditions', ['offline' => false, 'latency' => 300, 'downloadThroughput' => 60_000, 'uploadThroughput' => 30_000]);
        }
    }

    public function play(): void
    {
        $steps = $this->stage->script->for($this->variant);
        $numbers = array_keys($steps);
        $isFirst = true;
        foreach ($numbers as $i => $number) {
            $step = $steps[$number];
            $next = $steps[$numbers[$i + 1] ?? -1] ?? null;
            if ($step->aim === Aim::Goal) {
                isset($this->goals[(string) $step->name]) && $this->goal($this->goals[(string) $step->name], $step);
                continue;
            }
            // What is looked for besides goals was looked for in the ordinary walk.
            if ($this->manner !== Manner::Ordinary && $step->kind === StepKind::Expect) {
                continue;
            }
            // As soon as there is something to lose.
            $this->walker->hurries = $this->manner === Manner::Leaving && $next?->aim === Aim::Goal && ! $next->not;
            if (! $this->step($step, $number)) {
                break;
            }
            if ($isFirst && $this->manner === Manner::Ordinary && $step->kind === StepKind::Open) {
                $isFirst = false;
                $this->strays(array_slice($steps, $i + 1, null, true));
            }
        }
        $this->walker->gather();
        $this->outcome->noteAll($this->walker->tab->watch, $this->variant, null);
        if ($this->manner === Manner::Ordinary) {
            $this->exposed();
        }
    }

    /** Keeps what there is to see of the page that the walk ended on. */
    public function evidence(): void
    {
        $this->stage->evidence($this->walker->tab, "walk-{$this->variant}");
    }

    /** Looks once more whether a goal has arrived again in the meantime, on the page that the walk ended on. */
    public function lookAgain(): void
    {
        foreach ($this->last as $key => $step) {
            $hits = $this->stage->received->hits((string) $this->visitor->id, $this->goals[$key], $this->since);
            foreach ($this->judged($this->goals[$key], $step, $hits, null) as $finding) {
                if ($finding->code === CheckCode::GoalTwice && $this->outcome->found($finding)) {
                    // It arrived once until then.
                    $this->outcome->proofs = array_values(array_filter($this->outcome->proofs, fn (Proof $one): bool => $one->goal !== $key || $one->variant !== $this->variant));
                }
            }
        }
    }

    public function leave(): void
    {
        $this->visitor->leave();
    }

    /** @return bool whether the walk goes on */
    private function step(Step $step, int $number): bool
    {
        if ($step->kind === StepKind::Open) {
            $this->since = microtime(true);
        }
        $result = $this->walker->do($step);
        if ($step->kind !== StepKind::Expect) {
            $this->done = microtime(true);
            $this->last = [];
        }
        if (! $result['done']) {
            return $this->goesOn($step, $number, $result['words']);
        }
        if ($this->manner === Manner::Ordinary) {
            $this->outcome->figures['steps'] = ($this->outcome->figures['steps'] ?? 0) + 1;
            $result['words'] === '' || $this->outcome->figures['remarks'][] = $result['words'];
            $step->kind === StepKind::Expect || $this->picture($number);
        }

        return true;
    }

    /** Keeps what the page looks like that a step led to, with what stands where: for whoever writes the next step. */
    private function picture(int $number): void
    {
        $known = $this->outcome->figures['pages'] ?? [];
        $url = (string) preg_replace('~\Ahttps?://[^/?#]+|[?#].*\z~is', '', $this->walker->tab->address());
        if (count($known) >= self::MOST_PICTURES || ($known !== [] && end($known)['page'] === $url)) {
            return;
        }
        $name = "way-{$this->variant}-".($number + 1).'.jpg';
        $picture = $this->walker->tab->picture('jpeg');
        if ($picture !== null) {
            $this->stage->keep($name, 'image/jpeg', $picture);
            $this->outcome->figures['pages'][] = ['step' => $number + 1, 'page' => $url, 'picture' => $name, 'width' => $this->walker->tab->screen->width(), 'places' => $this->walker->places()];
        }
    }

    /** Whether a walk goes on after a step that could not be done: an expectation that fails does not end it. */
    private function goesOn(Step $step, int $number, string $why): bool
    {
        $evidence = ['step' => $number + 1, 'do' => $step->toArray()];
        if ($step->kind === StepKind::Expect) {
            // A change is judged by itself, with its cause.
            $isOfChange = $step->aim === Aim::Element && $step->variants !== [] && in_array($step->element, array_map(static fn (Change $change): ?string => $change->selector, $this->stage->variant($this->variant)->made()), true);
            $isOfChange || $this->outcome->found(new Finding(CheckCode::ExpectationFailed, 'Step '.($number + 1)." in “{$this->variant}” is not as expected: {$step->words()}.", ucfirst($why).'.', 'See the page as it was, and correct the script or the page.', $this->variant, null, null, $evidence));

            return true;
        }
        $this->isStopped = true;
        if ($this->manner === Manner::Ordinary) {
            $this->outcome->found(new Finding(CheckCode::StepFailed, 'Step '.($number + 1)." in “{$this->variant}” could not be done: {$step->words()}.", ucfirst($why).'.', 'What comes after it was not rehearsed. See the page as it was, and correct the script or the page.', $this->variant, null, null, $evidence));
        }

        return false;
    }

    private function goal(Goal $goal, Step $step): void
    {
        $id = (string) $this->visitor->id;
        $hits = [];
        $find = function () use ($id, $goal, &$hits): ?true {
            $hits = $this->stage->received->hits($id, $goal, $this->since);

            return $hits === [] ? null : true;
        };
        $this->stage->awaitReceived($this->walker->tab, $find, $step->not ? 2.0 : self::PATIENCE);
        $seconds = $hits === [] ? null : microtime(true) - $this->done;
        if ($hits !== [] && $this->manner === Manner::Ordinary) {
            $this->walker->tab->attend(self::REPEATED_WITHIN);
            $find();
        }
        if ($step->not) {
            $hits === [] || $this->outcome->found(new Finding(CheckCode::GoalStray, "Goal “{$goal->name}” arrives in “{$this->variant}”, where nothing of it was to be.", "It was reached on {$hits[0]->url}.", 'See what fires it there.', $this->variant, null, $goal->key));

            return;
        }
        $this->last[$goal->key] = $step;
        $found = $this->judged($goal, $step, $hits, $seconds);
        // What is wrong in every way is told once.
        if ($this->manner !== Manner::Ordinary) {
            $found = array_filter($found, static fn (Finding $one): bool => in_array($one->code, [CheckCode::GoalMissing, CheckCode::GoalLost], true));
        }
        foreach ($found as $finding) {
            $this->outcome->found($this->withOthers($finding, $goal));
        }
        if ($found === []) {
            $this->outcome->proven(Link::Goals, "Goal “{$goal->name}” arrives ".($this->manner === Manner::Ordinary ? 'once, after '.number_format((float) $seconds, 1).' s'.($hits[0]->value === null ? '' : ", worth {$hits[0]->value} {$hits[0]->currency}") : "also {$this->manner->value}").'.', $this->variant, null, $goal->key);
        }
        if ($hits !== [] && $this->manner === Manner::Ordinary) {
            $this->outcome->figures['goals'][$goal->key] = ['seconds' => round((float) $seconds, 2), 'hits' => count($hits), 'value' => $hits[0]->value, 'currency' => $hits[0]->currency];
        }
        $hits === [] || $this->reached[$goal->key] = $hits[0];
    }

    /**
     * @param list<Hit> $hits
     *
     * @return list<Finding>
     */
    private function judged(Goal $goal, Step $step, array $hits, ?float $seconds): array
    {
        return GoalJudge::judge($goal, $hits, $this->stage->received->since((string) $this->visitor->id, $this->since), $seconds, $this->variant, $step->times, $step->amount, $this->manner->value);
    }

    /** What is known besides of a goal that is missing: whether it arrived for somebody else, and whether it does in the control. */
    private function withOthers(Finding $finding, Goal $goal): Finding
    {
        if ($finding->code !== CheckCode::GoalMissing) {
            return $finding;
        }
        $more = '';
        foreach ($this->stage->received->visitorsSince($this->since) as $other) {
            if ($other !== $this->visitor->id && ! $this->isOfAnotherWalk($other) && $this->stage->received->hits($other, $goal, $this->since) !== []) {
                $more = ' It arrived for another visitor, '.$other.': the id is not the same on that host, or was given anew.';
            }
        }
        $control = $this->stage->control()->variant->key;
        if ($more === '' && $this->variant !== $control && isset($this->stage->figures('walk', $control)['goals'][$goal->key])) {
            $more = " In “{$control}” it arrives.";
        }

        return new Finding($finding->code, $finding->words, $finding->cause.$more, $finding->next, $finding->variant, null, $finding->goal, $finding->evidence);
    }

    /** Whether a visitor is one of this rehearsal's who was to meet another variant: what such a one did may arrive late. */
    private function isOfAnotherWalk(string $visitor): bool
    {
        return array_filter($this->stage->received->exposures($visitor, $this->stage->experiment->key), fn (LogEvent $event): bool => $event->text('variant') !== $this->variant) !== [];
    }

    /** @param array<int, Step> $rest of the script, after the page was opened */
    private function strays(array $rest): void
    {
        $next = array_values(array_filter($rest, static fn (Step $step): bool => $step->kind !== StepKind::Expect || $step->aim === Aim::Goal))[0] ?? null;
        $this->visitor->tab->attend(0.8);
        foreach ($this->goals as $key => $goal) {
            if ($next?->aim === Aim::Goal && $next->name === $key) {
                continue;
            }
            $hits = $this->stage->received->hits((string) $this->visitor->id, $goal, 0.0);
            if ($hits !== []) {
                $this->outcome->found(new Finding(CheckCode::GoalStray, "Goal “{$goal->name}” fires in “{$this->variant}” as soon as the page is opened.", "Nothing was done yet on {$hits[0]->url}.", 'See what fires it, or whether the goal’s rule is too wide.', $this->variant, null, $key));
            }
        }
    }

    private function exposed(): void
    {
        $exposures = $this->stage->received->exposures((string) $this->visitor->id, $this->stage->experiment->key);
        $other = array_values(array_filter($exposures, fn (LogEvent $event): bool => $event->text('variant') !== $this->variant));
        if ($exposures === []) {
            $this->outcome->found(new Finding(CheckCode::ExposureMissing, "No exposure of “{$this->variant}” has arrived: whatever visitors do counts for no variant.", 'The visitor did not enter, or the event got lost.', 'See what is found of entry and of the snippet.', $this->variant));
        } elseif ($other !== []) {
            $this->outcome->found(new Finding(CheckCode::AssignmentDiffers, "The visitor belongs to “{$this->variant}”, and met “{$other[0]->text('variant')}”.", 'The browser assigned another variant than the core computes for this id.', 'See whether the published file is of this experiment as it is now.', $this->variant));
        } else {
            $this->outcome->proven(Link::Exposure, 'The exposure arrived, with this variant.', $this->variant);
        }
    }
}
