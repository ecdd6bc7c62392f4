<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

/** What code in changes may hold: a variant must not make visitors' browsers call hosts that nobody declared. */
final class ChangeCode
{
    /** Whether a piece of CSS would load something, or hides what it is behind an escape. */
    public static function loads(string $css): bool
    {
        return preg_match('/url\s*\(|image-set\s*\(|image\s*\(|src\s*\(|\\\\/i', $css) === 1;
    }

    /** An address that a browser runs rather than goes to. Browsers pass over control characters in it (WHATWG URL, basic URL parser). */
    public static function isCodeAddress(string $value): bool
    {
        return preg_match('/\A(javascript|vbscript|data):/i', (string) preg_replace('/[\x00-\x20]+/', '', $value)) === 1;
    }

    /**
     * A style sheet that is whole, and loads nothing.
     *
     * @throws InvalidExperiment
     */
    public static function sheet(string $css): string
    {
        $bare = (string) preg_replace('~/\*.*?(\*/|\z)~s', ' ', $css);
        if (self::loads($bare) || preg_match('/@import/i', $bare) === 1) {
            throw new InvalidExperiment('A style sheet of a variant loads nothing: @import, url(), src(), image-set() and escapes are not taken.', 'value');
        }
        if (str_contains($css, '<')) {
            throw new InvalidExperiment('A style sheet holds no "<".', 'value');
        }
        $depth = 0;
        // Texts in quotes may hold braces.
        foreach (str_split((string) preg_replace('/"[^"\n]*"|\'[^\'\n]*\'/', '', $bare)) as $character) {
            $depth += $character === '{' ? 1 : ($character === '}' ? -1 : 0);
            if ($depth < 0) {
                throw new InvalidExperiment('A brace closes what none has opened.', 'value');
            }
        }
        if ($depth > 0 || substr_count($css, '/*') > substr_count($css, '*/')) {
            throw new InvalidExperiment('Something that opens here is never closed: a brace or a comment.', 'value');
        }

        return $css;
    }
}
