<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

/** Where an experiment stands in its life, and where it can go from there. */
enum Stage: string
{
    case Draft = 'draft';
    case Scheduled = 'scheduled';
    case Running = 'running';
    case Paused = 'paused';
    case Ended = 'ended';
    case Archived = 'archived';

    private const MOVES = [
        'start' => ['draft' => self::Running, 'scheduled' => self::Running],
        'schedule' => ['draft' => self::Scheduled],
        'unschedule' => ['scheduled' => self::Draft],
        'pause' => ['running' => self::Paused],
        'resume' => ['paused' => self::Running],
        'end' => ['running' => self::Ended, 'paused' => self::Ended],
        'archive' => ['ended' => self::Archived],
    ];

    /** @return list<string> */
    public static function actions(): array
    {
        return array_keys(self::MOVES);
    }

    /**
     * Where an action leads from here.
     *
     * @throws InvalidExperiment when it is not possible
     */
    public function after(string $action): self
    {
        return self::MOVES[$action][$this->value]
            ?? throw new InvalidExperiment("The experiment is {$this->value}; \"{$action}\" is not possible from there.", 'action');
    }

    /** @return list<string> the actions that are possible from here */
    public function possible(): array
    {
        return array_values(array_filter(self::actions(), fn (string $action): bool => isset(self::MOVES[$action][$this->value])));
    }

    /** Whether nothing of it can change any more. */
    public function isOver(): bool
    {
        return in_array($this, [self::Ended, self::Archived], true);
    }

    public function hasStarted(): bool
    {
        return ! in_array($this, [self::Draft, self::Scheduled], true);
    }
}
