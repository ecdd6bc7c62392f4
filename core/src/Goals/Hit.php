<?php

declare(strict_types=1);

namespace Pellix\Core\Goals;

/** One time that a goal was reached, with the events that made it. */
final readonly class Hit
{
    /** A larger value counts as one that cannot be read. */
    public const LARGEST_VALUE = 1e29;

    /**
     * @param \DateTimeImmutable $session begin of the visitor's session: what one is known by, however many came before it
     * @param string      $url      the page that it was reached on
     * @param non-empty-list<string> $events ids of the events that made it
     * @param float|null  $value    null for none
     * @param string|null $currency of the value, where one is known
     * @param string|null $order    the order's number: an order counts once
     * @param string|null $user     whom the event that completed it belongs to, where somebody was signed in
     */
    public function __construct(
        public string $visitor,
        public \DateTimeImmutable $session,
        public \DateTimeImmutable $time,
        public string $url,
        public array $events,
        public ?float $value,
        public ?string $currency,
        public ?string $order,
        public ?string $user = null,
    ) {
    }

    /** Id of the event that completed it. */
    public function event(): string
    {
        return $this->events[count($this->events) - 1];
    }
}
