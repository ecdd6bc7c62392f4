<?php

declare(strict_types=1);

namespace Pellix\Core\Chain;

use Pellix\Core\Statistics\SampleRatioResult;

/** One epoch: who entered in it, beside what it promised. */
final readonly class EpochSeen
{
    /**
     * @param \DateTimeImmutable|null $from    null before the experiment started
     * @param list<int>               $counts  visitors per variant who entered in it
     * @param list<float>             $weights of that epoch
     */
    public function __construct(public ?\DateTimeImmutable $from, public ?float $share, public array $counts, public array $weights, public ?SampleRatioResult $ratio)
    {
    }
}
