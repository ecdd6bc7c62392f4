<?php

declare(strict_types=1);

namespace Pellix\Core\Internal;

/** Internet addresses that begin alike, in the notation of RFC 4632 (IPv4) and RFC 4291 (IPv6): `192.0.2.0/24`, `2001:db8::/32`, or one address. */
final readonly class AddressRange
{
    /** A range that takes in more than this would leave out whole countries' visitors, which nobody means. */
    private const SHORTEST = [4 => 8, 16 => 19];

    /** @param string $network in network byte order, 4 or 16 bytes, with nothing set beyond the prefix */
    private function __construct(private string $network, private int $prefix)
    {
    }

    /**
     * Bits beyond the prefix may be set, as people copy them: `192.0.2.7/24` is 192.0.2.0/24.
     *
     * @throws InvalidInternal
     */
    public static function read(string $typed, string $field): self
    {
        $parts = explode('/', trim($typed), 2);
        $address = $parts[0];
        $length = $parts[1] ?? null;
        $bytes = self::bytes($address);
        if ($bytes === null || ($length !== null && preg_match('/\A(?:0|[1-9]\d{0,2})\z/', $length) !== 1)) {
            throw new InvalidInternal('This is no address and no range. Write one as 192.0.2.7, 192.0.2.0/24 or 2001:db8::/48.', $field);
        }
        $size = strlen($bytes);
        $prefix = (int) ($length ?? 8 * $size);
        // A range of IPv4 that is written as IPv6 (RFC 4291, section 2.5.5.2).
        $prefix -= $length !== null && $size === 4 && str_contains($address, ':') ? 96 : 0;
        if ($prefix > 8 * $size) {
            throw new InvalidInternal('The prefix is longer than the address: '.(8 * $size).' bits at most.', $field);
        }
        if ($prefix < self::SHORTEST[$size]) {
            throw new InvalidInternal('This range would leave out whole countries; its prefix has at least '.self::SHORTEST[$size].' bits.', $field);
        }

        return new self($bytes & self::mask($prefix, $size), $prefix);
    }

    /** @param string $address in text; what is none lies in no range */
    public function contains(string $address): bool
    {
        $bytes = self::bytes($address);

        return $bytes !== null && strlen($bytes) === strlen($this->network) && ($bytes & self::mask($this->prefix, strlen($bytes))) === $this->network;
    }

    public function text(): string
    {
        return inet_ntop($this->network).($this->prefix === 8 * strlen($this->network) ? '' : "/{$this->prefix}");
    }

    /** An IPv4 address that came as IPv6 (`::ffff:192.0.2.7`) is the IPv4 address. */
    private static function bytes(string $address): ?string
    {
        if (preg_match('/\A[0-9A-Fa-f:.]{2,45}\z/', $address) !== 1) {
            return null;
        }
        $bytes = @inet_pton($address);
        if ($bytes === false) {
            return null;
        }

        return strlen($bytes) === 16 && str_starts_with($bytes, "\0\0\0\0\0\0\0\0\0\0\xff\xff") ? substr($bytes, 12) : $bytes;
    }

    private static function mask(int $prefix, int $size): string
    {
        $rest = $prefix % 8;

        return str_pad(str_repeat("\xff", intdiv($prefix, 8)).($rest === 0 ? '' : chr(0xff << (8 - $rest) & 0xff)), $size, "\0");
    }
}
