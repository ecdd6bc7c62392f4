<?php

declare(strict_types=1);

namespace Demo\Logs;

/** One invented visitor. */
final class Person
{
    public ?string $variant = null;

    /** Position of its first day in the log. */
    public float $day = 0.0;

    public function __construct(
        public string $id,
        public ?string $user,
        public readonly string $device,
        public readonly string $browser,
        public string $agent,
        public readonly string $source,
        public readonly string $country,
        public readonly float $keenness,
        public readonly bool $isBot,
    ) {
    }
}
