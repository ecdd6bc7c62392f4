<?php

declare(strict_types=1);

namespace Pellix\Core\Audit;

use Pellix\Core\Audit\Reading\Orders;
use Pellix\Core\Audit\Reading\Skipped;
use Pellix\Core\Audit\Reading\Users;
use Pellix\Core\Audit\Shapes\Gaps;
use Pellix\Core\Audit\Shapes\Ratio;
use Pellix\Core\Audit\Sums\Tally;

/** What was counted in a log: all that checks look at. */
final readonly class Evidence
{
    public Ratio $ratio;

    public Gaps $gaps;

    /**
     * @param int     $lines    of the log, or rows of its table
     * @param int     $read     events that were read, copies of an id included
     * @param int     $later    events after the moment of the audit, which are left out
     * @param Skipped $skipped  lines that could not be read
     * @param int     $copies   events whose id the same unit had sent before
     * @param int     $shared   ids that belong to events of several visitors
     * @param int     $visitors distinct visitors
     * @param bool    $isTable  whether it is a table of counts, without events
     * @param string  $fingerprint of the events that were read, whatever their order; '' of a table
     * @param bool    $hasTimes whether it tells when visitors came; a table of counts may not
     */
    public function __construct(
        public Setup $setup,
        public Tally $tally,
        public int $lines,
        public int $read,
        public int $later,
        public Skipped $skipped,
        public int $copies,
        public int $shared,
        public int $visitors,
        public Users $users,
        public Orders $orders,
        public bool $isTable = false,
        public bool $hasTimes = true,
        public string $fingerprint = '',
    ) {
        $this->ratio = new Ratio($tally->split, $setup);
        $this->gaps = new Gaps($tally->volume, $setup);
    }

    /** Events that no exclusion leaves out, copies of an id left out as well. */
    public function events(): int
    {
        return $this->read - $this->copies - $this->tally->exclusions->allEvents;
    }

    /** Units that were exposed to one variant alone, during the run. */
    public function exposed(): int
    {
        return $this->tally->split->exposed->total();
    }

    /** @return array<string, int> by variant */
    public function variants(): array
    {
        return array_combine($this->setup->variants, $this->tally->split->exposed->byVariant(count($this->setup->variants)));
    }

    /**
     * First and last moment of the log, in milliseconds; null where it is empty.
     *
     * @return array{int, int}|null
     */
    public function period(): ?array
    {
        return $this->tally->volume->first > $this->tally->volume->last ? null : [$this->tally->volume->first, $this->tally->volume->last];
    }

    /** @throws NotRun */
    public function needTimes(): void
    {
        if (! $this->hasTimes) {
            throw new NotRun('The table of counts has no days.');
        }
    }

    /** @throws NotRun where so few were exposed that nothing can be said */
    public function needExposed(int $least = 1): void
    {
        if ($this->exposed() < $least) {
            throw new NotRun($this->exposed() === 0 ? 'No visitor of this log was exposed to this experiment while it ran.' : "Only {$this->exposed()} visitors were exposed; {$least} are needed.");
        }
    }
}
