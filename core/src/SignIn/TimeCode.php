<?php

declare(strict_types=1);

namespace Pellix\Core\SignIn;

/**
 * One-time codes from a shared secret and the time: TOTP (RFC 6238) over HOTP (RFC 4226), with steps of 30 seconds from the Unix epoch.
 * What authenticators do unless they are told otherwise is HMAC-SHA-1 and six digits.
 */
final readonly class TimeCode
{
    /** Length of a step, in seconds. */
    public const STEP = 30;

    /** Steps before and after the present one that count too: clocks differ, and people type slowly (RFC 6238, section 5.2). */
    public const DRIFT = 1;

    /** Bytes of a secret: as many as the hash has (RFC 4226, section 4, R6). */
    public const SECRET_BYTES = 20;

    /**
     * @param string $secret bytes, at least 16 (RFC 4226, section 4, R6)
     * @param int    $digits 6 to 8
     * @param string $hash   `sha1`, `sha256` or `sha512`
     *
     * @throws InvalidSecret
     */
    public function __construct(private string $secret, private int $digits = 6, private string $hash = 'sha1')
    {
        if (strlen($secret) < 16) {
            throw new InvalidSecret('The secret of one-time codes has at least 16 bytes.');
        }
        if ($digits < 6 || $digits > 8 || ! in_array($hash, ['sha1', 'sha256', 'sha512'], true)) {
            throw new InvalidSecret('One-time codes have 6 to 8 digits, and are made with sha1, sha256 or sha512.');
        }
    }

    /** Number of the step that a time is in. */
    public static function step(int $seconds): int
    {
        return intdiv($seconds, self::STEP);
    }

    public function at(int $step): string
    {
        // The truncation of RFC 4226, section 5.3.
        $mac = hash_hmac($this->hash, pack('J', $step), $this->secret, true);
        $offset = ord($mac[-1]) & 0x0F;
        /** @var array{1: int} $number */
        $number = unpack('N', substr($mac, $offset, 4));

        return str_pad((string) (($number[1] & 0x7FFFFFFF) % 10 ** $this->digits), $this->digits, '0', STR_PAD_LEFT);
    }

    /**
     * The step that a code is of; null where it is of none that counts now. A code counts once: whoever keeps the step that is returned
     * gives it as `$last` the next time (RFC 6238, section 5.2).
     *
     * @param int      $seconds now, Unix time
     * @param int|null $last    the newest step of which a code was taken
     */
    public function accepted(string $code, int $seconds, ?int $last = null): ?int
    {
        $found = null;
        // All are compared whatever the first ones say, so that time tells nothing.
        foreach (range(-self::DRIFT, self::DRIFT) as $drift) {
            $step = self::step($seconds) + $drift;
            if ($step >= 0 && hash_equals($this->at($step), $code) && ($last === null || $step > $last)) {
                $found = $step;
            }
        }

        return $found;
    }

    /**
     * The address that an authenticator reads from a picture: `otpauth://totp/…`. There is no standard for it; authenticators agree on it.
     *
     * @param string $issuer  who asks for the codes
     * @param string $account whose they are
     */
    public function address(string $issuer, string $account): string
    {
        $label = rawurlencode($issuer).':'.rawurlencode($account);

        return "otpauth://totp/{$label}?".http_build_query([
            'secret' => rtrim(Base32::encode($this->secret), '='), 'issuer' => $issuer, 'algorithm' => strtoupper($this->hash), 'digits' => $this->digits, 'period' => self::STEP,
        ], '', '&', PHP_QUERY_RFC3986);
    }
}
