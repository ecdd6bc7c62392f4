<?php

declare(strict_types=1);

namespace Pellix\Core\Pages;

/** One declaration of a style sheet, for one of the selectors before it. */
final readonly class SheetDeclaration
{
    /** These properties pass on to what is inside (CSS 2.2, appendix F; those that texts are usually set in). */
    private const INHERITED = [
        'color', 'cursor', 'direction', 'font', 'font-family', 'font-size', 'font-style', 'font-variant', 'font-weight', 'letter-spacing', 'line-height',
        'list-style', 'list-style-type', 'text-align', 'text-indent', 'text-transform', 'visibility', 'white-space', 'word-spacing',
    ];

    /** Property => the shorthand that sets it, too. */
    private const SHORTHANDS = ['background-', 'border-', 'font-', 'margin-', 'padding-', 'list-style-', 'outline-', 'flex-', 'text-decoration-', 'transition-'];

    /** @param int $line of the sheet or page named `$sheet` */
    public function __construct(
        public string $selector,
        public int $specificity,
        public string $property,
        public string $value,
        public bool $isImportant,
        public string $sheet,
        public int $line,
    ) {
    }

    /** Whether it decides what a property is: it names it, or the shorthand for it. */
    public function sets(string $property): bool
    {
        if ($this->property === $property) {
            return true;
        }
        foreach (self::SHORTHANDS as $stem) {
            if (str_starts_with($property, $stem) && $this->property === rtrim($stem, '-')) {
                return true;
            }
        }

        return false;
    }

    public static function isInherited(string $property): bool
    {
        return in_array($property, self::INHERITED, true);
    }

    /** As it is told of. */
    public function words(): string
    {
        return "“{$this->selector} { {$this->property}: {$this->value}".($this->isImportant ? ' !important' : '')." }” ({$this->sheet}, line {$this->line})";
    }
}
