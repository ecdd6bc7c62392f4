<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Html;

/**
 * The stack of open elements (WHATWG HTML, 13.2.4.2), asked in constant time for the innermost element of a name, so that a
 * page of unclosed elements costs no more than any other.
 *
 * Elements of svg and math are kept with the prefix `/`, in lower case.
 */
final class OpenElements
{
    /** Elements that are deeper than that are not kept: their end tags find nothing to close. */
    private const DEEPEST = 50_000;

    /** What keeps a search for an element in scope from going on (13.2.4.2, "has a particular element in scope"). */
    private const BARRIERS = [
        'applet', 'caption', 'html', 'table', 'td', 'th', 'marquee', 'object', 'template',
        '/mi', '/mo', '/mn', '/ms', '/mtext', '/annotation-xml', '/foreignobject', '/desc', '/title',
    ];

    /** The category "special" (13.2.4.2), as far as such elements are kept open. */
    private const SPECIAL = [
        'address', 'applet', 'article', 'aside', 'blockquote', 'body', 'button', 'caption', 'center', 'colgroup', 'dd', 'details', 'dir', 'div', 'dl', 'dt',
        'fieldset', 'figcaption', 'figure', 'footer', 'form', 'frameset', 'h1', 'h2', 'h3', 'h4', 'h5', 'h6', 'head', 'header', 'hgroup', 'html', 'li', 'listing',
        'main', 'marquee', 'menu', 'nav', 'object', 'ol', 'p', 'plaintext', 'pre', 'search', 'section', 'select', 'summary', 'table', 'tbody', 'td', 'template',
        'tfoot', 'th', 'thead', 'tr', 'ul',
        '/mi', '/mo', '/mn', '/ms', '/mtext', '/annotation-xml', '/foreignobject', '/desc', '/title',
    ];

    /** @var list<string> outermost first */
    private array $names = [];

    /** @var array<string, list<int>> name, or a group of names => where such elements are, outermost first */
    private array $places = [];

    private readonly Groups $groups;

    public function __construct()
    {
        $this->groups = Groups::of(['#barrier' => self::BARRIERS, '#special' => self::SPECIAL]);
    }

    /** @return bool whether there was room */
    public function push(string $name): bool
    {
        $at = count($this->names);
        if ($at >= self::DEEPEST) {
            return false;
        }
        $this->names[] = $name;
        foreach ($this->groups->with($name) as $one) {
            $this->places[$one][] = $at;
        }

        return true;
    }

    /** Closes elements until so many are left. */
    public function closeTo(int $left): void
    {
        while (count($this->names) > $left) {
            foreach ($this->groups->with((string) array_pop($this->names)) as $one) {
                array_pop($this->places[$one]);
            }
        }
    }

    /** The innermost element; '' where none is open. */
    public function top(): string
    {
        return $this->names === [] ? '' : $this->names[count($this->names) - 1];
    }

    public function depth(): int
    {
        return count($this->names);
    }

    /** The element at a place; '' where there is none. */
    public function at(int $place): string
    {
        return $this->names[$place] ?? '';
    }

    /** Where the innermost of these elements is; -1 where none is open. */
    public function last(string ...$names): int
    {
        $last = -1;
        foreach ($names as $name) {
            $places = $this->places[$name] ?? [];
            if ($places !== []) {
                $last = max($last, $places[count($places) - 1]);
            }
        }

        return $last;
    }

    /** Where the innermost element of HTML is. */
    public function lastOfHtml(): int
    {
        return $this->last('#html');
    }

    /** Where the innermost of these is that is in scope; -1 where none is. */
    public function inScope(string ...$names): int
    {
        $last = $this->last(...$names);

        return $last >= $this->last('#barrier') ? $last : -1;
    }

    /** Where the innermost element of this name is, unless a special element stands between; -1 then. */
    public function withinSpecial(string $name): int
    {
        $last = $this->last($name);

        return $last >= $this->last('#special') ? $last : -1;
    }

    public function isOpen(string $name): bool
    {
        return ($this->places[$name] ?? []) !== [];
    }
}
