<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

use Pellix\Core\Formats\Fields;

/** One step of a script: something done on a page, or something that is expected of it. docs/formats.md says what each takes. */
final readonly class Step
{
    public const LONGEST_WAIT = 30;

    private const LONGEST_SELECTOR = 500;
    private const LONGEST_TEXT = 2000;
    private const MOST_PROPS = 20;
    private const CATEGORIES = ['statistics', 'marketing'];

    /**
     * @param Aim|null             $aim        what is waited for or expected
     * @param string|null          $name       of the aim: a selector, an address, the name of a cookie or an event, the key of a goal or a tag
     * @param string|null          $element    CSS selector of what it is done to
     * @param string|null          $value      what is typed, chosen, or wanted of what is expected
     * @param string|null          $style      the property whose computed value is expected
     * @param float|null           $amount     seconds, per cent, the wanted value of a goal
     * @param array<string, scalar> $props     wanted of an event
     * @param int|null             $times      how often an event or a goal is expected; null for at least once
     * @param bool                 $not        nothing of it is expected
     * @param list<string>         $categories that consent is given for; none is a refusal
     * @param list<string>         $variants   whose visitors do it; none for all
     */
    private function __construct(
        public StepKind $kind,
        public ?Aim $aim = null,
        public ?string $name = null,
        public ?string $element = null,
        public ?string $value = null,
        public ?string $style = null,
        public ?float $amount = null,
        public array $props = [],
        public ?int $times = null,
        public bool $not = false,
        public array $categories = [],
        public array $variants = [],
    ) {
    }

    /** @throws InvalidScript */
    public static function read(mixed $json): self
    {
        $fields = new Fields($json, InvalidScript::class, 'A step');
        $kind = StepKind::tryFrom($fields->text('do', 40)) ?? throw new InvalidScript('A step does one of: '.implode(', ', array_column(StepKind::cases(), 'value')).'.', 'do');
        $variants = self::texts($fields, 'variants', 40);
        $element = $fields->has('element') ? self::selector($fields) : null;
        if ($kind->needsElement() && $element === null) {
            throw new InvalidScript("“{$kind->label()}” names the element that it is done to, as a CSS selector.", 'element');
        }
        $step = match ($kind) {
            StepKind::Open => new self($kind, name: self::address($fields, 'path'), variants: $variants),
            StepKind::Follow => new self($kind, name: self::address($fields, 'path'), element: $element, variants: $variants),
            StepKind::Type, StepKind::Choose => new self($kind, element: $element, value: $fields->text('value', self::LONGEST_TEXT), variants: $variants),
            StepKind::Scroll => self::scroll($fields, $element, $variants),
            StepKind::Consent => new self($kind, categories: self::categories($fields), variants: $variants),
            StepKind::Wait, StepKind::Expect => self::aimed($fields, $kind, $element, $variants),
            default => new self($kind, element: $kind->needsElement() ? $element : null, variants: $variants),
        };
        $fields->nothingElse();

        return $step;
    }

    /** @return array<string, mixed> what can be read again */
    public function toArray(): array
    {
        $amount = $this->amount === null ? null : ($this->amount === floor($this->amount) ? (int) $this->amount : $this->amount);

        return array_filter([
            'do' => $this->kind->value,
            'path' => in_array($this->kind, [StepKind::Open, StepKind::Follow], true) ? $this->name : null,
            'element' => $this->element,
            ...($this->aim === null || $this->aim === Aim::Element || $this->aim === Aim::Seconds ? [] : [$this->aim->value => $this->name]),
            'seconds' => $this->aim === Aim::Seconds ? $amount : null,
            'percent' => $this->kind === StepKind::Scroll ? $amount : null,
            'style' => $this->style,
            ...($this->aim === Aim::Goal ? ['value' => $amount] : [$this->aim === Aim::Element && $this->style === null ? 'text' : 'value' => $this->value]),
            'props' => $this->props === [] ? null : $this->props,
            'times' => $this->times,
            'not' => $this->not ?: null,
            'categories' => $this->kind === StepKind::Consent ? $this->categories : null,
            'variants' => $this->variants === [] ? null : $this->variants,
        ], static fn (mixed $value): bool => $value !== null);
    }

    public function isFor(string $variant): bool
    {
        return $this->variants === [] || in_array($variant, $this->variants, true);
    }

    /** What it does, in words. */
    public function words(): string
    {
        return $this->deed().($this->variants === [] ? '' : ' (in '.implode(', ', $this->variants).')');
    }

    private function deed(): string
    {
        return match ($this->kind) {
            StepKind::Open => "open {$this->name}",
            StepKind::Follow => "go on to {$this->name}",
            StepKind::Click => "click {$this->element}",
            StepKind::Type => "type “{$this->value}” into {$this->element}",
            StepKind::Choose => "choose “{$this->value}” in {$this->element}",
            StepKind::Submit => "send the form {$this->element}",
            StepKind::Scroll => $this->element === null ? "scroll to {$this->amount} %" : "scroll to {$this->element}",
            StepKind::Hover => "point at {$this->element}",
            StepKind::Wait => $this->aim === Aim::Seconds ? "wait {$this->amount} s" : "wait for {$this->aimWords()}",
            StepKind::Back => 'go back',
            StepKind::Reload => 'load the page again',
            StepKind::NewTab => 'open a new tab',
            StepKind::ClearCookies => 'clear all cookies',
            StepKind::Consent => $this->categories === [] ? 'refuse consent' : 'give consent to '.implode(', ', $this->categories),
            StepKind::Expect => 'expect '.($this->not ? 'nothing of ' : '').$this->aimWords(),
        };
    }

    private function aimWords(): string
    {
        $wanted = match (true) {
            $this->style !== null => " with {$this->style} “{$this->value}”",
            $this->aim === Aim::Element && $this->value !== null => " with the text “{$this->value}”",
            $this->value !== null => " “{$this->value}”",
            $this->amount !== null => " worth {$this->amount}",
            $this->props !== [] => ' with '.json_encode($this->props, JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE),
            default => '',
        };
        $times = $this->times === null ? '' : ($this->times === 1 ? ', once' : ", {$this->times} times");

        return match ($this->aim) {
            Aim::Element => $this->element,
            null => '',
            default => "the {$this->aim->value} {$this->name}",
        }.$wanted.$times;
    }

    /**
     * @param Fields<InvalidScript> $fields
     * @param list<string>          $variants
     */
    private static function scroll(Fields $fields, ?string $element, array $variants): self
    {
        if ($element !== null) {
            return new self(StepKind::Scroll, element: $element, variants: $variants);
        }
        $percent = $fields->number('percent', 100.0);
        if ($percent < 0 || $percent > 100) {
            throw new InvalidScript('A page is scrolled to 0 to 100 per cent.', 'percent');
        }

        return new self(StepKind::Scroll, amount: $percent, variants: $variants);
    }

    /**
     * @param Fields<InvalidScript> $fields
     * @param list<string>          $variants
     */
    private static function aimed(Fields $fields, StepKind $kind, ?string $element, array $variants): self
    {
        $can = array_filter(Aim::cases(), static fn (Aim $aim): bool => $kind === StepKind::Wait ? $aim->canBeAwaited() : $aim->canBeExpected());
        $named = array_values(array_filter($can, static fn (Aim $aim): bool => $fields->has($aim->value)));
        if (count($named) !== 1) {
            throw new InvalidScript("“{$kind->label()}” names one of: ".implode(', ', array_map(static fn (Aim $aim): string => $aim->value, $can)).'.', ($named[1] ?? null)->value ?? 'do');
        }
        [$aim] = $named;
        $not = $kind === StepKind::Expect && $fields->flag('not');
        if ($aim === Aim::Seconds) {
            $seconds = $fields->number('seconds');
            if ($seconds < 0.1 || $seconds > self::LONGEST_WAIT) {
                throw new InvalidScript('A wait takes 0.1 to '.self::LONGEST_WAIT.' seconds.', 'seconds');
            }

            return new self($kind, $aim, amount: $seconds, variants: $variants);
        }
        if ($aim === Aim::Element) {
            $style = $fields->has('style') ? $fields->pattern('style', '/\A-{0,2}[a-z][a-z0-9-]{0,60}\z/', 'A style is a CSS property, such as color.') : null;
            $value = $style !== null ? $fields->text('value', self::LONGEST_TEXT) : ($fields->has('text') ? $fields->text('text', self::LONGEST_TEXT) : null);

            return new self($kind, $aim, element: $element, value: $value, style: $style, not: $not, variants: $variants);
        }
        $times = $fields->has('times') ? (int) $fields->number('times') : null;
        if ($times !== null && ($times < 1 || $times > 100)) {
            throw new InvalidScript('It is expected 1 to 100 times; for never there is "not".', 'times');
        }

        return new self(
            $kind,
            $aim,
            $aim === Aim::Address ? self::address($fields, 'address') : $fields->text($aim->value, 120),
            value: $aim === Aim::Cookie && $fields->has('value') ? $fields->text('value', self::LONGEST_TEXT) : null,
            amount: $aim === Aim::Goal && $fields->has('value') ? $fields->number('value') : null,
            props: $aim === Aim::Event && $fields->has('props') ? $fields->part('props', self::props(...)) : [],
            times: $times,
            not: $not,
            variants: $variants,
        );
    }

    /** @param Fields<InvalidScript> $fields */
    private static function selector(Fields $fields): string
    {
        $selector = trim($fields->text('element', self::LONGEST_SELECTOR));
        if (preg_match('/[{}<]/', $selector) === 1) {
            throw new InvalidScript('A CSS selector holds no "{", "}" or "<".', 'element');
        }

        return $selector;
    }

    /** @param Fields<InvalidScript> $fields */
    private static function address(Fields $fields, string $name): string
    {
        $address = trim($fields->text($name, 2000));
        if (preg_match('~\A(?:/(?![/\\\\])|https?://[^/?#@\s\\\\]+)[^\s]*\z~i', $address) !== 1) {
            throw new InvalidScript('A path on the site, such as /loan, or the whole address of one of its pages is needed.', $name);
        }

        return $address;
    }

    /**
     * @param Fields<InvalidScript> $fields
     *
     * @return list<string>
     */
    private static function categories(Fields $fields): array
    {
        $all = self::texts($fields, 'categories', 20);
        foreach ($all as $i => $one) {
            in_array($one, self::CATEGORIES, true) || throw new InvalidScript('Consent is given to '.implode(' and ', self::CATEGORIES).'.', "categories.{$i}");
        }

        return $all;
    }

    /**
     * @param Fields<InvalidScript> $fields
     *
     * @return list<string>
     */
    private static function texts(Fields $fields, string $name, int $longest): array
    {
        $texts = [];
        foreach ($fields->has($name) ? $fields->list($name) : [] as $i => $one) {
            if (! is_string($one) || $one === '' || strlen($one) > $longest || $i >= 20) {
                throw new InvalidScript("A list of at most 20 texts of at most {$longest} characters is needed.", "{$name}.{$i}");
            }
            $texts[] = $one;
        }

        return array_values(array_unique($texts));
    }

    /** @return array<string, scalar> */
    private static function props(mixed $json): array
    {
        $props = [];
        foreach (is_array($json) ? $json : [] as $name => $value) {
            is_scalar($value) && is_string($name) && $props[$name] = $value;
        }
        if ($props === [] || ! is_array($json) || count($props) !== count($json) || count($props) > self::MOST_PROPS) {
            throw new InvalidScript('The wanted properties are an object of 1 to '.self::MOST_PROPS.' texts, numbers, true or false.', '');
        }

        return $props;
    }
}
