<?php

declare(strict_types=1);

namespace App\Fetching;

/**
 * Addresses that lead to no public server. Source: IANA IPv4 and IPv6 Special-Purpose Address Registries (RFC 6890 and its
 * updates), every block of them, globally reachable or not; and multicast (RFC 5771, RFC 4291, 2.7).
 */
final class SpecialRanges
{
    private const BLOCKS = [
        '0.0.0.0/8', '10.0.0.0/8', '100.64.0.0/10', '127.0.0.0/8', '169.254.0.0/16', '172.16.0.0/12', '192.0.0.0/24', '192.0.2.0/24', '192.31.196.0/24', '192.52.193.0/24',
        '192.88.99.0/24', '192.168.0.0/16', '192.175.48.0/24', '198.18.0.0/15', '198.51.100.0/24', '203.0.113.0/24', '224.0.0.0/4', '240.0.0.0/4',
        '::/128', '::1/128', '::/96', '::ffff:0:0/96', '64:ff9b::/96', '64:ff9b:1::/48', '100::/64', '100:0:0:1::/64', '2001::/23', '2001:db8::/32', '2002::/16', '2620:4f:8000::/48',
        '3fff::/20', '5f00::/16', 'fc00::/7', 'fe80::/10', 'fec0::/10', 'ff00::/8',
    ];

    /** Whether an address, of IP version 4 or 6, is in one of them; what is no address is. */
    public static function contain(string $address): bool
    {
        $bytes = @inet_pton($address);
        if ($bytes === false) {
            return true;
        }
        foreach (self::BLOCKS as $block) {
            [$network, $bits] = explode('/', $block);
            $network = (string) inet_pton($network);
            if (strlen($network) === strlen($bytes) && self::begins($bytes, $network, (int) $bits)) {
                return true;
            }
        }

        return false;
    }

    private static function begins(string $bytes, string $network, int $bits): bool
    {
        $whole = intdiv($bits, 8);
        $rest = 0xFF << (8 - $bits % 8) & 0xFF;

        return strncmp($bytes, $network, $whole) === 0 && ($bits % 8 === 0 || (ord($bytes[$whole]) & $rest) === (ord($network[$whole]) & $rest));
    }
}
