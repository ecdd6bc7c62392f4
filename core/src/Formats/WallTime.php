<?php

declare(strict_types=1);

namespace Pellix\Core\Formats;

/**
 * A time as a clock on the wall of a time zone shows it. Where summer time skips it, the offset before the gap gives the moment;
 * where it comes twice, the first is meant: RFC 5545, 3.3.5 (form 3).
 */
final readonly class WallTime
{
    /** @param string|null $note what is to be said of it: that it does not exist, or comes twice */
    private function __construct(public \DateTimeImmutable $moment, public ?string $note)
    {
    }

    /**
     * @param string $text `2026-03-29T02:30`, with seconds or without
     *
     * @return self|null null where it is no such text
     */
    public static function read(string $text, \DateTimeZone $zone): ?self
    {
        if (preg_match('/\A(\d{4}-\d{2}-\d{2})T(\d{2}:\d{2})(:\d{2})?\z/', $text, $m) !== 1) {
            return null;
        }
        $shown = "{$m[1]} {$m[2]}".($m[3] ?? ':00');
        $plain = \DateTimeImmutable::createFromFormat('!Y-m-d H:i:s', $shown, new \DateTimeZone('UTC'));
        if ($plain === false || $plain->format('Y-m-d H:i:s') !== $shown) {
            return null;
        }
        $found = self::moments($plain, $zone);
        if ($found === []) {
            $moment = self::beforeGap($plain, $zone);

            return new self($moment, "{$m[2]} does not exist on that day in {$zone->getName()}: the clock jumps over it. It is taken as {$moment->setTimezone($zone)->format('H:i')}.");
        }
        $note = count($found) < 2 ? null : "{$m[2]} comes twice on that night in {$zone->getName()}: the clock is put back. The first of the two is meant.";

        return new self($found[0], $note);
    }

    /** @return list<\DateTimeImmutable> the moments at which the clock shows that, in their order */
    private static function moments(\DateTimeImmutable $plain, \DateTimeZone $zone): array
    {
        $found = [];
        foreach (self::offsets($plain, $zone) as $offset) {
            $moment = $plain->modify(-$offset.' seconds');
            if ($zone->getOffset($moment) === $offset) {
                $found[$moment->getTimestamp()] = $moment;
            }
        }
        ksort($found);

        return array_values($found);
    }

    private static function beforeGap(\DateTimeImmutable $plain, \DateTimeZone $zone): \DateTimeImmutable
    {
        return $plain->modify(-$zone->getOffset($plain->modify('-1 day')).' seconds');
    }

    /** @return list<int> the offsets from UTC, in seconds, of the days around it */
    private static function offsets(\DateTimeImmutable $plain, \DateTimeZone $zone): array
    {
        return array_values(array_unique([$zone->getOffset($plain->modify('-1 day')), $zone->getOffset($plain), $zone->getOffset($plain->modify('+1 day'))]));
    }
}
