<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Tags;

use Pellix\Core\Formats\Fields;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Rules\Rule;
use Pellix\Core\Rules\RuleReader;

/** What makes a tag fire, or an experiment start: one thing that happens, on pages that a rule may narrow down. */
final readonly class Trigger
{
    public const KINDS = ['page', 'event', 'click', 'form', 'time', 'scroll', 'data'];

    private const LONGEST_WAIT = 3600;

    /**
     * @param string      $kind     one of KINDS
     * @param string|null $name     of an `event`: its name
     * @param string|null $selector of a `click` or `form`: the elements, as a CSS selector
     * @param int|null    $amount   of `time`: seconds on the page; of `scroll`: percent of the page's height
     * @param Rule|null   $when     of an `event` or a `data` push: a condition on it
     */
    private function __construct(
        public string $kind,
        public ?string $name,
        public ?string $selector,
        public ?int $amount,
        public ?Rule $when,
        public ?PageRule $pages,
    ) {
    }

    /**
     * From `{"kind":"page","pages":RULE}`, `{"kind":"event","name":"…","when":RULE}`, `{"kind":"click","selector":"…"}`,
     * `{"kind":"form","selector":"…"}`, `{"kind":"time","seconds":30}`, `{"kind":"scroll","percent":50}` or
     * `{"kind":"data","when":RULE}`; each may have `pages`.
     *
     * @throws InvalidTag
     */
    public static function read(mixed $json): self
    {
        $fields = new Fields($json, InvalidTag::class, 'A trigger');
        $kind = $fields->word('kind', self::KINDS, '');
        $selector = in_array($kind, ['click', 'form'], true) ? $fields->text('selector', 500) : null;
        if ($selector !== null && preg_match('/[{}<]/', $selector) === 1) {
            throw new InvalidTag('A CSS selector holds no "{", "}" or "<".', 'selector');
        }
        $pages = $fields->has('pages') ? $fields->part('pages', PageRule::read(...)) : null;
        if ($kind === 'page' && $pages === null) {
            throw new InvalidTag('Say on which pages; a rule with "all": [] means every page.', 'pages');
        }
        $when = in_array($kind, ['event', 'data'], true) && $fields->has('when') ? $fields->part('when', RuleReader::read(...)) : null;
        if ($kind === 'data' && $when === null) {
            throw new InvalidTag('Say what is pushed: a condition on data.…, such as data.event is "booked".', 'when');
        }

        return new self(
            $kind,
            $kind === 'event' ? $fields->pattern('name', '/\A[A-Za-z][A-Za-z0-9_.-]{0,63}\z/', 'The name of an event is needed: letters, digits, "_", "." and "-".') : null,
            $selector,
            match ($kind) {
                'time' => self::amount($fields, 'seconds', self::LONGEST_WAIT),
                'scroll' => self::amount($fields, 'percent', 100),
                default => null,
            },
            $when,
            $pages,
        );
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return array_filter([
            'kind' => $this->kind,
            'name' => $this->name,
            'selector' => $this->selector,
            'seconds' => $this->kind === 'time' ? $this->amount : null,
            'percent' => $this->kind === 'scroll' ? $this->amount : null,
            'when' => $this->when?->toArray(),
            'pages' => $this->pages?->rule->toArray(),
        ], static fn (mixed $part): bool => $part !== null);
    }

    /** @param Fields<InvalidTag> $fields */
    private static function amount(Fields $fields, string $name, int $most): int
    {
        $amount = $fields->number($name);
        if ($amount !== floor($amount) || $amount < 1 || $amount > $most) {
            throw new InvalidTag("A whole number from 1 to {$most} is needed.", $name);
        }

        return (int) $amount;
    }
}
