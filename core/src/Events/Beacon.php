<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

use Pellix\Core\Formats\Moment;

/** One delivery from a browser: `{"pellix":1,"site":"plx_…","sent":"…","configuration":12,"events":[…]}`, its events not yet read. */
final readonly class Beacon
{
    public const MOST_BYTES = 65536;

    public const MOST_EVENTS = 100;

    private const DEEPEST = 16;
    private const MOST_DROPPED = 10_000;
    private const LARGEST_NUMBER = 4294967295;

    /**
     * @param int|null    $configuration number of the published file that the visitor met
     * @param list<mixed> $events
     * @param int         $dropped how many events the browser lost since it last said so, because too many waited
     */
    private function __construct(public string $site, public ?\DateTimeImmutable $sent, public ?int $configuration, public array $events, public int $dropped)
    {
    }

    /** @throws InvalidBeacon */
    public static function read(string $body): self
    {
        if (strlen($body) > self::MOST_BYTES) {
            throw new InvalidBeacon('too-large', 413, 'A beacon has at most '.self::MOST_BYTES.' bytes.');
        }
        try {
            $json = json_decode($body, true, self::DEEPEST, JSON_THROW_ON_ERROR | JSON_BIGINT_AS_STRING);
        } catch (\JsonException $e) {
            throw new InvalidBeacon('bad-json', 400, "The body is not JSON: {$e->getMessage()}.");
        }
        if (! is_array($json) || ($json['pellix'] ?? null) !== 1) {
            throw new InvalidBeacon('bad-shape', 422, 'The body is an object with "pellix": 1, "site", "sent" and "events".');
        }
        $site = $json['site'] ?? null;
        if (! is_string($site) || preg_match('/\Aplx_[a-z0-9]{16}\z/', $site) !== 1) {
            throw new InvalidBeacon('bad-shape', 422, 'The site key is "plx_" and 16 of a-z and 0-9.');
        }
        $events = $json['events'] ?? null;
        if (! is_array($events) || ! array_is_list($events) || $events === []) {
            throw new InvalidBeacon('bad-shape', 422, 'The events are a list of at least one.', $site);
        }
        if (count($events) > self::MOST_EVENTS) {
            throw new InvalidBeacon('too-many-events', 413, 'A beacon carries at most '.self::MOST_EVENTS.' events.', $site);
        }
        $sent = $json['sent'] ?? null;
        $moment = is_string($sent) ? Moment::parse($sent) : null;
        if ($sent !== null && $moment === null) {
            throw new InvalidBeacon('bad-shape', 422, '"sent" is a time in RFC 3339.', $site);
        }

        $configuration = $json['configuration'] ?? null;

        $dropped = $json['dropped'] ?? 0;

        return new self(
            $site,
            $moment,
            is_int($configuration) && $configuration >= 0 && $configuration <= self::LARGEST_NUMBER ? $configuration : null,
            $events,
            is_int($dropped) ? max(0, min(self::MOST_DROPPED, $dropped)) : 0,
        );
    }
}
