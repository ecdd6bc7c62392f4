<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Shapes;

use Pellix\Core\Audit\Reading\Keys;

/** A stretch of time in which fewer events of a kind arrived than was to be expected. */
final readonly class Gap
{
    /**
     * @param string    $key      what arrived less; '' for everything
     * @param int|null  $since    milliseconds
     * @param int|null  $until    null where it lasts to the end of the log
     * @param int       $observed events
     * @param float     $expected
     * @param float     $logP     ln p, with the choice of what and when reckoned in
     * @param float     $score    how clear it is: deviance over dispersion
     * @param list<self> $others  less fitting descriptions of the same
     */
    public function __construct(
        public string $key,
        public ?int $since,
        public ?int $until,
        public int $observed,
        public float $expected,
        public float $logP,
        public float $score,
        public float $dispersion,
        public array $others = [],
    ) {
    }

    /** @param list<self> $others */
    public function with(array $others): self
    {
        return new self($this->key, $this->since, $this->until, $this->observed, $this->expected, $this->logP, $this->score, $this->dispersion, $others);
    }

    /** Whether an hour since 1970 begins within it. */
    public function holds(int $hour): bool
    {
        return 3_600_000 * $hour >= ($this->since ?? 0) && 3_600_000 * $hour < ($this->until ?? PHP_INT_MAX);
    }

    public function isSilence(): bool
    {
        return $this->observed === 0 || $this->observed < 0.02 * $this->expected;
    }

    /** A page alone, or what was sent from it. */
    public function isPage(): bool
    {
        return in_array('page', explode('+', Keys::parts($this->key)[0]), true);
    }

    /** Whether the larger part of the shorter of both lies within the other. */
    public function overlaps(self $other): bool
    {
        [$from, $to] = [max($this->since ?? 0, $other->since ?? 0), min($this->until ?? PHP_INT_MAX, $other->until ?? PHP_INT_MAX)];
        $length = static fn (self $one): int => ($one->until ?? PHP_INT_MAX) - ($one->since ?? 0);

        return $to - $from > 0.5 * min($length($this), $length($other));
    }

    /** @return array<string, string> dimension => value */
    public function parts(): array
    {
        [$dimension, $value] = Keys::parts($this->key);
        if ($dimension === '') {
            return [];
        }
        $dimensions = explode('+', $dimension);
        // The first value is an event, a browser or a device, which has no plus in it.
        $values = count($dimensions) === 1 ? [$value] : explode('+', $value, 2);

        return array_combine($dimensions, $values);
    }

    public function where(): Where
    {
        $parts = $this->parts();
        $segment = array_diff_key($parts, ['event' => 0, 'page' => 0, 'variant' => 0]);

        return new Where(
            $parts['variant'] ?? null,
            $parts['event'] ?? null,
            $parts['page'] ?? null,
            $segment === [] ? null : ['dimension' => implode('+', array_keys($segment)), 'value' => implode('+', $segment)],
            $this->since,
            $this->until,
        );
    }
}
