<?php

declare(strict_types=1);

namespace Pellix\Core\Vocabulary;

/** What entries of the Logbook are about. */
enum Thing: string
{
    case Site = 'site';
    case Experiment = 'experiment';
    case Goal = 'goal';
    case Event = 'event';
    case Tags = 'tags';
    case Published = 'published';
    case Page = 'page';
    case Brief = 'brief';
    case Finding = 'finding';
    case Person = 'person';
    case Webhook = 'webhook';
    case Audit = 'audit';
    case Exclusion = 'exclusion';

    public function label(): string
    {
        return match ($this) {
            self::Event => 'Event of the tracking plan',
            self::Published => 'Published file',
            self::Brief => 'Hand-off brief',
            default => ucfirst($this->value),
        };
    }
}
