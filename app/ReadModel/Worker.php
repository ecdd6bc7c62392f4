<?php

namespace App\ReadModel;

use App\Models\Site;
use Throwable;

/**
 * Keeps the figures of all sites up to date, in turns: takes in what has arrived, goes on with what is being counted anew,
 * and puts together what requests read. A site that fails is left alone for a while, and the others go on.
 */
final class Worker
{
    private const READINGS_EVERY = 1.0;
    private const ROUND_EVERY = 4.0;
    private const PAUSE_AFTER_FAILURE = 10.0;
    private const STEPS_A_TURN = 5;

    /** Figures may be so many seconds behind before the worker hurries: until then half of the time belongs to whoever sends beacons. */
    private const MAY_BE_BEHIND = 3.0;
    private const LONGEST_PAUSE = 1.0;

    /** @var array<int, array{definitions: int, readings: float, round: float, failed: float}> */
    private array $seen = [];

    /** Whether somebody waits for what there is to do. */
    private bool $isPressed = false;

    /** @var array<int, array<int, true>> site => counts whose figures have changed since the last readings */
    private array $changed = [];

    public function __construct(
        private readonly Gatherer $gatherer,
        private readonly Rebuild $rebuild,
        private readonly Counts $counts,
        private readonly Readings $readings,
        private readonly Rounds $rounds,
    ) {
    }

    /**
     * One turn for each site.
     *
     * @return float|null seconds to wait before the next one; null where there was nothing to do
     */
    public function turn(): ?float
    {
        $began = microtime(true);
        $busy = false;
        $this->isPressed = false;
        foreach (Site::query()->whereNull('deleting_at')->orderBy('id')->get() as $site) {
            $this->seen[$site->id] ??= ['definitions' => -1, 'readings' => 0.0, 'round' => 0.0, 'failed' => 0.0];
            if (microtime(true) < $this->seen[$site->id]['failed']) {
                continue;
            }
            try {
                $busy = $this->site($site) || $busy;
            } catch (Throwable $e) {
                report($e);
                $this->seen[$site->id]['failed'] = microtime(true) + self::PAUSE_AFTER_FAILURE;
            }
        }

        if (! $busy) {
            return null;
        }

        return $this->pressed() ? 0.0 : min(self::LONGEST_PAUSE, microtime(true) - $began);
    }

    /** Each site may have said so in its turn. */
    private function pressed(): bool
    {
        return $this->isPressed;
    }

    private function site(Site $site): bool
    {
        $seen = &$this->seen[$site->id];
        $all = false;
        if ($seen['definitions'] !== $site->definitions) {
            $this->counts->reconcile($site);
            $seen['definitions'] = $site->definitions;
            $all = true;
        }
        $busy = $this->rebuild->work($site);
        $this->isPressed = $this->isPressed || $busy;
        for ($i = 0; $i < self::STEPS_A_TURN; $i++) {
            if ($this->gatherer->step($site) === 0) {
                break;
            }
            $busy = true;
            $this->isPressed = $this->isPressed || $this->gatherer->behind() > self::MAY_BE_BEHIND;
        }
        if ($this->gatherer->build($site)) {
            $busy = $this->isPressed = true;
        }
        $this->changed[$site->id] = ($this->changed[$site->id] ?? []) + array_fill_keys($this->gatherer->changed(), true);
        if ($all || ($this->changed[$site->id] !== [] && microtime(true) - $seen['readings'] > self::READINGS_EVERY)) {
            $this->readings->refresh($site, $all ? null : array_keys($this->changed[$site->id]));
            $this->changed[$site->id] = [];
            $seen['readings'] = microtime(true);
        }
        if (microtime(true) - $seen['round'] > self::ROUND_EVERY) {
            $busy = $this->rounds->make($site) || $busy;
            $seen['round'] = microtime(true);
        }

        return $busy;
    }
}
