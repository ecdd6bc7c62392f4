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
        return new self($seen, [
            PageLink::judge($seen),
            SnippetLink::judge($seen),
            EntryLink::judge($seen),
            SplitLink::judge($seen),
            ExposureLink::judge($seen),
            GoalsLink::judge($seen),
            DataLink::judge($seen),
        ]);
    }

    /** The chain in one sentence: the first link that is broken, or else the first that is not proven. */
    public function words(): string
    {
        foreach ([State::Broken, State::Unseen, State::Doubt, State::Stale] as $state) {
            foreach ($this->verdicts as $verdict) {
                if ($verdict->state === $state) {
                    return $this->seen->started && $this->seen->entered->nothing() && $state === State::Unseen
                        ? "Nothing has been received from this experiment. First unproven link: {$verdict->link->label()}. {$verdict->words}"
                        : "{$verdict->link->label()}: {$verdict->words}";
                }
            }
        }

        return 'All seven links hold.';
    }
}
