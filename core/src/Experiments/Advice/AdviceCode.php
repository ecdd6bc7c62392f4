<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments\Advice;

use Pellix\Core\Chain\Link;

/** What is worth a second look in an experiment before it starts. Nothing of it keeps it from starting. */
enum AdviceCode: string
{
    case SelectorNone = 'selector.matches-none';
    case SelectorMany = 'selector.matches-many';
    case SelectorGenerated = 'selector.generated-name';
    case SelectorPosition = 'selector.position';
    case StyleLoses = 'change.style-loses';
    case SameElement = 'change.same-element';
    case Overrides = 'change.overrides';
    case OtherExperiment = 'change.other-experiment';
    case OnlyText = 'change.only-text';
    case NoEffect = 'change.no-effect';
    case MixedIdeas = 'variant.mixed-ideas';
    case TargetUnknown = 'target.not-inspected';
    case TargetUnreachable = 'target.unreachable';
    case TargetNoSnippet = 'target.no-snippet';
    case TargetLinked = 'target.linked';
    case TargetChain = 'target.chain';
    case TargetCanonical = 'target.canonical';
    case TargetCookie = 'target.other-cookie';
    case LifetimeShort = 'lifetime.short';
    case CookieShort = 'lifetime.cookie-short';
    case NameUnlike = 'name.unlike-pattern';
    case NoHypothesis = 'hypothesis.missing';
    case NoGoal = 'goals.missing';
    case NoPage = 'pages.none-known';
    case GroupFull = 'group.full';

    public function severity(): AdviceSeverity
    {
        return match ($this) {
            self::NoGoal => AdviceSeverity::Missing,
            self::SelectorMany, self::SameElement, self::SelectorPosition, self::OnlyText, self::NameUnlike, self::NoHypothesis, self::TargetUnknown, self::TargetCanonical => AdviceSeverity::Note,
            default => AdviceSeverity::Doubt,
        };
    }

    public function link(): Link
    {
        return match ($this) {
            self::NoPage => Link::Page,
            self::GroupFull => Link::Entry,
            self::NoGoal => Link::Goals,
            self::LifetimeShort, self::CookieShort, self::NameUnlike, self::NoHypothesis => Link::Data,
            self::TargetNoSnippet => Link::Snippet,
            default => Link::Exposure,
        };
    }
}
