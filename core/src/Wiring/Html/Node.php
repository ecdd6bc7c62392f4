<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Html;

/** Something on a page that an inspection looks at: an element, a comment or a text, with where it ends up. */
final readonly class Node
{
    /**
     * @param string                $name       element name; `#comment` or `#text`
     * @param 'head'|'body'         $place      the part of the document that a browser puts it into
     * @param string|null           $inside     what keeps it from taking effect: `template`, `frameset`, `math` (of a script)
     * @param int                   $offset     bytes from the start of the text
     * @param array<string, string> $attributes
     * @param string                $text       what a script, a comment or a raw element holds, as it is written
     * @param bool                  $closed     whether its end tag came; a script without one never runs
     * @param bool                  $svg        whether it is an element of svg
     */
    public function __construct(
        public string $name,
        public string $place,
        public ?string $inside,
        public int $offset,
        public array $attributes = [],
        public string $text = '',
        public bool $closed = true,
        public bool $svg = false,
    ) {
    }

    public function attribute(string $name): ?string
    {
        return $this->attributes[$name] ?? null;
    }
}
