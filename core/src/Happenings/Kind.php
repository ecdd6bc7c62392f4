<?php

declare(strict_types=1);

namespace Pellix\Core\Happenings;

/** What can happen on a page: what goals count, and what sets triggers off. */
enum Kind: string
{
    case Page = 'page';
    case Click = 'click';
    case Form = 'form';
    case Event = 'event';
    case Order = 'order';
    case Engaged = 'engaged';
    case Scroll = 'scroll';
    case Seen = 'seen';
    case AnyClick = 'any_click';
    case Time = 'time';
    case Data = 'data';
    case Element = 'element';

    public function label(): string
    {
        return match ($this) {
            self::Page => 'A page is reached',
            self::Click => 'An element is clicked',
            self::Form => 'A form is sent',
            self::Event => 'An event happens',
            self::Order => 'An order comes in',
            self::Engaged => 'Time is spent on a page',
            self::Scroll => 'A page is scrolled',
            self::Seen => 'A part of a page is seen',
            self::AnyClick => 'Anything on a page is clicked',
            self::Time => 'Time passes on a page',
            self::Data => 'The data layer is pushed to',
            self::Element => 'An element is on the page',
        };
    }

    /** Whether a goal can count it: only what is recorded can be. */
    public function counts(): bool
    {
        return ! in_array($this, [self::Time, self::Data, self::Element], true);
    }

    /** Whether it can set a trigger off. */
    public function triggers(): bool
    {
        return ! in_array($this, [self::Order, self::Engaged, self::Seen, self::AnyClick], true);
    }

    /** The name of the events that record it; an `event` names its own, and what no event records has none. */
    public function recordedAs(): ?string
    {
        return match ($this) {
            self::Page => 'page_view',
            self::Click, self::AnyClick => 'click',
            self::Form => 'form_submit',
            self::Order => 'order',
            self::Engaged => 'engaged',
            self::Scroll => 'scroll',
            self::Seen => 'area_seen',
            self::Event, self::Time, self::Data, self::Element => null,
        };
    }

    public function hasSelector(): bool
    {
        return in_array($this, [self::Click, self::Form, self::Seen, self::Element], true);
    }

    /** The member, and the event's property, that holds its amount. */
    public function amount(): ?string
    {
        return match ($this) {
            self::Engaged, self::Time => 'seconds',
            self::Scroll => 'percent',
            default => null,
        };
    }

    public function largestAmount(): int
    {
        return match ($this) {
            self::Engaged => 36_000,
            self::Time => 3600,
            default => 100,
        };
    }

    /** @return non-empty-list<string> the kinds that goals know */
    public static function ofGoals(): array
    {
        /** @var non-empty-list<string> $kinds */
        $kinds = array_column(array_filter(self::cases(), static fn (self $kind): bool => $kind->counts()), 'value');

        return $kinds;
    }

    /** @return non-empty-list<string> the kinds that triggers know */
    public static function ofTriggers(): array
    {
        /** @var non-empty-list<string> $kinds */
        $kinds = array_column(array_filter(self::cases(), static fn (self $kind): bool => $kind->triggers()), 'value');

        return $kinds;
    }
}
