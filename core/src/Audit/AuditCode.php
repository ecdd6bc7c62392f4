<?php

declare(strict_types=1);

namespace Pellix\Core\Audit;

use Pellix\Core\Chain\Link;

/** Everything that an audit can find, `area.what`, with the chain link that it touches. */
enum AuditCode: string
{
    case SrmOverall = 'srm.overall';
    case SrmSequential = 'srm.sequential';
    case SrmSegment = 'srm.segment';
    case SrmStage = 'srm.stage';
    case SrmOnset = 'srm.onset';
    case AssignMismatch = 'assign.mismatch';
    case AssignSwitched = 'assign.switched';
    case AssignUnknown = 'assign.unknown-variant';
    case AssignOutside = 'assign.outside';
    case AssignUserSplit = 'assign.user-split';
    case AssignDependent = 'assign.dependent';
    case AssignShortMemory = 'assign.short-memory';
    case ExposureMissing = 'exposure.missing';
    case ExposureLate = 'exposure.late';
    case ExposureWithoutPage = 'exposure.without-page';
    case GoalSilent = 'goal.silent';
    case GoalDropped = 'goal.dropped';
    case GoalDuplicate = 'goal.duplicate';
    case GoalNoValue = 'goal.no-value';
    case GoalNever = 'goal.never';
    case OrderDuplicate = 'order.duplicate-id';
    case OrderOutlier = 'order.outlier';
    case OrderCurrency = 'order.currency';
    case OrderShape = 'order.value-shape';
    case GapSilence = 'gap.silence';
    case GapDrop = 'gap.drop';
    case GapPage = 'gap.page';
    case GapStale = 'gap.stale';
    case GapLate = 'gap.late';
    case GapClock = 'gap.clock';
    case EventDuplicate = 'event.duplicate-id';
    case EventDouble = 'event.double-fired';
    case EventOffPlan = 'event.off-plan';
    case EventBot = 'event.bot';
    case EventInternal = 'event.internal';
    case EventReferral = 'event.self-referral';
    case EventPersonal = 'event.personal-data';
    case EventOrder = 'event.clock-order';
    case ExclusionUneven = 'exclusion.uneven';
    case EpochWeights = 'epoch.weights-changed';
    case EpochGoal = 'epoch.goal-changed';
    case RunShort = 'run.too-short';
    case RunWeek = 'run.partial-week';
    case RunFew = 'run.few-visitors';

    public function link(): Link
    {
        return match ($this) {
            self::SrmStage, self::ExposureMissing, self::ExposureLate, self::ExposureWithoutPage => Link::Exposure,
            self::AssignOutside => Link::Entry,
            self::GapPage => Link::Page,
            self::EpochGoal => Link::Goals,
            default => match (strtok($this->value, '.')) {
                'srm', 'assign', 'epoch' => Link::Split,
                'goal', 'order' => Link::Goals,
                default => Link::Data,
            },
        };
    }

    /** What it is, in a few words. */
    public function label(): string
    {
        return match ($this) {
            self::SrmOverall => 'Sample ratio mismatch',
            self::SrmSequential => 'Sample ratio mismatch, watched daily',
            self::SrmSegment => 'Sample ratio mismatch of some visitors',
            self::SrmStage => 'The ratio breaks on the way',
            self::SrmOnset => 'The ratio breaks at a moment',
            self::AssignMismatch => 'Another variant than the assignment gives',
            self::AssignSwitched => 'Visitors in several variants',
            self::AssignUnknown => 'A variant that nobody declared',
            self::AssignOutside => 'Exposed where nobody should be',
            self::AssignUserSplit => 'One user in several variants',
            self::AssignDependent => 'Not independent of another experiment',
            self::AssignShortMemory => 'Users who were forgotten',
            self::ExposureMissing => 'Exposures that are missing',
            self::ExposureLate => 'Exposed after the goal',
            self::ExposureWithoutPage => 'Exposed without a page view',
            self::GoalSilent => 'A goal that a variant never reaches',
            self::GoalDropped => 'A goal reached less often from a moment on',
            self::GoalDuplicate => 'A goal counted twice',
            self::GoalNoValue => 'A goal without its value',
            self::GoalNever => 'A goal that nobody reaches',
            self::OrderDuplicate => 'Orders that came twice',
            self::OrderOutlier => 'Orders that decide by themselves',
            self::OrderCurrency => 'Orders in several currencies',
            self::OrderShape => 'Order values in several notations',
            self::GapSilence => 'A silence',
            self::GapDrop => 'Fewer events than expected',
            self::GapPage => 'A page that stopped sending',
            self::GapStale => 'Nothing has arrived of late',
            self::GapLate => 'Events that arrive late',
            self::GapClock => 'Clocks that are off',
            self::EventDuplicate => 'Events that came again',
            self::EventDouble => 'Events that fire twice',
            self::EventOffPlan => 'Events that the plan does not know so',
            self::EventBot => 'Programs among the visitors',
            self::EventInternal => 'Own people among the visitors',
            self::ExclusionUneven => 'What was left out is no even part of the variants',
            self::EventReferral => 'Sessions that a host of one’s own breaks',
            self::EventPersonal => 'Personal data in events',
            self::EventOrder => 'Exposures that lie after their effect',
            self::EpochWeights => 'Weights that were changed',
            self::EpochGoal => 'A goal that was changed',
            self::RunShort => 'A run that is too short',
            self::RunWeek => 'A run that ends within a week',
            self::RunFew => 'Few visitors',
        };
    }
}
