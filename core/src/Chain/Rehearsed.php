<?php

declare(strict_types=1);

namespace Pellix\Core\Chain;

/** What the newest rehearsal saw of each link: a real browser, at a time, of the experiment as it was then. */
final readonly class Rehearsed
{
    /**
     * @param array<string, array{proofs: int, blockers: list<string>, warnings: list<string>}> $links   by the link's name
     * @param list<string>                                                                       $changed what has changed since, in words
     */
    public function __construct(public \DateTimeImmutable $at, public array $links, public array $changed = [])
    {
    }

    /**
     * A verdict with what was rehearsed: what does not work in a browser breaks a link, whatever arrives; what was proven there
     * stands in for what nobody has sent yet, and mends no mismatch in what was sent.
     */
    public function add(Verdict $verdict, Observations $seen): Verdict
    {
        $own = $this->links[$verdict->link->value] ?? null;
        if ($own === null) {
            return $verdict;
        }
        $isStale = $this->changed !== [] || $seen->now->getTimestamp() - $this->at->getTimestamp() > $seen->freshSeconds;
        $evidence = [...$verdict->evidence, new Evidence(self::told($own).($this->changed === [] ? '' : '; changed since: '.implode(', ', $this->changed)), $this->at, 'rehearsal')];
        if ($isStale) {
            return $verdict->state === State::Unseen
                ? new Verdict($verdict->link, State::Stale, $this->changed === [] ? 'It was rehearsed, but not lately.' : 'It was rehearsed before this changed: '.implode(', ', $this->changed).'.', $evidence)
                : new Verdict($verdict->link, $verdict->state, $verdict->words, $evidence);
        }
        if ($own['blockers'] !== []) {
            return $verdict->state === State::Broken
                ? new Verdict($verdict->link, $verdict->state, $verdict->words, $evidence)
                : new Verdict($verdict->link, State::Broken, "In a rehearsal: {$own['blockers'][0]}", $evidence);
        }
        if ($own['warnings'] !== [] && in_array($verdict->state, [State::Holds, State::Unseen, State::Stale], true)) {
            return new Verdict($verdict->link, State::Doubt, "In a rehearsal: {$own['warnings'][0]}", $evidence);
        }
        if ($own['proofs'] > 0 && (in_array($verdict->state, [State::Unseen, State::Stale], true) || self::isUnvisited($verdict, $seen))) {
            return new Verdict($verdict->link, State::Holds, 'Proven in a rehearsal; '.lcfirst($verdict->words), $evidence);
        }

        return new Verdict($verdict->link, $verdict->state, $verdict->words, $evidence);
    }

    /** Whether it is in doubt for nothing but that no visit has told of it: its pages were inspected, and are in order. */
    private static function isUnvisited(Verdict $verdict, Observations $seen): bool
    {
        return $verdict->state === State::Doubt && in_array($verdict->link, [Link::Page, Link::Snippet], true)
            && $seen->pageViews->nothing() && $seen->inspected->inspected > 0 && $seen->inspected->unreachable + $seen->inspected->faulty === 0;
    }

    /** @param array{proofs: int, blockers: list<string>, warnings: list<string>} $own */
    private static function told(array $own): string
    {
        $parts = array_filter([
            $own['proofs'] > 0 ? Words::count($own['proofs'], 'thing').' proven' : '',
            $own['blockers'] === [] ? '' : Words::count(count($own['blockers']), 'thing').' broken: '.$own['blockers'][0],
            $own['warnings'] === [] ? '' : Words::count(count($own['warnings']), 'warning').': '.$own['warnings'][0],
        ]);

        return 'a browser’s visits: '.($parts === [] ? 'nothing was found' : implode('; ', $parts));
    }
}
