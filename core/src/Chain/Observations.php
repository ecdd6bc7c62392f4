<?php

declare(strict_types=1);

namespace Pellix\Core\Chain;

use Pellix\Core\Statistics\SampleRatioResult;

/** Everything that was declared and observed of one experiment, over one stretch of time. */
final readonly class Observations
{
    /**
     * @param bool                    $started      false for a draft
     * @param \DateTimeImmutable      $now          the moment the chain is judged for; the end, for an experiment that ended
     * @param \DateTimeImmutable      $changed      the last change to what is judged
     * @param int                     $freshSeconds evidence older than this is stale
     * @param Seen                    $siteViews    page views of the whole site
     * @param Seen                    $pageViews    page views of pages that the page rule matches
     * @param list<string>            $addresses    some of the addresses behind `$pageViews`
     * @param Seen                    $entered      exposure events
     * @param SampleRatioResult|null  $ratio        null while nobody was exposed
     * @param bool                    $canAlarm     whether so few visitors could show a mismatch at all
     * @param int                     $crossed      visitors seen in more than one variant
     * @param int                     $recomputed   visitors whose assignment was worked out again
     * @param int                     $disagreeing  those among them who were recorded in another variant
     * @param non-empty-list<VariantSeen> $variants
     * @param list<GoalSeen>          $goals
     * @param Seen                    $rejected     events of the site that were rejected
     * @param string|null             $commonReason the most frequent reason among them
     * @param int                     $accepted     events of the site that were accepted
     * @param bool                    $eligibleKnown whether recorded events tell who belongs to the audience
     * @param PagesInspected          $inspected    what inspections found on its pages
     * @param list<EpochSeen>         $epochs       in the order of time
     * @param Rehearsed|null          $rehearsed    what the newest rehearsal saw; null where there was none
     * @param int                     $moved        visitors whose variant was stopped and who were given another; they count for none
     */
    public function __construct(
        public bool $started,
        public \DateTimeImmutable $now,
        public \DateTimeImmutable $changed,
        public int $freshSeconds,
        public float $share,
        public Seen $siteViews,
        public Seen $pageViews,
        public array $addresses,
        public Seen $entered,
        public ?SampleRatioResult $ratio,
        public bool $canAlarm,
        public int $crossed,
        public int $recomputed,
        public int $disagreeing,
        public array $variants,
        public array $goals,
        public Seen $rejected,
        public ?string $commonReason,
        public int $accepted,
        public PagesInspected $inspected = new PagesInspected(),
        public bool $eligibleKnown = true,
        public array $epochs = [],
        public int $moved = 0,
        public ?Rehearsed $rehearsed = null,
    ) {
    }

    /** Whether evidence is too old to vouch for the present. */
    public function isStale(?\DateTimeImmutable $seen): bool
    {
        return $seen === null || $seen < $this->changed
            || $this->now->getTimestamp() - $seen->getTimestamp() > $this->freshSeconds;
    }

    public function exposedVisitors(): int
    {
        return array_sum(array_map(static fn (VariantSeen $v): int => $v->exposures->visitors, $this->variants));
    }
}
