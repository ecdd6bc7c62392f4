<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inventory;

use Pellix\Core\Wiring\Html\Node;
use Pellix\Core\Wiring\Html\PageReader;

/** Where a page leads: its links, in the order of the text. */
final class Links
{
    /**
     * @param string $html UTF-8
     * @param string $url  the page's own absolute address
     *
     * @return array<string, Node> absolute address => the first link that leads there
     */
    public static function on(string $html, string $url): array
    {
        $found = [];
        $base = $url;
        $hasBase = false;
        foreach (PageReader::nodes($html) as $node) {
            if ($node->inside !== null) {
                continue;
            }
            $href = $node->attribute('href');
            if ($node->name === 'base' && ! $hasBase && $href !== null) {
                // Only the first base counts (WHATWG HTML, 4.2.3).
                [$base, $hasBase] = [Address::resolve($href, $url) ?? $url, true];
            } elseif (in_array($node->name, ['a', 'area'], true) && $href !== null) {
                $address = Address::resolve($href, $base);
                if ($address !== null) {
                    $found[$address] ??= $node;
                }
            }
        }

        return $found;
    }

    /** Whether the page asks crawlers not to follow its links (the robots meta tag). */
    public static function areForbidden(string $html): bool
    {
        foreach (PageReader::nodes($html) as $node) {
            if ($node->name === 'meta' && strtolower($node->attribute('name') ?? '') === 'robots' && preg_match('/\b(nofollow|none)\b/i', $node->attribute('content') ?? '') === 1) {
                return true;
            }
        }

        return false;
    }
}
