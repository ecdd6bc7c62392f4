<?php

declare(strict_types=1);

namespace Pellix\Core\Formats;

/** Moments of long logs as whole microseconds since 1970. Minutes come again and again, so each is worked out once. */
final class Instants
{
    private const MOST_MINUTES = 50_000;

    /** @var array<string, int> minute as it is written => microseconds */
    private array $minutes = [];

    /** Null where the text is no RFC 3339 time. */
    public function of(string $time): ?int
    {
        $minute = substr($time, 0, 17);
        if (isset($this->minutes[$minute]) && strlen($time) === 24 && $time[23] === 'Z' && $time[19] === '.' && $time[17] < '6' && ctype_digit($digits = $time[17].$time[18].substr($time, 20, 3))) {
            return $this->minutes[$minute] + 1000 * (int) $digits;
        }
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
        }

        return $micros;
    }
}
