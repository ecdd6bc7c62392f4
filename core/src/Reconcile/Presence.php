<?php

declare(strict_types=1);

namespace Pellix\Core\Reconcile;

/**
 * How many visitors were there, half hour by half hour, so that the distinct visitors of a day can be counted wherever days begin:
 * a visitor who was there in several half hours of a day counts as often as it was, less the pairs of half hours, one
 * after the other, that lie in the same day.
 */
final class Presence
{
    private const SLOT = 1_800_000;

    /** Half hours of the longest day, in which clocks are put back by one hour. */
    private const LONGEST_DAY = 50;

    /** @var array<string, array<int, int>> variant ('' for all) => half hour since 1970 => visitors */
    private array $slots = [];

    /** @var array<string, array<int, int>> variant => half hour · 64 + half hours to the next in which the same visitor was there => visitors */
    private array $pairs = [];

    public static function slot(int $milliseconds): int
    {
        return (int) floor($milliseconds / self::SLOT);
    }

    /** @return int milliseconds at which a half hour begins */
    public static function begin(int $slot): int
    {
        return $slot * self::SLOT;
    }

    /** @param list<int> $slots in which one visitor was there, each once, in the order of time */
    public function add(string $variant, array $slots): void
    {
        $last = null;
        foreach ($slots as $slot) {
            $this->slots[$variant][$slot] = ($this->slots[$variant][$slot] ?? 0) + 1;
            if ($last !== null && $slot - $last < self::LONGEST_DAY) {
                $pair = ($last << 6) + $slot - $last;
                $this->pairs[$variant][$pair] = ($this->pairs[$variant][$pair] ?? 0) + 1;
            }
            $last = $slot;
        }
    }

    public function plus(self $other): void
    {
        foreach ($other->slots as $variant => $slots) {
            foreach ($slots as $slot => $number) {
                $this->slots[(string) $variant][$slot] = ($this->slots[(string) $variant][$slot] ?? 0) + $number;
            }
        }
        foreach ($other->pairs as $variant => $pairs) {
            foreach ($pairs as $pair => $number) {
                $this->pairs[(string) $variant][$pair] = ($this->pairs[(string) $variant][$pair] ?? 0) + $number;
            }
        }
    }

    public function isEmpty(): bool
    {
        return $this->slots === [];
    }

    /**
     * @param callable(int): string $day of a half hour
     *
     * @return array<string, int> day => distinct visitors
     */
    public function days(string $variant, callable $day): array
    {
        $days = [];
        $of = [];
        foreach ($this->slots[$variant] ?? [] as $slot => $number) {
            $name = $of[$slot] = $day($slot);
            $days[$name] = ($days[$name] ?? 0) + $number;
        }
        foreach ($this->pairs[$variant] ?? [] as $pair => $number) {
            $name = $of[$pair >> 6];
            if ($of[($pair >> 6) + ($pair & 63)] === $name) {
                $days[$name] -= $number;
            }
        }

        return $days;
    }
}
