<?php

declare(strict_types=1);

namespace Pellix\Core\Counting;

/** What the goals come to in an event log. */
final readonly class LogTotals
{
    /**
     * @param int                 $events    that were read
     * @param int                 $repeated  of them, copies of an id
     * @param array<string, true> $names     names of events that were met
     * @param array<string, int>  $cut       visitor => events beyond those that are counted of one
     * @param list<GoalTally>     $tallies
     * @param list<string>        $explained
     */
    public function __construct(
        public int $events,
        public int $repeated,
        public int $visitors,
        private array $names,
        private array $cut,
        private array $tallies,
        public array $explained,
    ) {
    }

    /** @return list<array<string, mixed>> as `GoalTally::toArray()` gives them */
    public function goals(): array
    {
        return array_map(static fn (GoalTally $tally): array => $tally->toArray(), $this->tallies);
    }

    /** @return list<string> what may be other than it looks */
    public function warnings(): array
    {
        $warnings = [];
        foreach ($this->tallies as $tally) {
            foreach ($tally->goal->events() as $name) {
                if ($this->events > 0 && ! isset($this->names[$name])) {
                    $warnings[] = "{$tally->goal->key}: the log has no event named \"{$name}\".";
                }
            }
            ['hits' => $hits, 'unreadable' => $unreadable] = $tally->totals();
            if ($unreadable > 0) {
                $warnings[] = "{$tally->goal->key}: {$unreadable} of {$hits} hits have no value that can be read.";
            }
        }
        foreach ($this->cut as $visitor => $more) {
            $warnings[] = "visitor {$visitor}: {$more} events beyond the first ".VisitorLog::MOST_EVENTS.' are not counted.';
        }

        return $warnings;
    }
}
