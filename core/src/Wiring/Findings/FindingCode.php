<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Findings;

use Pellix\Core\Chain\Link;

/** Everything that can be found wrong, `area.what`, each with its severity, the chain link that it touches, and a title. */
enum FindingCode: string
{
    case PageUnreachable = 'page.unreachable';
    case PageNotHtml = 'page.not-html';
    case PageRedirected = 'page.redirected';
    case PageTooCostly = 'page.too-costly';
    case PageMetaRefresh = 'page.meta-refresh';
    case SnippetMissing = 'snippet.missing';
    case SnippetWrongKey = 'snippet.wrong-key';
    case SnippetEarlierKey = 'snippet.earlier-key';
    case SnippetAltered = 'snippet.altered';
    case SnippetCommentedOut = 'snippet.commented-out';
    case SnippetInsideNoscript = 'snippet.inside-noscript';
    case SnippetInsideTemplate = 'snippet.inside-template';
    case SnippetNeverRuns = 'snippet.never-runs';
    case SnippetCspBlocked = 'snippet.csp-blocked';
    case SnippetDuplicate = 'snippet.duplicate';
    case SnippetInBody = 'snippet.in-body';
    case SnippetAfterBlocking = 'snippet.after-blocking';
    case SnippetDeferred = 'snippet.deferred';
    case SnippetConsentGated = 'snippet.consent-gated';
    case GuardMissing = 'guard.missing';
    case GuardAfterSnippet = 'guard.after-snippet';
    case GuardAltered = 'guard.altered';
    case GuardInsideTemplate = 'guard.inside-template';
    case GuardCspBlocked = 'guard.csp-blocked';
    case GuardIdle = 'guard.with-nothing-to-do';
    case TagMissing = 'tag.missing';
    case TagDuplicate = 'tag.duplicate';
    case TagOrder = 'tag.order';
    case VariantLinked = 'variant.linked';
    case RuntimeMissing = 'runtime.missing';
    case RuntimeFailed = 'runtime.failed';
    case BeaconMissing = 'beacon.missing';
    case BeaconRefused = 'beacon.refused';
    case BeaconRejected = 'beacon.rejected';
    case BeaconRepeated = 'beacon.repeated';
    case CoverageLostSnippet = 'coverage.lost-snippet';
    case CoverageLostCode = 'coverage.lost-code';

    public function severity(): Severity
    {
        return match ($this) {
            self::PageMetaRefresh, self::SnippetEarlierKey, self::SnippetDuplicate, self::SnippetInBody, self::SnippetAfterBlocking, self::SnippetDeferred, self::SnippetConsentGated, self::GuardAfterSnippet, self::GuardAltered, self::GuardInsideTemplate, self::GuardCspBlocked, self::TagMissing, self::TagDuplicate, self::TagOrder, self::VariantLinked, self::BeaconMissing, self::BeaconRejected, self::CoverageLostCode => Severity::Warning,
            self::PageRedirected, self::GuardMissing, self::GuardIdle, self::BeaconRepeated => Severity::Note,
            default => Severity::Blocker,
        };
    }

    /** The chain link that it touches. */
    public function link(): Link
    {
        return match ($this) {
            self::PageUnreachable, self::PageNotHtml, self::PageRedirected, self::PageTooCostly, self::PageMetaRefresh => Link::Page,
            self::GuardMissing, self::GuardAfterSnippet, self::GuardAltered, self::GuardInsideTemplate, self::GuardCspBlocked, self::GuardIdle => Link::Exposure,
            self::VariantLinked => Link::Split,
            self::BeaconMissing, self::BeaconRefused, self::BeaconRejected, self::BeaconRepeated => Link::Data,
            default => Link::Snippet,
        };
    }

    public function title(): string
    {
        return match ($this) {
            self::PageUnreachable => 'The page cannot be had',
            self::PageNotHtml => 'No HTML page',
            self::PageRedirected => 'The address leads on',
            self::PageTooCostly => 'The page could not be inspected at a bearable cost',
            self::PageMetaRefresh => 'The page sends visitors on by itself',
            self::SnippetMissing => 'No snippet',
            self::SnippetWrongKey => 'Snippet of another site',
            self::SnippetEarlierKey => 'Snippet with the earlier key',
            self::SnippetAltered => 'Snippet altered on its way',
            self::SnippetCommentedOut => 'Snippet in a comment',
            self::SnippetInsideNoscript => 'Snippet inside of noscript',
            self::SnippetInsideTemplate => 'Snippet inside of a template',
            self::SnippetNeverRuns => 'Snippet where no browser runs it',
            self::SnippetCspBlocked => 'A policy keeps the snippet from running',
            self::SnippetDuplicate => 'Snippet more than once',
            self::SnippetInBody => 'Snippet in the body',
            self::SnippetAfterBlocking => 'Snippet waits for something else',
            self::SnippetDeferred => 'Snippet runs late',
            self::SnippetConsentGated => 'Snippet waits for consent',
            self::GuardMissing => 'No flicker guard',
            self::GuardAfterSnippet => 'Flicker guard after the snippet',
            self::GuardAltered => 'Flicker guard altered on its way',
            self::GuardInsideTemplate => 'Flicker guard inside of a template',
            self::GuardCspBlocked => 'A policy keeps the flicker guard from working',
            self::GuardIdle => 'Flicker guard with nothing to do',
            self::TagMissing => 'Tag missing',
            self::TagDuplicate => 'Tag more than once',
            self::TagOrder => 'Tags in the wrong order',
            self::VariantLinked => 'A link leads to a page of a variant',
            self::RuntimeMissing => 'Runtime was never asked for',
            self::RuntimeFailed => 'Runtime could not be loaded',
            self::BeaconMissing => 'No beacon was sent',
            self::BeaconRefused => 'Beacon refused',
            self::BeaconRejected => 'Event rejected',
            self::BeaconRepeated => 'Events sent more than once',
            self::CoverageLostSnippet => 'A page has lost its snippet',
            self::CoverageLostCode => 'A page has lost required code',
        };
    }
}
