<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

use Pellix\Core\Formats\Fields;

/** One change that a variant makes to a page: the text, or one style property, of the elements that a CSS selector finds. */
final readonly class Change
{
    private function __construct(
        public string $kind,
        public string $selector,
        public ?string $property,
        public string $value,
    ) {
    }

    /**
     * From `{"kind":"text","selector":"h1","value":"…"}` or `{"kind":"style","selector":"h1","property":"color","value":"red"}`.
     *
     * @param bool $toBeKept whether it will run: then a member that would be lost is refused
     *
     * @throws InvalidExperiment
     */
    public static function read(mixed $json, bool $toBeKept = false): self
    {
        $fields = new Fields($json, InvalidExperiment::class, 'A change');
        $kind = $fields->word('kind', ['text', 'style'], '');
        $selector = $fields->text('selector', 500);
        if (preg_match('/[{}<]/', $selector) === 1) {
            throw new InvalidExperiment('A CSS selector holds no "{", "}" or "<".', 'selector');
        }
        if ($kind === 'text') {
            $value = $fields->text('value', 2000);
            $toBeKept && $fields->nothingElse();

            return new self($kind, $selector, null, $value);
        }
        $property = $fields->pattern(
            'property',
            '/\A(--[A-Za-z0-9_-]+|-?[a-z][a-z-]*)\z/',
            'The name of a CSS property is needed, such as background-color.',
        );
        $value = $fields->text('value', 500);
        if (preg_match('/[;{}<]|!\s*important/i', $value) === 1) {
            throw new InvalidExperiment('The value of one property is needed, without ";", braces or "!important" (which Pellix adds).', 'value');
        }
        // A variant must not make visitors' browsers call hosts that nobody declared.
        if (preg_match('/url\s*\(|image-set\s*\(|src\s*\(|\\\\/i', $value) === 1) {
            throw new InvalidExperiment('A style value loads nothing: url(), src(), image-set() and escapes are not taken.', 'value');
        }

        $toBeKept && $fields->nothingElse();

        return new self($kind, $selector, $property, $value);
    }

    /** @return array<string, string> */
    public function toArray(): array
    {
        return array_filter(
            ['kind' => $this->kind, 'selector' => $this->selector, 'property' => $this->property, 'value' => $this->value],
            static fn (?string $part): bool => $part !== null,
        );
    }
}
