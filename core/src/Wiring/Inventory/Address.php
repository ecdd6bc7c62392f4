<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inventory;

use League\Uri\Contracts\UriException;
use League\Uri\Uri;

/** Addresses as an inventory keeps them: absolute, http or https, in one spelling, without a fragment. */
final class Address
{
    public const LONGEST = 2000;

    /**
     * The page that a reference leads to, or null where it leads to none.
     *
     * Resolved by RFC 3986, 5.2, and normalised by 6.2. What browsers escape by themselves, such as a space, is escaped first.
     */
    public static function resolve(string $reference, ?string $base = null): ?string
    {
        $reference = (string) preg_replace('/[\t\n\r]/', '', trim($reference, " \t\n\f\r"));
        $reference = (string) preg_replace_callback('/[\x00-\x20\x7f"<>\\\\^`{|}]/', static fn (array $m): string => rawurlencode($m[0]), $reference);
        try {
            $uri = $base === null ? Uri::new($reference) : Uri::new($base)->resolve($reference);
            if (! in_array($uri->getScheme(), ['http', 'https'], true) || ($uri->getHost() ?? '') === '' || $uri->getUserInfo() !== null) {
                return null;
            }
            $address = $uri->withFragment(null)->normalize()->toString();
        } catch (UriException) {
            return null;
        }

        return strlen($address) > self::LONGEST ? null : $address;
    }
}
