<?php

namespace App\Measures;

use App\Models\Trial;
use Carbon\CarbonImmutable;
use Illuminate\Contracts\Queue\ShouldQueue;
use Illuminate\Foundation\Queue\Queueable;

/** One trial, from beginning to end; it stops when the trial is gone because somebody began another. */
abstract class RunTrial implements ShouldQueue
{
    use Queueable;

    public int $tries = 2;

    public int $timeout = 110;

    public function __construct(protected int $trial)
    {
    }

    public function handle(): void
    {
        $kept = Trial::query()->find($this->trial);
        if ($kept === null || $kept->state !== 'running') {
            return;
        }
        $result = $this->work($kept, CarbonImmutable::now('UTC'), static fn (int $done, int $total): bool => Trial::query()->whereKey($kept->id)->update(['done' => $done, 'total' => $total]) === 1
            || Trial::query()->whereKey($kept->id)->exists());
        if ($result !== null) {
            $kept->update(['state' => 'done', 'result' => $result]);
        }
    }

    /**
     * @param callable(int, int): bool $progress told how much of how much is done; false stops
     *
     * @return array<string, mixed>|null null where it was stopped
     */
    abstract protected function work(Trial $trial, CarbonImmutable $now, callable $progress): ?array;

    public function failed(): void
    {
        Trial::query()->whereKey($this->trial)->update(['state' => 'failed']);
    }
}
