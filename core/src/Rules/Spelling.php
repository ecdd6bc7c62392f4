<?php

declare(strict_types=1);

namespace Pellix\Core\Rules;

/** Brings texts that mean the same into one spelling before they are compared. runtime/src/rules.ts does the same. */
final class Spelling
{
    public const IGNORABLE = ['case', 'slash'];

    /**
     * A path in the spelling of RFC 3986, 6.2.2.1 and 6.2.2.2: escapes in upper case, unreserved characters plain; and what
     * may not stand in a path unescaped (a space, brackets, letters that are not ASCII) escaped as UTF-8.
     */
    public static function path(string $path): string
    {
        if (preg_match('/[%\x00-\x20\x7f-\xff"<>\\\\\[\]^`{|}]/', $path) !== 1) {
            return $path;
        }
        $path = (string) preg_replace_callback('/[\x00-\x20\x7f-\xff"<>\\\\\[\]^`{|}]/', static fn (array $m): string => rawurlencode($m[0]), $path);

        return (string) preg_replace_callback('/%([0-9A-Fa-f]{2})/', static function (array $m): string {
            $character = chr((int) hexdec($m[1]));

            return preg_match('/[A-Za-z0-9._~-]/', $character) === 1 ? $character : '%'.strtoupper($m[1]);
        }, $path);
    }

    /** @param list<string> $ignored of IGNORABLE */
    public static function ignoring(array $ignored, string $text): string
    {
        // ASCII only, as in the browser: other letters have cases that depend on the language.
        $text = in_array('case', $ignored, true) ? strtolower($text) : $text;

        return in_array('slash', $ignored, true) && strlen($text) > 1 ? rtrim($text, '/') ?: '/' : $text;
    }
}
