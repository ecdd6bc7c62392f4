<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Shapes;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Settings;
use Pellix\Core\Wiring\Findings\Severity;

/** Whom and what a fault touches, and when: the smallest description that covers it. */
final readonly class Where
{
    /**
     * @param string|null $variant its key
     * @param array{dimension: string, value: string}|null $segment
     * @param int|null    $since   milliseconds
     * @param float       $rate    part that it touches there
     */
    public function __construct(
        public ?string $variant = null,
        public ?string $event = null,
        public ?string $page = null,
        public ?array $segment = null,
        public ?int $since = null,
        public ?int $until = null,
        public float $rate = 0.0,
    ) {
    }

    /** @param list<string> $keys of one dimension */
    public static function of(array $keys, ?string $variant = null, ?int $since = null, ?int $until = null, float $rate = 0.0): self
    {
        if ($keys === []) {
            return new self($variant, null, null, null, $since, $until, $rate);
        }
        $dimension = Keys::parts($keys[0])[0];
        $values = array_map(static fn (string $key): string => Keys::parts($key)[1], $keys);
        sort($values);

        return $dimension === 'page' && count($values) === 1
            ? new self($variant, null, $values[0], null, $since, $until, $rate)
            : new self($variant, null, null, ['dimension' => $dimension, 'value' => implode(',', $values)], $since, $until, $rate);
    }

    /**
     * What is found there. What it is about beyond that is given: a goal, an event.
     *
     * @param array<string, mixed> $numbers
     * @param list<string>         $causes
     * @param list<string>         $next
     */
    public function finding(AuditCode $code, Severity $severity, string $message, ?string $goal = null, ?string $event = null, array $numbers = [], array $causes = [], array $next = [], float $weight = 0.0): Finding
    {
        return new Finding($code, $severity, $message, $this->variant, $goal, $event ?? $this->event, $this->page, $this->segment, $this->since, $this->until, $numbers, $causes, $next, $weight);
    }

    /** ` on Safari, mobile`, ` since 9 March 14:00`: to be put after what happens. */
    public function told(Settings $settings, bool $withTime = true): string
    {
        $words = '';
        if ($this->segment !== null) {
            $words .= match ($this->segment['dimension']) {
                'visitor' => " among {$this->segment['value']} visitors",
                'host', 'browser', 'device', 'browser+device' => ' on '.strtr($this->segment['value'], ['+' => ', ']),
                default => " of {$this->segment['dimension']} {$this->segment['value']}",
            };
        }
        $words .= $this->page === null ? '' : " on {$this->page}";

        return $words.($withTime ? $this->time($settings) : '');
    }

    public function time(Settings $settings): string
    {
        return match (true) {
            $this->since !== null && $this->until !== null => " from {$settings->told($this->since)} to {$settings->told($this->until)}",
            $this->since !== null => " since {$settings->told($this->since)}",
            $this->until !== null => " until {$settings->told($this->until)}",
            default => '',
        };
    }
}
