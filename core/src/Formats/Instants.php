<?php

declare(strict_types=1);

namespace Pellix\Core\Formats;

/** Moments of long logs as whole microseconds since 1970. Minutes come again and again, so each is worked out once. */
final class Instants
{
    private const MOST_MINUTES = 50_000;

    private const DIGITS = '0123456789';

    /** @var array<string, int> hour as it is written, with what parts it from the minute => microseconds */
    private array $hours = [];

    /** @var array<string, int> minute as it is written => microseconds */
    private array $minutes = [];

    /** Null where the text is no RFC 3339 time. */
    public function of(string $time): ?int
    {
        // As the runtime and most exports write it: `2026-03-02T14:05:06.789Z`.
        if (strlen($time) === 24 && $time[23] === 'Z' && $time[19] === '.' && $time[16] === ':' && strspn($time, self::DIGITS, 14) === 2 && strspn($time, self::DIGITS, 17) === 2 && strspn($time, self::DIGITS, 20) === 3
            && isset($this->hours[$hour = substr($time, 0, 14)])) {
            $minutes = (int) substr($time, 14, 2);
            $seconds = (int) substr($time, 17, 2);
            if ($minutes < 60 && $seconds < 60) {
                return $this->hours[$hour] + 60_000_000 * $minutes + 1_000_000 * $seconds + 1000 * (int) substr($time, 20, 3);
            }
        }
        $minute = substr($time, 0, 17);
        if (isset($this->minutes[$minute]) && preg_match('/\A([0-5]\d)(?:\.(\d{1,6}))?Z\z/', substr($time, 17), $m) === 1) {
            return $this->minutes[$minute] + 1_000_000 * (int) $m[1] + (isset($m[2]) ? (int) str_pad($m[2], 6, '0') : 0);
        }
        $moment = Moment::parse($time);
        if ($moment === null) {
            return null;
        }
        $micros = 1_000_000 * $moment->getTimestamp() + (int) $moment->format('u');
        if (preg_match('/:[0-5]\d(\.\d+)?Z\z/', $time) === 1) {
            if (count($this->minutes) >= self::MOST_MINUTES) {
                $this->minutes = [];
            }
            $this->minutes[$minute] = $micros - 1_000_000 * (int) $moment->format('s') - (int) $moment->format('u');
            if (count($this->hours) >= self::MOST_MINUTES) {
                $this->hours = [];
            }
            $this->hours[substr($time, 0, 14)] = $this->minutes[$minute] - 60_000_000 * (int) $moment->format('i');
        }

        return $micros;
    }
}
