<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

use Pellix\Core\Rules\EventFacts;

/** One event of an event log, as it happened. Never changed once it is there; what rules ask of it is worked out once. */
final class LogEvent
{
    private ?EventFacts $facts = null;

    /** @param array<string, mixed> $props */
    public function __construct(
        public readonly string $id,
        public readonly string $visitor,
        public readonly \DateTimeImmutable $time,
        public readonly string $name,
        public readonly string $url,
        public readonly array $props = [],
        public readonly ?string $referrer = null,
        public readonly ?string $agent = null,
        public readonly ?string $user = null,
    ) {
    }

    public function facts(): EventFacts
    {
        return $this->facts ??= new EventFacts($this->name, $this->url, $this->props, $this->referrer, $this->agent);
    }

    /** A property that is a text or a number, as a text; null where it is missing or something else. */
    public function text(string $prop): ?string
    {
        $value = $this->props[$prop] ?? null;

        return is_string($value) || is_int($value) || is_float($value) ? (string) $value : null;
    }

    /** A property that is a number, or reads like one. */
    public function number(string $path): ?float
    {
        $value = EventFacts::at($this->props, $path);

        return is_int($value) || is_float($value) || (is_string($value) && is_numeric($value)) ? (float) $value : null;
    }

    /** Whole milliseconds since 1970: moments that are compared or subtracted often. */
    public function milliseconds(): int
    {
        return 1000 * $this->time->getTimestamp() + (int) $this->time->format('v');
    }

    /**
     * Each id once, in the order of time; what has the same time stays as it came.
     *
     * @param list<self> $events
     *
     * @return list<self>
     */
    public static function inOrder(array $events): array
    {
        $once = [];
        foreach ($events as $event) {
            // With a mark before it, since PHP would take an id of digits for a number.
            $once["#{$event->id}"] ??= $event;
        }
        $events = array_values($once);
        usort($events, static fn (self $a, self $b): int => $a->time <=> $b->time);

        return $events;
    }
}
