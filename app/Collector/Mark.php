<?php

declare(strict_types=1);

namespace App\Collector;

/**
 * The mark of what a rehearsal or a preview sends, signed by this server, so that nobody else can claim it: `number.expires.signature`.
 * The signature is HMAC-SHA-256 (RFC 2104) over the site's number, the number and the time, with a key of its own for each kind.
 */
final readonly class Mark
{
    private string $secret;

    /** @param string $key of the application */
    public function __construct(private Apart $kind, string $key)
    {
        $this->secret = hash_hkdf('sha256', $key === '' ? 'no key' : $key, 32, "pellix {$kind->value} mark");
    }

    /** @param int $number of the rehearsal, or of the link */
    public function give(int $site, int $number, int $now): string
    {
        $expires = $now + $this->kind->seconds();

        return "{$number}.{$expires}.{$this->sign($site, (string) $number, (string) $expires)}";
    }

    /** The number that a mark is of; null where this server has not given it, or not lately, or not for this site. */
    public function read(string $mark, int $site, int $now): ?int
    {
        if (preg_match('/\A(\d{1,18})\.(\d{1,12})\.([A-Za-z0-9_-]{43})\z/', $mark, $m) !== 1 || (int) $m[2] < $now) {
            return null;
        }

        return hash_equals($this->sign($site, $m[1], $m[2]), $m[3]) ? (int) $m[1] : null;
    }

    private function sign(int $site, string $number, string $expires): string
    {
        return rtrim(strtr(base64_encode(hash_hmac('sha256', "{$site}|{$number}|{$expires}", $this->secret, true)), '+/', '-_'), '=');
    }
}
