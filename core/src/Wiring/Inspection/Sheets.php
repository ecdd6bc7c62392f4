<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inspection;

use Pellix\Core\Wiring\Html\Node;

/** Tells for which style sheets scripts wait that come after them (WHATWG HTML, 4.2.6 and 4.2.7, "script-blocking style sheet"). */
final class Sheets
{
    /** @param Node $node a `link` or a `style` */
    public static function waitsFor(Node $node): bool
    {
        return self::isForScreens($node->attribute('media') ?? '') && self::isCss($node->attribute('type') ?? '')
            && ($node->name === 'link' ? self::isLoaded($node) : self::imports($node->text));
    }

    private static function isLoaded(Node $node): bool
    {
        $relations = preg_split('/[ \t\n\f\r]+/', strtolower($node->attribute('rel') ?? '')) ?: [];

        return in_array('stylesheet', $relations, true) && ! in_array('alternate', $relations, true)
            && $node->attribute('disabled') === null && trim($node->attribute('href') ?? '', " \t\n\f\r") !== '';
    }

    private static function isCss(string $type): bool
    {
        return $type === '' || strtolower(trim((string) strtok($type, ';'))) === 'text/css';
    }

    /** Whether a style sheet begins with an import of another one (CSS Cascading and Inheritance 5, 2). */
    private static function imports(string $css): bool
    {
        return preg_match('~\A(?:\s|/\*.*?\*/|<!--|-->|@charset\s[^;]*;|@layer\s[^;{]*;)*+@import(?:\s|/\*.*?\*/)*+(?:["\']|url\()(?!["\']?\s*["\')])~is', $css) === 1;
    }

    /** Whether a media query list may match some screen (Media Queries 4, 2); what it asks of a screen is not looked at. */
    private static function isForScreens(string $media): bool
    {
        if (trim($media) === '') {
            return true;
        }
        foreach (explode(',', strtolower($media)) as $query) {
            preg_match('/\A\s*(not|only)?\s*([a-z-]+)?/', $query, $m);
            $type = in_array($m[2] ?? '', ['', 'and', 'or'], true) ? 'all' : $m[2];
            $isPlain = preg_match('/\A\s*(?:not|only)?\s*[a-z-]+\s*\z/', $query) === 1;
            if (($m[1] ?? '') === 'not' ? ! (in_array($type, ['all', 'screen'], true) && $isPlain) : in_array($type, ['all', 'screen'], true)) {
                return true;
            }
        }

        return false;
    }
}
