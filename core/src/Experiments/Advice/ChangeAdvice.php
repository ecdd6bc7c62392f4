<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments\Advice;

use DOMElement;
use Pellix\Core\Experiments\ChangeKind;
use Pellix\Core\Pages\PageCopy;
use Pellix\Core\Pages\SheetDeclaration;
use Pellix\Core\Pages\SheetRules;

/** Changes that would not be seen: they change nothing, only a text, or lose to the page's own style sheets. */
final class ChangeAdvice
{
    /** So many of the elements that a selector finds are looked at. */
    private const LOOKED_AT = 5;

    /**
     * @param list<PlacedChange> $changes
     *
     * @return list<Advice>
     */
    public static function of(array $changes, CopiedPage $page): array
    {
        $all = [];
        foreach ($changes as $placed) {
            $found = $placed->change->selector === null ? [] : array_slice($page->copy->find($placed->change->selector) ?? [], 0, self::LOOKED_AT);
            $advice = match ($placed->change->kind) {
                ChangeKind::Sheet => self::sheet($placed, $page),
                default => $found === [] ? null : self::noEffect($placed, $found) ?? self::onlyText($placed, $found) ?? self::style($placed, $found, $page),
            };
            if ($advice !== null) {
                $all[] = $advice;
            }
        }

        return $all;
    }

    /** @param non-empty-list<DOMElement> $found */
    private static function noEffect(PlacedChange $placed, array $found): ?Advice
    {
        foreach ($found as $element) {
            if (! self::isThere($placed, $element)) {
                return null;
            }
        }
        $member = $placed->change->kind->members()[0] ?? 'selector';

        return new Advice(AdviceCode::NoEffect, $placed->field($member), 'The page has this already: the change changes nothing.');
    }

    private static function isThere(PlacedChange $placed, DOMElement $element): bool
    {
        $change = $placed->change;

        return match ($placed->change->kind) {
            ChangeKind::Text => $element->childElementCount === 0 && PageCopy::text($element) === trim((string) preg_replace('/\s+/u', ' ', $change->text('value'))),
            ChangeKind::Html => PageCopy::inside($element) === PageCopy::spelled($change->text('value')),
            ChangeKind::Attribute => ($element->hasAttribute($change->text('attribute')) ? $element->getAttribute($change->text('attribute')) : null) === $change->toArray()['value'],
            ChangeKind::Classes => array_diff($change->names('add'), self::classes($element)) === [] && array_intersect($change->names('remove'), self::classes($element)) === [],
            ChangeKind::Style => self::ownStyle($element, $change->text('property')) === strtolower(trim($change->text('value'))),
            ChangeKind::Hide => self::ownStyle($element, 'display') === 'none',
            default => false,
        };
    }

    /** @param non-empty-list<DOMElement> $found */
    private static function onlyText(PlacedChange $placed, array $found): ?Advice
    {
        if ($placed->change->kind !== ChangeKind::Html) {
            return null;
        }
        $tags = static fn (string $html): string => (string) preg_replace('/(^|>)[^<]+/', '$1', $html);
        $wanted = $tags(PageCopy::spelled($placed->change->text('value')));
        foreach ($found as $element) {
            if ($tags(PageCopy::inside($element)) !== $wanted) {
                return null;
            }
        }

        return new Advice(AdviceCode::OnlyText, $placed->field('value'), $wanted === ''
            ? 'There is nothing but text in it, and in the page. A change of the kind “Text” says the same and cannot break the page.'
            : 'It differs from the page only in text. Changes of the kind “Text”, of the elements inside, keep what the page itself has bound to them.');
    }

    /**
     * The runtime writes a style with priority into the element itself, which no style sheet outdoes (CSS Cascading and
     * Inheritance 5, 6.1). What is inside has it by inheritance alone, and there any rule of the page wins.
     *
     * @param non-empty-list<DOMElement> $found
     */
    private static function style(PlacedChange $placed, array $found, CopiedPage $page): ?Advice
    {
        $property = $placed->change->text('property');
        if ($placed->change->kind !== ChangeKind::Style || ! SheetDeclaration::isInherited($property)) {
            return null;
        }
        foreach ($page->sheets as $declaration) {
            if (! $declaration->sets($property) || $declaration->value === 'inherit') {
                continue;
            }
            foreach ($page->copy->find($declaration->selector) ?? [] as $inner) {
                if (self::holdsText($inner) && self::isInsideOf($inner, $found)) {
                    return new Advice(AdviceCode::StyleLoses, $placed->field('property'), "The text is inside of “{$inner->nodeName}”, to which the page gives a {$property} of its own: {$declaration->words()}. There this change is not seen; change that element instead.");
                }
            }
        }

        return null;
    }

    private static function sheet(PlacedChange $placed, CopiedPage $page): ?Advice
    {
        foreach (SheetRules::read($placed->change->text('value'), 'this change')->all as $own) {
            foreach (array_slice($page->copy->find($own->selector) ?? [], 0, self::LOOKED_AT) as $element) {
                $stronger = self::stronger($own, $element, $page);
                if ($stronger !== null) {
                    return new Advice(AdviceCode::StyleLoses, $placed->field('value'), "“{$own->selector} { {$own->property}: {$own->value} }” in line {$own->line} loses to {$stronger}. Make its selector more specific, or add !important.");
                }
            }
        }

        return null;
    }

    /** What outdoes a declaration on an element, in words: priority first, then specificity; of equals the later one wins, which is ours. */
    private static function stronger(SheetDeclaration $own, DOMElement $element, CopiedPage $page): ?string
    {
        if (! $own->isImportant && self::ownStyle($element, $own->property) !== null) {
            return 'the style that the element itself has in the page';
        }
        foreach ($page->sheets as $theirs) {
            $wins = $theirs->isImportant === $own->isImportant ? $theirs->specificity > $own->specificity : $theirs->isImportant;
            if ($wins && $theirs->sets($own->property) && $theirs->value !== $own->value && $page->copy->matches($element, $theirs->selector)) {
                return $theirs->words();
            }
        }

        return null;
    }

    private static function holdsText(DOMElement $element): bool
    {
        foreach ($element->childNodes as $child) {
            if ($child->nodeType === XML_TEXT_NODE && trim((string) $child->nodeValue) !== '') {
                return true;
            }
        }

        return false;
    }

    /** @param list<DOMElement> $outer */
    private static function isInsideOf(DOMElement $element, array $outer): bool
    {
        for ($around = $element->parentNode; $around !== null; $around = $around->parentNode) {
            if (in_array($around, $outer, true)) {
                return true;
            }
        }

        return false;
    }

    /** @return list<string> */
    private static function classes(DOMElement $element): array
    {
        return preg_split('/\s+/', trim($element->getAttribute('class'))) ?: [];
    }

    /** The value of a property in an element's own style attribute; null where it is not there. */
    private static function ownStyle(DOMElement $element, string $property): ?string
    {
        foreach (explode(';', $element->getAttribute('style')) as $declaration) {
            [$name, $value] = explode(':', $declaration, 2) + ['', ''];
            if (strtolower(trim($name)) === $property) {
                return strtolower(trim((string) preg_replace('/!\s*important/i', '', $value)));
            }
        }

        return null;
    }
}
