<?php

declare(strict_types=1);

namespace Bench;

/** Prints one line a figure: what, the measure, its budget, and whether it is kept. */
final class Report
{
    private int $exceeded = 0;

    public function line(string $what, string $measure, string $budget, bool $kept): void
    {
        printf("  %-52s %-26s %-22s %s\n", $what, $measure, $budget, $kept ? 'kept' : 'EXCEEDED');
        $this->exceeded += $kept ? 0 : 1;
    }

    /** A figure without a budget. */
    public function note(string $what, string $measure): void
    {
        printf("  %-52s %s\n", $what, $measure);
    }

    /** @return int exit code: 1 where a budget was exceeded */
    public function exitCode(): int
    {
        return $this->exceeded === 0 ? 0 : 1;
    }
}
