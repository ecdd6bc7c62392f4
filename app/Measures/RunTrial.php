<?php

namespace App\Measures;

use App\Models\Trial;
use Carbon\CarbonImmutable;
use Illuminate\Contracts\Queue\ShouldQueue;
use Illuminate\Foundation\Queue\Queueable;
use Pellix\Core\Goals\Goal;

/** One trial, from beginning to end; it stops when the trial is gone because somebody began another. */
class RunTrial implements ShouldQueue
{
    use Queueable;

    public int $tries = 2;

    public int $timeout = 110;

    public function __construct(private readonly int $trial)
    {
    }

    public function handle(GoalTrial $trial): void
    {
        $kept = Trial::query()->find($this->trial);
        if ($kept === null || $kept->state !== 'running') {
            return;
        }
        $result = $trial->of($kept->site, Goal::read($kept->definition), CarbonImmutable::now('UTC'), static fn (int $done, int $total): bool => Trial::query()->whereKey($kept->id)->update(['done' => $done, 'total' => $total]) === 1
            || Trial::query()->whereKey($kept->id)->exists());
        if ($result !== null) {
            $kept->update(['state' => 'done', 'result' => $result]);
        }
    }

    public function failed(): void
    {
        Trial::query()->whereKey($this->trial)->update(['state' => 'failed']);
    }
}
