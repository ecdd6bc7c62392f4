<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments\Ready;

use Pellix\Core\Chain\Observations;
use Pellix\Core\Experiments\Advice\Advice;
use Pellix\Core\Experiments\Advice\CopiedPage;
use Pellix\Core\Experiments\Experiment;

/** Everything that the ready list looks at. */
final readonly class ReadyFacts
{
    /**
     * @param Experiment|null       $experiment  null where the draft is not finished
     * @param Observations          $seen        what was observed of it so far
     * @param list<Advice>          $advice      on it as it is written
     * @param list<CopiedPage>      $copies      newest inspected pages that it is for
     * @param array<string, CopiedPage> $targets variant key => the page that it leads to, as it was inspected
     * @param list<GoalRecord>      $goals
     * @param int                   $cookieDays  how long a visitor is known
     * @param bool                  $asksConsent whether visitors are asked before anything is kept
     * @param bool                  $hasEnd      whether a time, or a number of visitors, ends it
     * @param bool                  $isCounting  whether its figures are still those of its rules as they were, and are being counted anew
     */
    public function __construct(
        public ?Experiment $experiment,
        public Observations $seen,
        public array $advice,
        public array $copies,
        public array $targets,
        public array $goals,
        public int $cookieDays,
        public bool $asksConsent,
        public bool $hasEnd,
        public bool $isCounting = false,
    ) {
    }
}
