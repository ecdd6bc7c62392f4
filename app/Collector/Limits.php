<?php

declare(strict_types=1);

namespace App\Collector;

/** How much a site's pages may send, and how much of what is rejected is kept: whatever a stranger sends has a bound. */
final readonly class Limits
{
    /** So many seconds' worth may come at once. */
    private const BURST = 20;

    /** Rejected events that are kept of a site: a second, and at once. All are counted. */
    private const KEPT = 2.0;
    private const KEPT_AT_ONCE = 200.0;

    private const PATIENCE = 60;

    private function __construct(private Buckets $buckets, private float $events)
    {
    }

    /**
     * @param string $folder where the buckets are
     * @param int    $events that a site may send a second, on average
     */
    public static function of(string $folder, int $events): self
    {
        return new self(new Buckets($folder), (float) max(1, $events));
    }

    /**
     * Seconds after which the site may send so many events; null where it may now.
     *
     * @param bool $ended with a key that has ended: whoever goes on with it has a limit apart, and takes nothing of the pages' own
     */
    public function wait(int $site, int $events, bool $ended = false): ?int
    {
        $seconds = $this->buckets->take(($ended ? 'ended' : 'events')."-{$site}", $events, $this->events, self::BURST * $this->events);

        return $seconds > 0 ? min(self::PATIENCE, (int) ceil($seconds)) : null;
    }

    /** Whether it may be noted that a key that was replaced is still in use: once a second is enough. */
    public function mayNote(string $key): bool
    {
        return $this->buckets->take("key-{$key}", 1, 1.0, 1.0) === 0.0;
    }

    /** Whether a rejected event of the site, or of no known one, may be kept as a sample. */
    public function mayKeep(?int $site): bool
    {
        return $this->buckets->take('rejects-'.($site ?? 'nobody'), 1, self::KEPT, self::KEPT_AT_ONCE) === 0.0;
    }
}
