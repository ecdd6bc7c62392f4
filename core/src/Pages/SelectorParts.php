<?php

declare(strict_types=1);

namespace Pellix\Core\Pages;

/** A CSS selector taken apart at its commas and combinators (W3C Selectors Level 4, 3.1), each part as it is written. */
final class SelectorParts
{
    /**
     * @return list<non-empty-list<array{combinator: string, compound: string}>>|null alternatives, each from left to right; the first combinator is empty. Null for a text that is no selector
     */
    public static function of(string $selector): ?array
    {
        $alternatives = [];
        foreach (self::split($selector, ',') ?? [] as $alternative) {
            $parts = self::compounds(trim($alternative));
            if ($parts === null) {
                return null;
            }
            $alternatives[] = $parts;
        }

        return $alternatives === [] ? null : $alternatives;
    }

    /** @return non-empty-list<array{combinator: string, compound: string}>|null */
    private static function compounds(string $text): ?array
    {
        // White space around another combinator belongs to it.
        $parts = self::split((string) preg_replace('/\s+/', ' ', $text), ' >+~');
        $all = [];
        $combinator = '';
        foreach ($parts ?? [] as $i => $part) {
            if ($i % 2 === 1) {
                if ($part !== ' ') {
                    // Two in a row say nothing.
                    if (trim($combinator) !== '' || $all === []) {
                        return null;
                    }
                    $combinator = $part;
                } elseif ($combinator === '') {
                    $combinator = ' ';
                }
            } elseif ($part !== '') {
                $all[] = ['combinator' => $all === [] ? '' : $combinator, 'compound' => $part];
                $combinator = '';
            }
        }

        return $all === [] || trim($combinator) !== '' ? null : $all;
    }

    /**
     * A text split at characters that stand outside of brackets and quotes.
     *
     * @return list<string>|null with more than one character to split at, what it was split at stands in between; null where a bracket or quote stays open
     */
    private static function split(string $text, string $at): ?array
    {
        $parts = [''];
        $closing = [];
        for ($i = 0, $length = strlen($text); $i < $length; $i++) {
            $char = $text[$i];
            $inside = end($closing);
            if ($char === '\\') {
                $char .= $text[++$i] ?? '';
            } elseif ($inside === '"' || $inside === "'") {
                $char === $inside && array_pop($closing);
            } elseif ($char === '"' || $char === "'") {
                $closing[] = $char;
            } elseif ($char === '(' || $char === '[') {
                $closing[] = $char === '(' ? ')' : ']';
            } elseif ($char === $inside) {
                array_pop($closing);
            } elseif ($inside === false && str_contains($at, $char)) {
                strlen($at) > 1 && $parts[] = $char;
                $parts[] = '';
                continue;
            }
            $parts[count($parts) - 1] .= $char;
        }

        return $closing === [] ? $parts : null;
    }
}
