<?php

declare(strict_types=1);

namespace Pellix\Core\SignIn;

/** Base 32 as in RFC 4648, section 6: how a secret is shown to a person, and given to an authenticator. */
final class Base32
{
    private const ALPHABET = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567';

    /** With the padding that the standard has; authenticators are given it without. */
    public static function encode(string $bytes): string
    {
        $text = '';
        foreach ($bytes === '' ? [] : str_split($bytes, 5) as $five) {
            $bits = '';
            foreach (str_split($five) as $byte) {
                $bits .= str_pad(decbin(ord($byte)), 8, '0', STR_PAD_LEFT);
            }
            $letters = '';
            foreach (str_split($bits, 5) as $group) {
                $letters .= self::ALPHABET[(int) bindec(str_pad($group, 5, '0'))];
            }
            $text .= str_pad($letters, 8, '=');
        }

        return $text;
    }

    /**
     * Small letters and spaces are taken as people type them; padding may be missing.
     *
     * @return string|null null for what is no base 32: another character, a length that no bytes have, or bits left over that are not zero
     */
    public static function decode(string $text): ?string
    {
        $letters = rtrim(strtoupper(str_replace([' ', '-'], '', $text)), '=');
        if ($letters === '') {
            return '';
        }
        if (strspn($letters, self::ALPHABET) !== strlen($letters) || in_array(strlen($letters) % 8, [1, 3, 6], true)) {
            return null;
        }
        $bits = '';
        foreach (str_split($letters) as $letter) {
            $bits .= str_pad(decbin((int) strpos(self::ALPHABET, $letter)), 5, '0', STR_PAD_LEFT);
        }
        $whole = intdiv(strlen($bits), 8) * 8;
        if (trim(substr($bits, $whole), '0') !== '') {
            return null;
        }

        return implode('', array_map(static fn (string $byte): string => chr((int) bindec($byte)), str_split(substr($bits, 0, $whole), 8)));
    }
}
