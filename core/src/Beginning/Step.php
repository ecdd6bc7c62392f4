<?php

declare(strict_types=1);

namespace Pellix\Core\Beginning;

/** What is done on a new site, in the order of the chain. */
enum Step: string
{
    case Snippet = 'snippet';
    case Running = 'running';
    case Event = 'event';
    case Goal = 'goal';
    case Experiment = 'experiment';
    case Colleague = 'colleague';

    public function label(): string
    {
        return match ($this) {
            self::Snippet => 'The snippet stands on one page',
            self::Running => 'It runs there',
            self::Event => 'A first event arrives',
            self::Goal => 'A first goal is reached',
            self::Experiment => 'A first experiment has visitors',
            self::Colleague => 'Somebody else looks on',
        };
    }
}
