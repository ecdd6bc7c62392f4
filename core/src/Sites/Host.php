<?php

declare(strict_types=1);

namespace Pellix\Core\Sites;

/** A host as a person types it: the name alone, or an address that it stands in. */
final class Host
{
    /**
     * In lower case and without port; names of other scripts as browsers send them (A-labels, RFC 5890).
     *
     * @throws InvalidSite
     */
    public static function read(string $typed, string $field): string
    {
        $text = trim($typed);
        // An address that was copied from the browser's bar.
        $text = (string) preg_replace('~\Ahttps?://~i', '', $text);
        $text = (string) preg_replace('~[/?#].*\z~s', '', $text);
        if (str_contains($text, '@')) {
            throw new InvalidSite('This holds a user name. Type the host alone, such as www.larkhollow.example.', $field);
        }
        $text = rtrim((string) preg_replace('~:\d{1,5}\z~', '', $text), '.');
        $ascii = preg_match('/[^\x00-\x7f]/', $text) === 1 ? idn_to_ascii($text, IDNA_NONTRANSITIONAL_TO_ASCII | IDNA_USE_STD3_RULES, INTL_IDNA_VARIANT_UTS46) : $text;
        $host = is_string($ascii) ? strtolower($ascii) : '';
        // RFC 1123, section 2.1: labels of letters, digits and hyphens, 63 of them at most, 253 in all.
        if (preg_match('/\A(?=.{1,253}\z)[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?(\.[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?)*\z/', $host) !== 1) {
            throw new InvalidSite('This is no host. Type the name alone, such as www.larkhollow.example.', $field);
        }

        return $host;
    }
}
