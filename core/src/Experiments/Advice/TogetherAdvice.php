<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments\Advice;

use DOMElement;
use Pellix\Core\Experiments\ChangeKind;
use Pellix\Core\Experiments\Experiment;

/** Changes that get into each other's way, in one variant or in two experiments, and variants that hold more than one idea. */
final class TogetherAdvice
{
    /** A variant that touches so many parts of a page holds several ideas (common practice, no source). */
    private const MANY_PARTS = 3;

    /** The same, by selectors, where there is no copy of the page to look at. */
    private const MANY_SELECTORS = 6;

    private const PARTS = ['header', 'nav', 'section', 'article', 'aside', 'form', 'footer'];

    /**
     * @param list<PlacedChange> $changes
     * @param array<int, string> $names   of the variants
     *
     * @return list<Advice>
     */
    public static function inVariants(array $changes, array $names, ?CopiedPage $page): array
    {
        $all = [];
        $byVariant = [];
        foreach ($changes as $placed) {
            $byVariant[$placed->variant][] = $placed;
        }
        foreach ($byVariant as $variant => $own) {
            foreach ($own as $n => $second) {
                foreach (array_slice($own, 0, $n) as $first) {
                    $advice = self::pair($first, $second, $page);
                    if ($advice !== null) {
                        $all[] = $advice;
                        continue 2;
                    }
                }
            }
            $parts = self::parts($own, $page);
            if (count($parts) >= ($page === null ? self::MANY_SELECTORS : self::MANY_PARTS)) {
                $all[] = new Advice(AdviceCode::MixedIdeas, "variants.{$variant}.changes", '“'.($names[$variant] ?? '').'” changes '.count($parts).' parts of the page ('.implode(', ', array_slice($parts, 0, 4)).(count($parts) > 4 ? ', …' : '').'). If it does better, you will not know which of them did it.');
            }
        }

        return $all;
    }

    /**
     * @param list<PlacedChange> $changes
     * @param list<Experiment>   $others those that run
     * @param array<string, string> $shared experiment key => address of a known page that both are for
     *
     * @return list<Advice>
     */
    public static function withOthers(array $changes, array $others, array $shared, ?CopiedPage $page): array
    {
        $all = [];
        foreach ($others as $other) {
            $where = $shared[$other->key] ?? null;
            if ($where === null) {
                continue;
            }
            foreach ($changes as $placed) {
                foreach ($other->variants as $variant) {
                    foreach ($variant->made() as $theirs) {
                        if ($theirs->selector !== null && $placed->change->selector !== null && self::meet($placed->change->selector, $theirs->selector, $page)) {
                            $all[] = new Advice(AdviceCode::OtherExperiment, $placed->field(), "“{$other->name}”, which runs, changes this element, too (“{$theirs->selector}”), on {$where}, which both are for. Whoever is in both sees a mixture; put them into one group, or wait.");
                            continue 4;
                        }
                    }
                }
            }
        }

        return $all;
    }

    private static function pair(PlacedChange $first, PlacedChange $second, ?CopiedPage $page): ?Advice
    {
        [$one, $two] = [$first->change->selector, $second->change->selector];
        if ($one === null || $two === null) {
            return null;
        }
        $earlier = 'change '.($first->number + 1);
        if (self::meet($one, $two, $page)) {
            $destroys = in_array($first->change->kind, [ChangeKind::Remove, ChangeKind::Hide], true) || $first->aspect() === $second->aspect();

            return $destroys
                ? new Advice(AdviceCode::Overrides, $second->field(), "It touches the same element as {$earlier} (“{$one}”), and the same of it: only one of the two can be seen.")
                : new Advice(AdviceCode::SameElement, $second->field(), "It touches the same element as {$earlier} (“{$one}”). If that is meant, all is well.");
        }
        if ($first->aspect() === 'content' && $page !== null && self::contains($page->copy->find($one) ?? [], $page->copy->find($two) ?? [])) {
            return new Advice(AdviceCode::Overrides, $second->field(), "The element is inside of “{$one}”, whose content {$earlier} replaces: it is gone before this change is made.");
        }

        return null;
    }

    private static function meet(string $one, string $two, ?CopiedPage $page): bool
    {
        if (trim($one) === trim($two)) {
            return true;
        }
        $found = $page?->copy->find($two) ?? [];
        foreach ($page?->copy->find($one) ?? [] as $element) {
            if (in_array($element, $found, true)) {
                return true;
            }
        }

        return false;
    }

    /**
     * @param list<DOMElement> $outer
     * @param list<DOMElement> $inner
     */
    private static function contains(array $outer, array $inner): bool
    {
        foreach ($inner as $element) {
            for ($around = $element->parentNode; $around !== null; $around = $around->parentNode) {
                if (in_array($around, $outer, true)) {
                    return true;
                }
            }
        }

        return false;
    }

    /**
     * @param list<PlacedChange> $changes
     *
     * @return list<string> the parts of the page that they touch; the selectors, where there is no copy
     */
    private static function parts(array $changes, ?CopiedPage $page): array
    {
        $parts = [];
        foreach ($changes as $placed) {
            $selector = $placed->change->selector;
            if ($selector === null) {
                continue;
            }
            $element = ($page?->copy->find($selector) ?? [])[0] ?? null;
            if ($page === null) {
                $parts[$selector] = $selector;
            } elseif ($element !== null) {
                $part = self::partOf($element);
                $parts[$part?->getNodePath() ?? ''] = $part === null ? 'the rest' : $part->nodeName.($part->getAttribute('id') === '' ? '' : '#'.$part->getAttribute('id'));
            }
        }

        return array_values($parts);
    }

    private static function partOf(DOMElement $element): ?DOMElement
    {
        for ($around = $element; $around instanceof DOMElement; $around = $around->parentNode) {
            if (in_array($around->nodeName, self::PARTS, true)) {
                return $around;
            }
        }

        return null;
    }
}
