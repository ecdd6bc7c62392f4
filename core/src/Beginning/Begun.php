<?php

declare(strict_types=1);

namespace Pellix\Core\Beginning;

/** What was observed of a new site so far. */
final readonly class Begun
{
    /**
     * @param string|null $provenPage address of a page that was inspected and has the snippet as it should be
     * @param string|null $faultyPage one where something was wrong, if none is proven
     * @param int         $views      page views that arrived
     * @param string|null $refused    why something that arrived was refused, the newest
     * @param string|null $event      name of an event other than page views and exposures
     * @param int         $goals      that are defined
     * @param string|null $goal       name of one that was reached
     * @param int         $entered    visitors of the experiment
     * @param int         $people     who look after the site
     * @param int         $invited    open invitations
     */
    public function __construct(
        public ?string $provenPage = null,
        public ?\DateTimeImmutable $provenAt = null,
        public ?string $faultyPage = null,
        public ?\DateTimeImmutable $faultyAt = null,
        public int $views = 0,
        public ?\DateTimeImmutable $viewAt = null,
        public ?string $refused = null,
        public ?\DateTimeImmutable $refusedAt = null,
        public ?string $event = null,
        public ?\DateTimeImmutable $eventAt = null,
        public int $goals = 0,
        public ?string $goal = null,
        public ?\DateTimeImmutable $goalHitAt = null,
        public int $experiments = 0,
        public ?string $experiment = null,
        public int $entered = 0,
        public ?\DateTimeImmutable $enteredAt = null,
        public int $people = 1,
        public int $invited = 0,
    ) {
    }
}
