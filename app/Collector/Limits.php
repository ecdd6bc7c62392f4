<?php

declare(strict_types=1);

namespace App\Collector;

/** How much a site's pages may send, and how much of what is rejected is kept: whatever a stranger sends has a bound. And what is known of the site for a moment. */
final readonly class Limits
{
    /** So many seconds' worth may come at once. */
    private const BURST = 20;

    /** Rejected events that are kept of a site: a second, and at once. All are counted. */
    private const KEPT = 2.0;
    private const KEPT_AT_ONCE = 200.0;

    private const PATIENCE = 60;

    /** So long a site counts as it was read, in seconds. */
    private const REMEMBERED = 1;

    private function __construct(private Buckets $buckets, private string $folder, private float $events)
    {
    }

    /**
     * @param string $folder where the buckets are
     * @param int    $events that a site may send a second, on average
     */
    public static function of(string $folder, int $events): self
    {
        return new self(new Buckets($folder), $folder, (float) max(1, $events));
    }

    /** Seconds after which the site may send so many events; null where it may now. */
    public function wait(int $site, int $events): ?int
    {
        $seconds = $this->buckets->take("events-{$site}", $events, $this->events, self::BURST * $this->events);

        return $seconds > 0 ? min(self::PATIENCE, (int) ceil($seconds)) : null;
    }

    /** @return array{id: int, hosts: list<string>, parameters: list<string>}|null what was read of a site a moment ago */
    public function recall(string $key): ?array
    {
        $text = @file_get_contents("{$this->folder}/site-{$key}");
        [$then, $json] = explode(' ', $text === false ? '' : $text, 2) + [1 => ''];
        /** @var array{id: int, hosts: list<string>, parameters: list<string>}|null $site */
        $site = $then !== '' && abs(microtime(true) - (float) $then) < self::REMEMBERED ? json_decode($json, true) : null;

        return $site;
    }

    /** @param array{id: int, hosts: list<string>, parameters: list<string>} $site */
    public function remember(string $key, array $site): void
    {
        $file = "{$this->folder}/site-{$key}";
        $new = "{$file}.".bin2hex(random_bytes(4));
        // Put in its place whole, so that nobody reads half of it.
        @file_put_contents($new, sprintf('%.3f ', microtime(true)).json_encode($site, JSON_THROW_ON_ERROR)) !== false && @rename($new, $file);
    }

    /** Whether a rejected event of the site, or of no known one, may be kept as a sample. */
    public function mayKeep(?int $site): bool
    {
        return $this->buckets->take('rejects-'.($site ?? 'nobody'), 1, self::KEPT, self::KEPT_AT_ONCE) === 0.0;
    }
}
