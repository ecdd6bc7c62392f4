<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

use Pellix\Core\Chain\Link;
use Pellix\Core\Wiring\Findings\Severity;

/** Everything that a rehearsal can find wrong, `area.what`, each with its severity and the chain link that it touches. */
enum CheckCode: string
{
    case PageUnreachable = 'page.unreachable';
    case PageHangs = 'page.hangs';
    case PageCrashed = 'page.crashed';
    case PageCertificate = 'page.certificate';
    case PageTooLarge = 'page.too-large';
    case PageLoops = 'page.loops';
    case PageLeadsAway = 'page.leads-away';
    case PageAsksToLeave = 'page.asks-to-leave';
    case PageDialog = 'page.dialog';
    case PageAsks = 'page.asks-permission';
    case PageDownload = 'page.download';
    case PageWindows = 'page.windows';
    case PageErrors = 'page.errors';
    case PageOtherHosts = 'page.other-hosts';
    case SnippetMissing = 'snippet.not-run';
    case SnippetBlocked = 'snippet.blocked-by-policy';
    case SnippetUnreachable = 'snippet.not-loaded';
    case SnippetTwice = 'snippet.twice';
    case SnippetWrongKey = 'snippet.another-key';
    case SnippetOld = 'snippet.older-file';
    case SnippetErrors = 'snippet.errors';
    case GuardMissing = 'guard.none';
    case GuardLate = 'guard.shows-late';
    case ConsentMissing = 'consent.never-given';
    case EntryRefused = 'entry.refused';
    case EntryGranted = 'entry.let-in';
    case AssignmentDiffers = 'assignment.differs';
    case AssignmentLost = 'assignment.lost';
    case AssignmentCookie = 'assignment.cookie';
    case AssignmentSplit = 'assignment.split';
    case GroupOverlap = 'assignment.group-overlap';
    case ChangeNoElement = 'change.no-element';
    case ChangeFailed = 'change.failed';
    case ChangeErrors = 'change.errors';
    case ChangeNotMade = 'change.not-made';
    case ChangeReplaced = 'change.replaced';
    case ChangeOutranked = 'change.outranked';
    case ChangeCovered = 'change.covered';
    case ChangeInvisible = 'change.invisible';
    case ChangeMisplaced = 'change.misplaced';
    case ChangeNotUnderstood = 'change.not-understood';
    case ChangeNoStyle = 'change.class-without-style';
    case FlickerPainted = 'flicker.control-painted';
    case RedirectNowhere = 'redirect.elsewhere';
    case RedirectParts = 'redirect.address-lost';
    case RedirectLoop = 'redirect.loop';
    case RedirectSilent = 'redirect.target-without-snippet';
    case RedirectReferrer = 'redirect.referrer-lost';
    case RedirectTrap = 'redirect.way-back';
    case ExposureMissing = 'exposure.not-received';
    case GoalMissing = 'goal.missing';
    case GoalUnreachable = 'goal.no-way';
    case GoalTwice = 'goal.more-than-once';
    case GoalValue = 'goal.value';
    case GoalLate = 'goal.late';
    case GoalLost = 'goal.lost-on-leaving';
    case GoalEarly = 'goal.without-step';
    case GoalStray = 'goal.stray';
    case DataPlan = 'data.off-plan';
    case DataRejected = 'data.rejected';
    case DataPersonal = 'data.personal';
    case DataAddress = 'data.in-address';
    case InstallationLooks = 'snippet.changes-looks';
    case InstallationSlow = 'snippet.slows';
    case ScreenUnexpected = 'screen.unexpected';
    case StepFailed = 'script.step-failed';
    case ExpectationFailed = 'script.not-as-expected';
    case TimeOver = 'rehearsal.time-over';
    case Failed = 'rehearsal.failed';

    public function severity(): Severity
    {
        return match ($this) {
            self::PageAsksToLeave, self::PageDialog, self::PageErrors, self::PageOtherHosts, self::PageAsks, self::GoalEarly, self::ScreenUnexpected => Severity::Note,
            self::PageDownload, self::PageWindows, self::SnippetTwice, self::SnippetOld, self::SnippetErrors, self::InstallationLooks, self::InstallationSlow, self::GuardMissing, self::GuardLate, self::AssignmentCookie, self::ChangeNoStyle, self::ChangeErrors, self::FlickerPainted, self::RedirectReferrer,
            self::GoalLate, self::GoalLost, self::GoalStray, self::GoalUnreachable, self::DataPlan, self::TimeOver => Severity::Warning,
            default => Severity::Blocker,
        };
    }

    public function link(): Link
    {
        return match (explode('.', $this->value)[0]) {
            'page' => Link::Page,
            'snippet', 'guard', 'rehearsal' => Link::Snippet,
            'consent', 'entry' => Link::Entry,
            'assignment' => Link::Split,
            'goal', 'script' => Link::Goals,
            'data' => Link::Data,
            default => Link::Exposure,
        };
    }

    public function title(): string
    {
        return ucfirst(str_replace(['.', '-'], [': ', ' '], $this->value));
    }
}
