<?php

namespace App\Observation;

use Illuminate\Support\Facades\DB;

/** What of this copy lives: for whoever watches it. Names and yes or no, nothing else. */
final readonly class Health
{
    /** Figures that are further behind than this are a fault of whoever makes them. */
    private const PATIENCE_SECONDS = 120;

    /**
     * @param array<string, bool> $processes name => whether it lives
     * @param int|null            $behind    seconds that figures are behind what has arrived; null where nobody can say
     */
    private function __construct(public bool $database, public array $processes, public ?int $behind)
    {
    }

    public static function now(): self
    {
        try {
            $oldest = DB::table('arrivals')->orderBy('id')->value('received');
            [$database, $behind] = [true, $oldest === null ? 0 : max(0, time() - (int) strtotime("{$oldest} UTC"))];
        } catch (\Throwable) {
            [$database, $behind] = [false, null];
        }
        $processes = [];
        foreach (glob(config('pellix.processes').'/*') ?: [] as $file) {
            $processes[basename($file)] = is_dir('/proc/'.(int) file_get_contents($file));
        }

        return new self($database, $processes, $behind);
    }

    public function isWell(): bool
    {
        return $this->database && ! in_array(false, $this->processes, true) && $this->behind <= self::PATIENCE_SECONDS;
    }
}
