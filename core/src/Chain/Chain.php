<?php

declare(strict_types=1);

namespace Pellix\Core\Chain;

/** The signal chain of one experiment: a pure function of what was observed. */
final readonly class Chain
{
    /** @param non-empty-list<Verdict> $verdicts one per link, in order */
    private function __construct(private Observations $seen, public array $verdicts)
    {
    }

    public static function judge(Observations $seen): self
    {
        $verdicts = [
            PageLink::judge($seen),
            SnippetLink::judge($seen),
            EntryLink::judge($seen),
            SplitLink::judge($seen),
            ExposureLink::judge($seen),
            GoalsLink::judge($seen),
            DataLink::judge($seen),
        ];

        return new self($seen, $seen->rehearsed === null ? $verdicts : array_map(static fn (Verdict $verdict): Verdict => $seen->rehearsed->add($verdict, $seen), $verdicts));
    }

    /** The chain in one or two sentences, the consequence first. */
    public function words(): string
    {
        $open = array_values(array_filter($this->verdicts, static fn (Verdict $verdict): bool => $verdict->state !== State::Holds));
        if ($open === []) {
            return 'All seven links hold.';
        }
        $first = $open[0];
        if (! $this->seen->started) {
            $broken = array_values(array_filter($open, static fn (Verdict $verdict): bool => $verdict->state === State::Broken));
            $first = $broken[0] ?? $first;

            return $broken !== [] || in_array($first->link, [Link::Page, Link::Snippet], true)
                ? "Not started. {$first->link->label()}: {$first->words}"
                : 'Not started. Its pages are there, and the snippet runs on them.';
        }
        if ($this->seen->entered->nothing()) {
            return "Nothing has been received from this experiment. First unproven link: {$first->link->label()}. {$first->words}";
        }
        usort($open, static fn (Verdict $a, Verdict $b): int => $a->state->gravity() <=> $b->state->gravity());

        return "{$open[0]->link->label()}: {$open[0]->words}";
    }
}
