<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments\Ready;

use Pellix\Core\Chain\Link;

/** The points of the ready list, in the order of the chain. */
enum ReadyCode: string
{
    case Finished = 'draft.finished';
    case Name = 'what.name';
    case Hypothesis = 'what.hypothesis';
    case Owner = 'what.owner';
    case Plan = 'what.plan';
    case Rehearsed = 'what.rehearsed';
    case Pages = 'page.known';
    case Snippet = 'snippet.proven';
    case Guard = 'snippet.guard';
    case Audience = 'entry.audience';
    case Share = 'entry.share';
    case Group = 'entry.group';
    case Internal = 'entry.internal-traffic';
    case Weights = 'split.weights';
    case Lifetime = 'split.lifetime';
    case Effects = 'exposure.effects';
    case Selectors = 'exposure.selectors';
    case Clashes = 'exposure.clashes';
    case Targets = 'exposure.targets';
    case Goals = 'goals.named';
    case Fired = 'goals.fired';
    case Reachable = 'goals.reachable';
    case Values = 'goals.values';
    case Consent = 'data.consent';
    case End = 'data.end';

    /** The link that it stands at; null for what is said of the whole. */
    public function link(): ?Link
    {
        return match (explode('.', $this->value)[0]) {
            'page' => Link::Page,
            'snippet' => Link::Snippet,
            'entry' => Link::Entry,
            'split' => Link::Split,
            'exposure' => Link::Exposure,
            'goals' => Link::Goals,
            'data' => Link::Data,
            default => null,
        };
    }

    /** Where it is mended: a view of the experiment, or a section of the site. */
    public function mendedAt(): string
    {
        return match ($this) {
            self::Plan => 'plan',
            self::Rehearsed => 'rehearsal',
            self::Snippet, self::Guard => 'coverage',
            self::Internal => 'feed',
            self::Consent => 'capture',
            self::Fired, self::Values => 'goal',
            self::Lifetime, self::End => 'data',
            default => $this->link()->value ?? 'what',
        };
    }

    public function label(): string
    {
        return match ($this) {
            self::Finished => 'The draft is finished',
            self::Name => 'It has a name',
            self::Hypothesis => 'It says why',
            self::Owner => 'Somebody looks after it',
            self::Plan => 'It is planned',
            self::Rehearsed => 'It works in a browser',
            self::Pages => 'Its pages are known',
            self::Snippet => 'The snippet is proven on them',
            self::Guard => 'The guard stands where it is needed',
            self::Audience => 'Its audience comes',
            self::Share => 'Visitors enter',
            self::Group => 'Its group has room',
            self::Internal => 'Visits of your own are told apart',
            self::Weights => 'Visitors are divided',
            self::Lifetime => 'Variants are kept long enough',
            self::Effects => 'Each variant shows something',
            self::Selectors => 'What it changes is there',
            self::Clashes => 'No other experiment changes the same',
            self::Targets => 'Its targets are in order',
            self::Goals => 'It has a primary goal',
            self::Fired => 'Its goals have counted before',
            self::Reachable => 'Its goals can be reached in every variant',
            self::Values => 'Values and currencies arrive',
            self::Consent => 'Consent does not hide its goals',
            self::End => 'Its end is set',
        };
    }
}
