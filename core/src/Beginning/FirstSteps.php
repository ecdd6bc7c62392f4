<?php

declare(strict_types=1);

namespace Pellix\Core\Beginning;

use Pellix\Core\Chain\State;

/** How far a new site has come: a step is done when its evidence is there, and never because somebody said so. */
final class FirstSteps
{
    /** @return list<array{step: Step, state: State, words: string, at: \DateTimeImmutable|null}> in order */
    public static function of(Begun $seen): array
    {
        $steps = [];
        foreach (Step::cases() as $step) {
            [$state, $words, $at] = match ($step) {
                Step::Snippet => self::snippet($seen),
                Step::Running => self::running($seen),
                Step::Event => $seen->event !== null
                    ? [State::Holds, "“{$seen->event}” has arrived.", $seen->eventAt]
                    : [State::Unseen, 'Nothing but page views so far. Clicks and forms are sent by themselves; try one on your page.', null],
                Step::Goal => match (true) {
                    $seen->goalHitAt !== null => [State::Holds, "“{$seen->goal}” was reached.", $seen->goalHitAt],
                    $seen->goals > 0 => [State::Unseen, $seen->goals === 1 ? 'It is defined, and nobody has reached it yet.' : "{$seen->goals} are defined, and nobody has reached one yet.", null],
                    default => [State::Unseen, 'No goal is defined yet.', null],
                },
                Step::Experiment => match (true) {
                    $seen->entered > 0 => [State::Holds, "“{$seen->experiment}” has ".($seen->entered === 1 ? 'a visitor' : number_format($seen->entered).' visitors').'.', $seen->enteredAt],
                    $seen->experiments > 0 => [State::Unseen, "“{$seen->experiment}” is made, and no visitor has entered yet.", null],
                    default => [State::Unseen, 'No experiment is made yet.', null],
                },
                Step::Colleague => match (true) {
                    $seen->people > 1 => [State::Holds, "{$seen->people} people look after the site.", null],
                    $seen->invited > 0 => [State::Unseen, 'An invitation is on its way.', null],
                    default => [State::Unseen, 'You are alone here.', null],
                },
            };
            $steps[] = ['step' => $step, 'state' => $state, 'words' => $words, 'at' => $at];
        }

        return $steps;
    }

    /** @return array{State, string, \DateTimeImmutable|null} */
    private static function snippet(Begun $seen): array
    {
        return match (true) {
            $seen->provenPage !== null => [State::Holds, "{$seen->provenPage} has it, as it should be.", $seen->provenAt],
            $seen->faultyPage !== null => [State::Broken, "{$seen->faultyPage} was inspected, and something is wrong with it there.", $seen->faultyAt],
            default => [State::Unseen, 'No page was inspected yet.', null],
        };
    }

    /** @return array{State, string, \DateTimeImmutable|null} */
    private static function running(Begun $seen): array
    {
        return match (true) {
            $seen->views > 0 => [State::Holds, ($seen->views === 1 ? 'A page view has' : number_format($seen->views).' page views have').' arrived.', $seen->viewAt],
            $seen->refused !== null => [State::Broken, "Something arrives, and is refused: {$seen->refused}.", $seen->refusedAt],
            default => [State::Unseen, 'Nothing has arrived yet. Open the page in a browser, and keep this one open.', null],
        };
    }
}
