<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

/** One declaration of one property that is for an element, as the browser's style sheets hold it. */
final readonly class Declaration
{
    /**
     * @param string                   $selector    empty for the element's own style attribute
     * @param array{int, int, int}     $specificity ids, classes, types (Selectors Level 4, 15)
     * @param 'author'|'user'|'user-agent' $origin
     * @param int|null                 $layer       its place among the cascade layers, the later the higher; null for none
     * @param int                      $order       of appearance
     * @param string                   $sheet       address of the style sheet; empty for one in the page itself
     * @param int|null                 $line        from 1
     * @param bool                     $isOurs      whether the variant wants it: by its own sheet, or by a class that it adds
     * @param bool                     $isAdded     whether it stands in a sheet that the variant has added
     */
    public function __construct(
        public string $property,
        public string $value,
        public bool $important,
        public string $selector,
        public array $specificity,
        public string $origin,
        public ?int $layer,
        public int $order,
        public string $sheet,
        public ?int $line,
        public bool $isOurs,
        public bool $isAdded = false,
    ) {
    }

    public function isInline(): bool
    {
        return $this->selector === '';
    }

    /** Where it stands, in words. */
    public function place(): string
    {
        if ($this->isInline()) {
            return 'the style attribute of the element';
        }
        $line = $this->line === null ? '' : ", line {$this->line}";
        $sheet = match (true) {
            $this->origin === 'user-agent' => 'the browser’s own style sheet',
            $this->isAdded => 'the variant’s own style sheet',
            $this->sheet === '' => "a <style> of the page{$line}",
            default => "{$this->sheet}{$line}",
        };

        return "{$this->selector} in {$sheet} (specificity ".implode(',', $this->specificity).($this->important ? ', !important' : '').')';
    }
}
