<?php

declare(strict_types=1);

namespace Pellix\Core\Rules;

use Pellix\Core\Segments\Agent;

/** What one received event tells: its address, name and properties, where the visitor came from, and with what. */
final readonly class EventFacts implements Facts
{
    private AddressFacts $address;

    /** @param array<string, mixed> $props */
    public function __construct(
        private string $name,
        string $url,
        private array $props,
        private ?string $referrer = null,
        private ?string $agent = null,
    ) {
        $this->address = AddressFacts::of($url);
    }

    public function get(string $fact): string|int|float|bool|null
    {
        return match (true) {
            str_starts_with($fact, 'url.') => $this->address->get($fact),
            $fact === 'event.name' => $this->name,
            str_starts_with($fact, 'event.props.') => self::at($this->props, substr($fact, 12)),
            $fact === 'referrer.host' => $this->referrer === null || $this->referrer === '' ? null : (AddressFacts::of($this->referrer)->host ?: null),
            // A segment that stands in the properties counts more than what the user agent suggests.
            $fact === 'device' => self::at($this->props, 'device') ?? ($this->agent === null ? null : Agent::device($this->agent)),
            $fact === 'browser' => self::at($this->props, 'browser') ?? ($this->agent === null ? null : Agent::browser($this->agent)),
            default => null,
        };
    }

    /**
     * Whether a recorded event tells a fact at all, be it that there is none. Without a user agent nobody can say what the
     * visitor used.
     */
    public function isKnown(string $fact): bool
    {
        if (Fact::named($fact)?->isKnownAt(Place::RecordedEvent) !== true) {
            return false;
        }

        return ! in_array($fact, ['device', 'browser'], true) || ($this->agent ?? '') !== '' || self::at($this->props, $fact) !== null;
    }

    /**
     * The value at a path such as `basket.items.0.price`; null where there is none, or no single value.
     *
     * @param array<mixed> $values
     */
    public static function at(array $values, string $path): string|int|float|bool|null
    {
        // A name that itself has a point in it counts first.
        $here = $values[$path] ?? null;
        if ($here === null) {
            $here = $values;
            foreach (explode('.', $path) as $step) {
                $here = is_array($here) ? ($here[$step] ?? null) : null;
            }
        }

        return is_scalar($here) ? $here : null;
    }
}
