<?php

declare(strict_types=1);

namespace Pellix\Core\Segments;

/** The groups of visitors that one event belongs to, worked out once, on receipt. */
final readonly class Segments
{
    private const LONGEST = 40;

    private function __construct(
        public ?string $device,
        public ?string $browser,
        public ?string $source,
        public ?string $country,
    ) {
    }

    /**
     * What stands in the properties counts more than what the user agent suggests; `source` and `country` are known only
     * where they are given.
     *
     * @param array<string, mixed> $props
     * @param string|null          $agent user agent; null where no browser sent the event
     */
    public static function of(array $props, ?string $agent): self
    {
        /** @var array{string, string, string} $last the same few come again and again */
        static $last = ['', 'desktop', 'other'];
        if ($agent !== null && $agent !== $last[0]) {
            $last = [$agent, Agent::device($agent), Agent::browser($agent)];
        }

        return new self(
            self::given($props, 'device') ?? ($agent === null ? null : $last[1]),
            self::given($props, 'browser') ?? ($agent === null ? null : $last[2]),
            self::given($props, 'source'),
            self::given($props, 'country'),
        );
    }

    /** @param array<string, mixed> $props */
    private static function given(array $props, string $name): ?string
    {
        $value = $props[$name] ?? null;

        return is_string($value) && $value !== '' ? mb_strcut($value, 0, self::LONGEST, 'UTF-8') : null;
    }
}
