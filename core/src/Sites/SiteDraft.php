<?php

declare(strict_types=1);

namespace Pellix\Core\Sites;

/** The settings of a site that are said when it is made, and changed later. */
final readonly class SiteDraft
{
    public const MOST_HOSTS = 20;

    /** Days that browsers keep a cookie at most (RFC 6265bis, section 5.6.1). */
    public const MOST_COOKIE_DAYS = 400;

    /**
     * @param list<string> $hosts         in lower case and without ports, the main one first
     * @param string       $timeZone      of the IANA database
     * @param string       $currency      three letters (ISO 4217)
     * @param int          $cookieDays    lifetime of the visitor cookie
     * @param int          $sessionMinutes idle time that ends a session
     * @param float        $srmAlpha      below it a sample ratio mismatch is told
     * @param int          $freshSeconds  older evidence is stale
     * @param bool         $twoPeople     whether code is published only once somebody else has agreed
     */
    private function __construct(
        public string $name,
        public array $hosts,
        public string $timeZone,
        public string $currency,
        public int $cookieDays,
        public int $sessionMinutes,
        public float $srmAlpha,
        public int $freshSeconds,
        public bool $twoPeople,
    ) {
    }

    /**
     * What is not said is as usual: 15 days for the cookie, 30 minutes for the session, 0.001 for the alarm (common practice, no source), a day of fresh evidence.
     *
     * @param array<string, mixed> $given
     *
     * @throws InvalidSite at the setting at fault
     */
    public static function read(array $given): self
    {
        $name = self::line($given['name'] ?? '', 'name');
        if ($name === '' || mb_strlen($name, 'UTF-8') > 80) {
            throw new InvalidSite('A site has a name of 1 to 80 characters.', 'name');
        }
        $typed = $given['hosts'] ?? [];
        if (! is_array($typed) || ! array_is_list($typed) || $typed === [] || count($typed) > self::MOST_HOSTS) {
            throw new InvalidSite('A site has 1 to '.self::MOST_HOSTS.' hosts.', 'hosts');
        }
        $hosts = [];
        foreach ($typed as $i => $one) {
            $host = Host::read(is_string($one) ? $one : '', "hosts.{$i}");
            if (in_array($host, $hosts, true)) {
                throw new InvalidSite("\"{$host}\" stands there twice.", "hosts.{$i}");
            }
            $hosts[] = $host;
        }
        $zone = $given['time_zone'] ?? null;
        if (! is_string($zone) || ! in_array($zone, \DateTimeZone::listIdentifiers(\DateTimeZone::ALL), true)) {
            throw new InvalidSite('Choose a time zone of the IANA database, such as Europe/Lisbon.', 'time_zone');
        }
        $currency = is_string($given['currency'] ?? null) ? strtoupper(trim($given['currency'])) : '';
        if (preg_match('/\A[A-Z]{3}\z/', $currency) !== 1) {
            throw new InvalidSite('A currency has three letters (ISO 4217), such as EUR.', 'currency');
        }
        $alpha = $given['srm_alpha'] ?? 0.001;
        if (! is_int($alpha) && ! is_float($alpha) || ! ($alpha >= 1e-9 && $alpha <= 0.05)) {
            throw new InvalidSite('The alarm level lies between 0.000000001 and 0.05; 0.001 is usual.', 'srm_alpha');
        }

        return new self(
            $name,
            $hosts,
            $zone,
            $currency,
            self::whole($given['cookie_days'] ?? 15, 'cookie_days', 1, self::MOST_COOKIE_DAYS, 'days'),
            self::whole($given['session_minutes'] ?? 30, 'session_minutes', 1, 1440, 'minutes'),
            (float) $alpha,
            self::whole($given['fresh_seconds'] ?? 86400, 'fresh_seconds', 3600, 30 * 86400, 'seconds (an hour to 30 days)'),
            ($given['two_people'] ?? false) === true,
        );
    }

    private static function line(mixed $value, string $field): string
    {
        if (! is_string($value) || ! mb_check_encoding($value, 'UTF-8')) {
            throw new InvalidSite('This is not text.', $field);
        }

        return trim((string) preg_replace('/[\p{C}\s]+/u', ' ', $value));
    }

    private static function whole(mixed $value, string $field, int $least, int $most, string $unit): int
    {
        if (! is_int($value) || $value < $least || $value > $most) {
            throw new InvalidSite("A whole number from {$least} to {$most} {$unit} is needed.", $field);
        }

        return $value;
    }
}
