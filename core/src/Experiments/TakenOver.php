<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

use Pellix\Core\Pages\PageCopy;

/** Whether a site's own page, as it is delivered, already shows what a variant changed: then the experiment need not serve it any more. */
final class TakenOver
{
    /** @return bool|null null where only a browser can tell */
    public static function judge(Change $change, PageCopy $page): ?bool
    {
        if ($change->selector === null) {
            // What a sheet or a script does, no page tells.
            return null;
        }
        $found = $page->find($change->selector);
        if ($found === null) {
            return null;
        }
        if ($change->kind === ChangeKind::Remove || $change->kind === ChangeKind::Hide) {
            return $found === [] || ($change->kind === ChangeKind::Hide && self::all($found, static fn (\DOMElement $one): bool => self::isHidden($one)));
        }
        if ($found === []) {
            // Perhaps it is called otherwise by now.
            return null;
        }
        $value = $change->text('value');

        return match ($change->kind) {
            ChangeKind::Text => self::all($found, static fn (\DOMElement $one): bool => PageCopy::text($one) === trim((string) preg_replace('/\s+/u', ' ', $value))),
            ChangeKind::Html => self::all($found, static fn (\DOMElement $one): bool => PageCopy::inside($one) === PageCopy::spelled($value)),
            ChangeKind::Attribute => self::all($found, static fn (\DOMElement $one): bool => self::hasAttribute($one, $change)),
            ChangeKind::Classes => self::all($found, static fn (\DOMElement $one): bool => self::hasClasses($one, $change)),
            ChangeKind::Style => self::all($found, static fn (\DOMElement $one): bool => self::hasStyle($one, $change->text('property'), $value)) ? true : null,
            ChangeKind::Insert => self::all($found, static fn (\DOMElement $one): bool => self::holds($one, $change)),
            ChangeKind::Move => self::isMoved($found, $page->find($change->text('to')) ?? [], $change),
            default => null,
        };
    }

    /**
     * How far a page shows all of several changes.
     *
     * @param list<Change> $changes
     *
     * @return 'taken'|'open'|'unknown' `taken` where none is missing of those that a page can tell of, `unknown` where it tells of none
     */
    public static function page(array $changes, PageCopy $page): string
    {
        $judged = array_map(static fn (Change $change): ?bool => self::judge($change, $page), $changes);

        return in_array(false, $judged, true) ? 'open' : (in_array(true, $judged, true) ? 'taken' : 'unknown');
    }

    /** What is at the place of a change now, in a line; null where nothing is found or nobody knows. */
    public static function before(Change $change, PageCopy $page): ?string
    {
        $element = ($change->selector === null ? null : $page->find($change->selector))[0] ?? null;

        return $element === null ? null : match ($change->kind) {
            ChangeKind::Text => PageCopy::text($element),
            ChangeKind::Html => PageCopy::inside($element),
            ChangeKind::Attribute => $element->hasAttribute($change->text('attribute')) ? $element->getAttribute($change->text('attribute')) : '(none)',
            ChangeKind::Classes => $element->getAttribute('class'),
            default => PageCopy::brief($element),
        };
    }

    /** What a change makes of it, in a line. */
    public static function after(Change $change): string
    {
        return match ($change->kind) {
            ChangeKind::Hide => 'hidden',
            ChangeKind::Remove => 'taken out',
            ChangeKind::Style => "{$change->text('property')}: {$change->text('value')}",
            ChangeKind::Attribute => $change->text('attribute').($change->toArray()['value'] === null ? ' taken off' : "=\"{$change->text('value')}\""),
            ChangeKind::Classes => trim(implode(' ', array_map(static fn (string $name): string => "+{$name}", $change->names('add'))).' '.implode(' ', array_map(static fn (string $name): string => "-{$name}", $change->names('remove')))),
            ChangeKind::Move => (ChangePlace::tryFrom($change->text('place'))?->label() ?? '')." ({$change->text('to')})",
            ChangeKind::Insert => (ChangePlace::tryFrom($change->text('place'))?->label() ?? '').": {$change->text('value')}",
            default => $change->text('value'),
        };
    }

    /**
     * @param list<\DOMElement>           $elements
     * @param callable(\DOMElement): bool $is
     */
    private static function all(array $elements, callable $is): bool
    {
        return array_filter($elements, static fn (\DOMElement $one): bool => ! $is($one)) === [];
    }

    private static function isHidden(\DOMElement $element): bool
    {
        return $element->hasAttribute('hidden') || self::hasStyle($element, 'display', 'none');
    }

    private static function hasAttribute(\DOMElement $element, Change $change): bool
    {
        $name = $change->text('attribute');

        return $change->toArray()['value'] === null ? ! $element->hasAttribute($name) : $element->hasAttribute($name) && $element->getAttribute($name) === $change->text('value');
    }

    private static function hasClasses(\DOMElement $element, Change $change): bool
    {
        $own = preg_split('/\s+/', $element->getAttribute('class')) ?: [];

        return array_diff($change->names('add'), $own) === [] && array_intersect($change->names('remove'), $own) === [];
    }

    private static function hasStyle(\DOMElement $element, string $property, string $value): bool
    {
        foreach (explode(';', $element->getAttribute('style')) as $declaration) {
            [$name, $own] = [...array_map(trim(...), explode(':', $declaration, 2)), ''];
            if (strtolower($name) === strtolower($property) && self::plain($own) === self::plain($value)) {
                return true;
            }
        }

        return false;
    }

    private static function plain(string $value): string
    {
        return strtolower(trim((string) preg_replace(['/\s*!\s*important\s*$/i', '/\s+/'], ['', ' '], $value)));
    }

    private static function holds(\DOMElement $element, Change $change): bool
    {
        $isInside = in_array($change->text('place'), ['first', 'last'], true);
        $around = $isInside ? $element : $element->parentNode;

        return $around instanceof \DOMElement && str_contains(PageCopy::inside($around), PageCopy::spelled($change->text('value')));
    }

    /**
     * @param list<\DOMElement> $moved
     * @param list<\DOMElement> $to
     */
    private static function isMoved(array $moved, array $to, Change $change): ?bool
    {
        $target = $to[0] ?? null;
        $one = $moved[0];

        return $target === null ? null : match ($change->text('place')) {
            'before' => $one->nextElementSibling === $target,
            'after' => $one->previousElementSibling === $target,
            'first' => $target->firstElementChild === $one,
            default => $target->lastElementChild === $one,
        };
    }
}
