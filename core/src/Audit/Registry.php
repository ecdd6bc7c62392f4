<?php

declare(strict_types=1);

namespace Pellix\Core\Audit;

/** Every check, in the order of the codes. */
final class Registry
{
    /** @return list<Check> */
    public static function checks(): array
    {
        return [
            new Checks\SrmOverall(), new Checks\SrmSequential(), new Checks\SrmSegment(), new Checks\SrmStage(), new Checks\SrmOnset(),
            new Checks\AssignMismatch(), new Checks\AssignSwitched(), new Checks\AssignUnknown(), new Checks\AssignOutside(),
            new Checks\AssignUserSplit(), new Checks\AssignDependent(), new Checks\AssignShortMemory(),
            new Checks\ExposureMissing(), new Checks\ExposureLate(), new Checks\ExposureWithoutPage(),
            new Checks\GoalSilent(), new Checks\GoalDropped(), new Checks\GoalDuplicate(), new Checks\GoalNoValue(), new Checks\GoalNever(),
            new Checks\OrderDuplicate(), new Checks\OrderOutlier(), new Checks\OrderCurrency(), new Checks\OrderShape(),
            new Checks\GapSilence(), new Checks\GapDrop(), new Checks\GapPage(), new Checks\GapStale(), new Checks\GapLate(), new Checks\GapClock(),
            new Checks\EventDuplicate(), new Checks\EventDouble(), new Checks\EventOffPlan(), new Checks\EventBot(), new Checks\EventInternal(),
            new Checks\EventReferral(), new Checks\EventPersonal(), new Checks\EventOrder(),
            new Checks\ExclusionUneven(), new Checks\EpochWeights(), new Checks\EpochGoal(), new Checks\RunShort(), new Checks\RunWeek(), new Checks\RunFew(),
        ];
    }
}
