<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Sums;

use Pellix\Core\Audit\Reading\Keys;

/**
 * Numbers of visitors (or of what they did) by what they have in common, by the hour in which they came, and by variant: so many
 * of whom, when. A key is a dimension and a value, such as `browser␟safari`; `''` is everybody.
 */
final class Cohorts
{
    /** More keys than that are pruned: the smallest go. */
    private const MOST_KEYS = 1500;

    /** As well where there are more numbers than that, in a log of years. */
    private const MOST_CELLS = 300_000;

    /** Variants have the places 0 to 62; 63 is none. */
    public const NONE = 63;

    private const HOURS = 1 << 24;

    /** Of parts of the visitors only so many hours together are told apart: there are many parts. */
    public const STEP = 3;

    /** Whether even of everybody only `STEP` hours together are told apart: where everybody is a segment of others. */
    public bool $isCoarse = false;

    /** @var array<string, array<int, int>> key => (epoch · 2^24 + hour since 1970) · 64 + place of the variant => number */
    public array $of = [];

    /** @param list<string> $keys */
    public function add(array $keys, int $epoch, int $hour, int $variant, int $number = 1): void
    {
        $exact = ($epoch * self::HOURS + $hour << 6) + $variant;
        $coarse = $exact - ($hour % self::STEP << 6);
        foreach ($keys as $key) {
            $cell = $key === '' ? $exact : $coarse;
            if (isset($this->of[$key][$cell])) {
                $this->of[$key][$cell] += $number;
            } else {
                $this->of[$key][$cell] = $number;
            }
        }
    }

    /** @param int $sign see `Counts` */
    public function plus(self $other, int $sign = Counts::PLUS): void
    {
        $this->of = Counts::sum($this->of, $other->of, $sign);
    }

    /** To be called between the parts of a log, so that what is kept does not hang on the order of its lines. */
    public function prune(): void
    {
        foreach (Rarest::of(array_map(count(...), $this->of), $this->total(...), self::MOST_KEYS, self::MOST_CELLS) as $key) {
            unset($this->of[$key]);
        }
    }

    /** @return list<string> */
    public function keys(): array
    {
        return array_map(strval(...), array_keys($this->of));
    }

    public function total(string $key = ''): int
    {
        return array_sum($this->of[$key] ?? []);
    }

    /**
     * @return array<int, array<int, int>> epoch => place of the variant => number
     */
    public function byEpoch(string $key = ''): array
    {
        $found = [];
        foreach ($this->of[$key] ?? [] as $cell => $number) {
            $epoch = intdiv($cell >> 6, self::HOURS);
            $variant = $cell & 63;
            $found[$epoch][$variant] = ($found[$epoch][$variant] ?? 0) + $number;
        }
        ksort($found);

        return $found;
    }

    /** @return list<int> number of each of so many variants */
    public function byVariant(int $variants, string $key = ''): array
    {
        $found = array_fill(0, $variants, 0);
        foreach ($this->of[$key] ?? [] as $cell => $number) {
            if (($cell & 63) < $variants) {
                $found[$cell & 63] += $number;
            }
        }

        return array_values($found);
    }

    /** @return array<int, array{int, array<int, int>}> place in time => epoch, and variant => number; in the order of time */
    public function byHour(string $key = ''): array
    {
        $found = [];
        foreach ($this->of[$key] ?? [] as $cell => $number) {
            $at = $cell >> 6;
            $found[$at][$cell & 63] = ($found[$at][$cell & 63] ?? 0) + $number;
        }
        uksort($found, static fn (int $a, int $b): int => $a % self::HOURS <=> $b % self::HOURS ?: $a <=> $b);

        $hours = [];
        foreach ($found as $at => $numbers) {
            $hours[$at] = [intdiv($at, self::HOURS), $numbers];
        }

        return $hours;
    }

    /** @return array<int, int> hour since 1970 => number, of one variant or of all; in the order of time */
    public function hours(string $key = '', ?int $variant = null): array
    {
        $found = [];
        foreach ($this->of[$key] ?? [] as $cell => $number) {
            if ($variant === null || ($cell & 63) === $variant) {
                $hour = ($cell >> 6) % self::HOURS;
                $found[$hour] = ($found[$hour] ?? 0) + $number;
            }
        }
        ksort($found);

        return $found;
    }

    /** What came from a moment to another (milliseconds; null for open). */
    public function during(?int $since, ?int $until): self
    {
        $part = new self();
        foreach ($this->of as $key => $cells) {
            $part->of[(string) $key] = array_filter($cells, static function (int $cell) use ($since, $until): bool {
                $at = 3_600_000 * self::hour($cell >> 6);

                return ($since === null || $at >= $since) && ($until === null || $at < $until);
            }, ARRAY_FILTER_USE_KEY);
        }

        return $part;
    }

    /**
     * What came from a moment to another, of those alone who have a key: they are everybody then, and what they have in common beside
     * is known where two dimensions were counted together.
     *
     * @param string|null $key null for everybody
     */
    public function part(?int $since, ?int $until, ?string $key): self
    {
        $part = $since === null && $until === null ? clone $this : $this->during($since, $until);
        if ($key === null) {
            return $part;
        }
        $of = isset($part->of[$key]) ? ['' => $part->of[$key]] : [];
        [$dimension, $value] = Keys::parts($key);
        foreach ($part->of as $both => $cells) {
            $rest = Keys::beside((string) $both, $dimension, $value);
            if ($rest !== null) {
                $of[$rest] = $cells;
            }
        }
        $part->of = $of;
        $part->isCoarse = true;

        return $part;
    }

    /** How many hours a place in time of a key holds. */
    public static function hoursOf(string $key): int
    {
        return $key === '' ? 1 : self::STEP;
    }

    /** Hour since 1970 of a place in time of `byHour()`. */
    public static function hour(int $place): int
    {
        return $place % self::HOURS;
    }
}
