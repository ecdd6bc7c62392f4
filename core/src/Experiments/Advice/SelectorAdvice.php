<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments\Advice;

/** Selectors that find nothing, more than one element, or that may find something else tomorrow. */
final class SelectorAdvice
{
    /**
     * @param list<PlacedChange> $changes
     *
     * @return list<Advice>
     */
    public static function of(array $changes, ?CopiedPage $page): array
    {
        $all = [];
        foreach ($changes as $placed) {
            $selectors = $placed->selectors();
            foreach ($selectors as $member => $selector) {
                array_push($all, ...self::judge($placed->field($member), $selector, $page));
            }
        }

        return $all;
    }

    /** @return list<Advice> */
    private static function judge(string $field, string $selector, ?CopiedPage $page): array
    {
        $all = [];
        $found = $page?->copy->find($selector);
        if ($found === []) {
            $all[] = new Advice(AdviceCode::SelectorNone, $field, "“{$selector}” finds nothing on {$page->url} as it was inspected. If a script of the page builds the element, it is found once it is there; if not, visitors will see no change.");
        } elseif ($found !== null && count($found) > 1 && str_ends_with($field, 'selector')) {
            $all[] = new Advice(AdviceCode::SelectorMany, $field, "“{$selector}” finds ".count($found).' elements: all of them change.');
        }
        $generated = self::generated($selector);
        if ($generated !== null) {
            $all[] = new Advice(AdviceCode::SelectorGenerated, $field, "“{$generated}” looks like a name that a program made up: it may be another one after the next release of the site. Look for a name that somebody gave.");
        }
        if (self::hangsOnPositions($selector)) {
            $all[] = new Advice(AdviceCode::SelectorPosition, $field, "“{$selector}” hangs on positions: as soon as something is put in before it, another element is meant. An id, a class or an attribute lasts longer.");
        }

        return $all;
    }

    /**
     * A class or id that reads like no word: digits among letters, or a stem with such an ending (common practice, no source).
     */
    private static function generated(string $selector): ?string
    {
        preg_match_all('/[.#]((?:[\w-]|\\\\.)+)/u', (string) preg_replace('/"[^"]*"|\'[^\']*\'/', '', $selector), $m);
        foreach ($m[0] as $i => $whole) {
            foreach (preg_split('/[-_]+/', $m[1][$i]) ?: [] as $part) {
                $digits = (int) preg_match_all('/\d/', $part);
                $isMixed = $digits > 0 && preg_match('/[a-z]\d+[a-z]|\d+[a-z]+\d|[A-Z]\d|\d[A-Z]/', $part) === 1 && strlen($part) >= 4;
                $isNumbered = preg_match('/\A[a-z]*\d{4,}\z/i', $part) === 1;
                $isScrambled = preg_match('/\A(?=.*[a-z])(?=.*[A-Z])(?=.*[A-Z].*[a-z].*[A-Z])[A-Za-z]{5,8}\z/', $part) === 1;
                $isConsonants = preg_match('/\A[bcdfghjklmnpqrstvwxz]{6,}\z/', $part) === 1;
                if ($isMixed || $isNumbered || $isScrambled || $isConsonants) {
                    return $whole;
                }
            }
        }

        return null;
    }

    /** A number in it, or a chain of elements without a name of their own (common practice, no source). */
    private static function hangsOnPositions(string $selector): bool
    {
        if (preg_match('/:nth-|:(?:first|last|only)-(?:child|of-type)/', $selector) === 1) {
            return true;
        }

        return preg_match('/(?:(?:^|[\s>+~])[a-z][a-z0-9]*\s*[>+~]\s*){3,}[a-z]/i', $selector) === 1;
    }
}
