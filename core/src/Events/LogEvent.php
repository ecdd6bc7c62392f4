<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

use Pellix\Core\Rules\EventFacts;

/** One event of an event log, as it happened. */
final readonly class LogEvent
{
    /** @param array<string, mixed> $props */
    public function __construct(
        public string $id,
        public string $visitor,
        public \DateTimeImmutable $time,
        public string $name,
        public string $url,
        public array $props = [],
        public ?string $referrer = null,
        public ?string $agent = null,
        public ?string $user = null,
    ) {
    }

    public function facts(): EventFacts
    {
        return new EventFacts($this->name, $this->url, $this->props, $this->referrer, $this->agent);
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
            $once[$event->id] ??= $event;
        }
        $events = array_values($once);
        usort($events, static fn (self $a, self $b): int => $a->time <=> $b->time);

        return $events;
    }
}
