<?php

declare(strict_types=1);

namespace Pellix\Core\Formats;

/** Moments in time as texts: RFC 3339 in and out, always UTC inside. */
final class Moment
{
    private const RFC3339 = '/\A(\d{4})-(\d\d)-(\d\d)[Tt ](\d\d):(\d\d):(\d\d)(\.\d{1,9})?([Zz]|[+-]\d\d:\d\d)\z/';

    private static ?\DateTimeZone $utc = null;

    /** Null where the text is not an RFC 3339 time, or names a day or an hour that does not exist. */
    public static function parse(string $text): ?\DateTimeImmutable
    {
        if (preg_match(self::RFC3339, $text, $m) !== 1
            || ! checkdate((int) $m[2], (int) $m[3], (int) $m[1])
            || (int) $m[4] > 23 || (int) $m[5] > 59 || (int) $m[6] > 60) {
            return null;
        }
        try {
            $utc = self::$utc ??= new \DateTimeZone('UTC');

            // A leap second (:60) is a legal RFC 3339 time; PHP rolls it over to the next minute. To have PHP look up what “Z”
            // means takes ten times as long as all the rest.
            return strtoupper($m[8]) === 'Z' ? new \DateTimeImmutable(substr($text, 0, -1), $utc) : (new \DateTimeImmutable($text))->setTimezone($utc);
        } catch (\Exception) {
            return null;
        }
    }

    /** `2026-03-02T00:00:00.000Z` */
    public static function format(\DateTimeInterface $moment): string
    {
        return \DateTimeImmutable::createFromInterface($moment)->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s.v\Z');
    }
}
