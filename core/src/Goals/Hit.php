<?php

declare(strict_types=1);

namespace Pellix\Core\Goals;

/** One time that a goal was reached, with the events that made it. */
final readonly class Hit
{
    /**
     * @param int         $session  number of the visitor's session, from 1
     * @param string      $url      the page that it was reached on
     * @param list<string> $events  ids of the events that made it
     * @param float|null  $value    null for none
     * @param string|null $currency of the value, where one is known
     * @param string|null $order    the order's number: an order counts once
     */
    public function __construct(
        public string $visitor,
        public int $session,
        public \DateTimeImmutable $time,
        public string $url,
        public array $events,
        public ?float $value,
        public ?string $currency,
        public ?string $order,
    ) {
    }
}
