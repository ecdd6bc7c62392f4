<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

/**
 * Which of several declarations of one property an element gets. Source: CSS Cascading and Inheritance Level 5, 6.1: origin and
 * importance, element-attached styles, layers, specificity, order of appearance. Scopes and shadow trees are not told apart.
 */
final class Cascade
{
    /** Of what is normal: the higher, the stronger. Of what is important, the other way round. */
    private const ORIGINS = ['user-agent' => 1, 'user' => 2, 'author' => 3];

    /**
     * @param list<Declaration> $declarations of one property
     */
    public static function winner(array $declarations): ?Declaration
    {
        $winner = null;
        foreach ($declarations as $one) {
            if ($winner === null || self::rank($one) >= self::rank($winner)) {
                $winner = $one;
            }
        }

        return $winner;
    }

    /**
     * What would have to be written for the loser to win.
     */
    public static function advice(Declaration $loser, Declaration $winner): string
    {
        $written = "{$loser->property}: {$loser->value}";
        if ($winner->isInline() && $winner->important) {
            return "No rule can outrank a style attribute with !important. Use a change of the kind style for {$loser->property}: it takes that attribute's place.";
        }
        if ($winner->isInline()) {
            return "Write “{$written} !important”, or use a change of the kind style: a style attribute outranks rules that are not important.";
        }
        $stronger = $loser->selector === '' || $loser->specificity > $winner->specificity ? $loser->selector : self::stronger($winner->selector);
        if ($winner->important) {
            return ($winner->layer !== null
                ? 'An important rule within a layer outranks those outside of layers: '
                : "Write “{$stronger} { {$written} !important }”, or ")
                .'use a change of the kind style, which is set on the element itself with !important.';
        }

        return "Write “{$stronger} { {$written} }”, or “{$written} !important”, or use a change of the kind style.";
    }

    /** A selector for the same elements that is more specific by a type or more. Source: Selectors Level 4, 15. */
    private static function stronger(string $selector): string
    {
        return preg_match('/\A(?:html|:root)\b/', $selector) === 1 ? "{$selector}:not(#_)" : "html {$selector}";
    }

    /** @return list<int> to be compared from the first to the last */
    private static function rank(Declaration $one): array
    {
        $origin = self::ORIGINS[$one->origin];
        // Outside of layers is the strongest layer of what is normal, and the weakest of what is important.
        $layer = $one->layer ?? PHP_INT_MAX;

        return [
            $one->important ? 10 - $origin : $origin,
            $one->isInline() ? 1 : 0,
            $one->important ? -$layer : $layer,
            ...$one->specificity,
            $one->order,
        ];
    }
}
