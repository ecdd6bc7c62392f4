<?php

declare(strict_types=1);

namespace Pellix\Core\Rules;

use Pellix\Core\Segments\Agent;

/** What rules can ask about. A case that ends in `*` stands for all names in its place, such as `url.query.colour`. */
enum Fact: string
{
    case Path = 'url.path';
    case Parameter = 'url.query.*';
    case Host = 'url.host';
    case Fragment = 'url.fragment';
    case Address = 'url.full';
    case ReferrerHost = 'referrer.host';
    case Device = 'device';
    case Browser = 'browser';
    case Language = 'language';
    case Returning = 'visitor.returning';
    case Cookie = 'cookie.*';
    case Data = 'data.*';
    case EventName = 'event.name';
    case EventProperty = 'event.props.*';

    /** The fact that a name such as `url.query.colour` means; null where there is none. */
    public static function named(string $name): ?self
    {
        $exact = str_ends_with($name, '*') ? null : self::tryFrom($name);
        if ($exact !== null) {
            return $exact;
        }
        foreach (self::cases() as $fact) {
            $stem = substr($fact->value, 0, -1);
            if (str_ends_with($fact->value, '*') && str_starts_with($name, $stem) && strlen($name) > strlen($stem)) {
                return $fact;
            }
        }

        return null;
    }

    /** @return list<string|bool> all that it can be; none where there is no end of them */
    public function values(): array
    {
        return match ($this) {
            self::Device => Agent::DEVICES,
            self::Browser => Agent::BROWSERS,
            self::Returning => [true, false],
            default => [],
        };
    }

    /** As it stands in a sentence. */
    public function label(): string
    {
        return match ($this) {
            self::Path => 'path',
            self::Parameter => 'query parameter',
            self::Host => 'host',
            self::Fragment => 'fragment',
            self::Address => 'whole address',
            self::ReferrerHost => 'came from host',
            self::Device => 'device',
            self::Browser => 'browser',
            self::Language => 'language',
            self::Returning => 'been here before',
            self::Cookie => 'cookie',
            self::Data => 'data layer',
            self::EventName => 'event name',
            self::EventProperty => 'property',
        };
    }

    /** @return list<Place> where it can be evaluated */
    public function places(): array
    {
        return match ($this) {
            self::Address, self::Host, self::Path, self::Fragment, self::Parameter => Place::cases(),
            self::ReferrerHost, self::Device, self::Browser => [Place::Browser, Place::Happening, Place::RecordedEvent],
            self::Language, self::Returning, self::Cookie, self::Data => [Place::Browser, Place::Happening],
            self::EventName, self::EventProperty => [Place::Happening, Place::RecordedEvent],
        };
    }

    public function isKnownAt(Place $place): bool
    {
        return in_array($place, $this->places(), true);
    }

    /** Whether everything that a rule asks about is known in a place. */
    public static function allKnown(Rule $rule, Place $place): bool
    {
        foreach ($rule->conditions() as $condition) {
            if (self::named($condition->fact)?->isKnownAt($place) !== true) {
                return false;
            }
        }

        return true;
    }
}
