<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

use Pellix\Core\Formats\Fields;

/**
 * One change that a variant makes to a page. docs/formats.md says what each kind takes; what it holds can be read again from
 * `toArray()`.
 */
final readonly class Change
{
    private const LONGEST_TEXT = 2000;
    private const LONGEST_CODE = 20_000;
    private const MOST_CLASSES = 20;

    /**
     * @param WidthCondition|null  $width   widths of the screen that it is made at; null for any
     * @param array<string, mixed> $members all but these
     */
    private function __construct(public ChangeKind $kind, public ?string $selector, public bool $isOff, public ?WidthCondition $width, private array $members)
    {
    }

    /**
     * From `{"kind":"text","selector":"h1","value":"…"}` and the like.
     *
     * @param bool $toBeKept whether it will run: then a member that would be lost is refused
     *
     * @throws InvalidExperiment
     */
    public static function read(mixed $json, bool $toBeKept = false): self
    {
        $fields = new Fields($json, InvalidExperiment::class, 'A change');
        $kind = ChangeKind::from($fields->word('kind', array_column(ChangeKind::cases(), 'value'), ''));
        $selector = $kind->hasSelector() ? self::selector($fields, 'selector') : null;
        $members = match ($kind) {
            ChangeKind::Text => ['value' => $fields->text('value', self::LONGEST_TEXT)],
            ChangeKind::Html => ['value' => self::html($fields)],
            ChangeKind::Attribute => self::attribute($fields),
            ChangeKind::Style => self::style($fields),
            ChangeKind::Classes => self::classes($fields),
            ChangeKind::Hide, ChangeKind::Remove => [],
            ChangeKind::Move => ['place' => self::place($fields), 'to' => self::selector($fields, 'to')],
            ChangeKind::Insert => ['place' => self::place($fields), 'value' => self::html($fields)],
            ChangeKind::Sheet => ['value' => ChangeCode::sheet($fields->text('value', self::LONGEST_CODE))],
            ChangeKind::Script => ['value' => $fields->text('value', self::LONGEST_CODE)],
        };
        $isOff = $fields->flag('off');
        $width = $kind->hasSelector() && $fields->has('media') ? WidthCondition::read($fields->text('media', 100)) : null;
        $toBeKept && $fields->nothingElse();

        return new self($kind, $selector, $isOff, $width, $members);
    }

    /** One of its members that is a text; empty where it has none. */
    public function text(string $member): string
    {
        return is_string($this->members[$member] ?? null) ? $this->members[$member] : '';
    }

    /** @return list<string> the classes that it adds or removes */
    public function names(string $member): array
    {
        return array_values(array_filter((array) ($this->members[$member] ?? []), is_string(...)));
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return ['kind' => $this->kind->value, ...($this->selector === null ? [] : ['selector' => $this->selector]), ...$this->members, ...($this->width === null ? [] : ['media' => $this->width->text]), ...($this->isOff ? ['off' => true] : [])];
    }

    /** @param Fields<InvalidExperiment> $fields */
    private static function selector(Fields $fields, string $name): string
    {
        $selector = $fields->text($name, 500);
        if (preg_match('/[{}<]/', $selector) === 1) {
            throw new InvalidExperiment('A CSS selector holds no "{", "}" or "<".', $name);
        }

        return $selector;
    }

    /** @param Fields<InvalidExperiment> $fields */
    private static function place(Fields $fields): string
    {
        return $fields->word('place', array_column(ChangePlace::cases(), 'value'), '');
    }

    /** @param Fields<InvalidExperiment> $fields */
    private static function html(Fields $fields): string
    {
        $html = $fields->text('value', self::LONGEST_CODE);
        if (preg_match('~<script[\s/>]~i', $html) === 1) {
            throw new InvalidExperiment('A script within HTML that is put in later never runs. Use a change of the kind "script".', 'value');
        }

        return $html;
    }

    /**
     * @param Fields<InvalidExperiment> $fields
     *
     * @return array{attribute: string, value: string|null} null takes the attribute off
     */
    private static function attribute(Fields $fields): array
    {
        $name = strtolower($fields->pattern('attribute', '/\A[A-Za-z_][A-Za-z0-9_.:-]{0,99}\z/', 'The name of an attribute is needed, such as href.'));
        if (in_array($name, ['style', 'class'], true)) {
            throw new InvalidExperiment("For \"{$name}\" there is a kind of change of its own, which leaves the rest of it alone.", 'attribute');
        }
        if (str_starts_with($name, 'on') || $name === 'srcdoc') {
            throw new InvalidExperiment("\"{$name}\" holds code. Use a change of the kind \"script\".", 'attribute');
        }
        $value = $fields->has('value') ? $fields->text('value', self::LONGEST_TEXT, '') : null;
        if ($value !== null && ChangeCode::isCodeAddress($value)) {
            throw new InvalidExperiment('This address runs code. Use a change of the kind "script".', 'value');
        }

        return ['attribute' => $name, 'value' => $value];
    }

    /**
     * @param Fields<InvalidExperiment> $fields
     *
     * @return array{property: string, value: string}
     */
    private static function style(Fields $fields): array
    {
        $property = $fields->pattern('property', '/\A(--[A-Za-z0-9_-]+|-?[a-z][a-z-]*)\z/', 'The name of a CSS property is needed, such as background-color.');
        $value = $fields->text('value', 500);
        if (preg_match('/[;{}<]|!\s*important/i', $value) === 1) {
            throw new InvalidExperiment('The value of one property is needed, without ";", braces or "!important" (which Pellix adds).', 'value');
        }
        if (ChangeCode::loads($value)) {
            throw new InvalidExperiment('A style value loads nothing: url(), src(), image-set() and escapes are not taken.', 'value');
        }

        return ['property' => $property, 'value' => $value];
    }

    /**
     * @param Fields<InvalidExperiment> $fields
     *
     * @return array{add?: list<string>, remove?: list<string>}
     */
    private static function classes(Fields $fields): array
    {
        $lists = [];
        foreach (['add', 'remove'] as $side) {
            foreach ($fields->list($side) as $i => $name) {
                if (! is_string($name) || preg_match('/\A[^\s]{1,100}\z/u', $name) !== 1) {
                    throw new InvalidExperiment('The name of a class is needed: text without white space.', "{$side}.{$i}");
                }
                if (in_array($name, $lists[$side] ?? [], true) || in_array($name, $lists['add'] ?? [], true)) {
                    throw new InvalidExperiment('This class is named twice.', "{$side}.{$i}");
                }
                $lists[$side][] = $name;
            }
            if (count($lists[$side] ?? []) > self::MOST_CLASSES) {
                throw new InvalidExperiment('At most '.self::MOST_CLASSES.' classes.', $side);
            }
        }

        return $lists !== [] ? $lists : throw new InvalidExperiment('Name a class to be added or removed.', 'add');
    }
}
