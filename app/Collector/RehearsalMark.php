<?php

declare(strict_types=1);

namespace App\Collector;

/**
 * The mark of what a rehearsal sends, signed by this server, so that nobody else can claim it: `number.expires.signature`.
 * The signature is HMAC-SHA-256 (RFC 2104) over the site's key, the number and the time.
 */
final readonly class RehearsalMark
{
    private const SECONDS = 3600;

    private string $secret;

    /** @param string $key of the application */
    public function __construct(string $key)
    {
        $this->secret = hash_hkdf('sha256', $key === '' ? 'no key' : $key, 32, 'pellix rehearsal mark');
    }

    public function give(string $site, int $rehearsal, int $now): string
    {
        $expires = $now + self::SECONDS;

        return "{$rehearsal}.{$expires}.{$this->sign($site, (string) $rehearsal, (string) $expires)}";
    }

    /** The rehearsal that a mark is of; null where this server has not given it, or not lately, or not for this site. */
    public function read(string $mark, string $site, int $now): ?int
    {
        if (preg_match('/\A(\d{1,18})\.(\d{1,12})\.([A-Za-z0-9_-]{43})\z/', $mark, $m) !== 1 || (int) $m[2] < $now) {
            return null;
        }

        return hash_equals($this->sign($site, $m[1], $m[2]), $m[3]) ? (int) $m[1] : null;
    }

    private function sign(string $site, string $rehearsal, string $expires): string
    {
        return rtrim(strtr(base64_encode(hash_hmac('sha256', "{$site}|{$rehearsal}|{$expires}", $this->secret, true)), '+/', '-_'), '=');
    }
}
