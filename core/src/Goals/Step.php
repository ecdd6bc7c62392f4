<?php

declare(strict_types=1);

namespace Pellix\Core\Goals;

use Pellix\Core\Events\LogEvent;
use Pellix\Core\Formats\Fields;
use Pellix\Core\Rules\Combination;
use Pellix\Core\Rules\Explanation;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Rules\Rule;
use Pellix\Core\Rules\RuleReader;

/** One thing that an event can be: a page reached, a click, a form sent, an event of some name, an order, time or scrolling. */
final readonly class Step
{
    public const KINDS = ['page', 'click', 'form', 'event', 'order', 'engaged', 'scroll', 'any_click'];

    /** The name of the events that each kind looks at; an `event` names its own. */
    private const EVENTS = [
        'page' => 'page_view', 'click' => 'click', 'form' => 'form_submit', 'order' => 'order', 'engaged' => 'engaged', 'scroll' => 'scroll', 'any_click' => 'click',
    ];

    private function __construct(
        public string $kind,
        public string $event,
        public ?PageRule $pages,
        public ?ElementSelector $selector,
        public ?Rule $when,
        public ?int $amount,
    ) {
    }

    /**
     * @param Fields<InvalidGoal> $fields
     *
     * @throws InvalidGoal
     */
    public static function from(Fields $fields, string $kind): self
    {
        $needsPages = $kind === 'page';
        if ($needsPages && ! $fields->has('pages')) {
            throw new InvalidGoal('Say which page counts.', 'pages');
        }

        return new self(
            $kind,
            $kind === 'event'
                ? $fields->pattern('event', '/\A[A-Za-z][A-Za-z0-9_.-]{0,63}\z/', 'The name of the event is needed: letters, digits, "_", "." and "-".')
                : self::EVENTS[$kind],
            $fields->has('pages') ? $fields->part('pages', PageRule::read(...)) : null,
            in_array($kind, ['click', 'form'], true) ? ElementSelector::read($fields->text('selector', 500)) : null,
            in_array($kind, ['event', 'order'], true) && $fields->has('when') ? $fields->part('when', RuleReader::read(...)) : null,
            match ($kind) {
                'engaged' => self::amount($fields, 'seconds', 36_000),
                'scroll' => self::amount($fields, 'percent', 100),
                default => null,
            },
        );
    }

    public function matches(LogEvent $event): bool
    {
        return $event->name === $this->event
            && ($this->pages === null || $this->pages->matches($event->url))
            && ($this->selector === null || $this->selector->matches($event->text('path') ?? ''))
            && ($this->amount === null || $event->number($this->kind === 'engaged' ? 'seconds' : 'percent') >= $this->amount)
            && ($this->when === null || $this->when->matches($event->facts()));
    }

    /**
     * Why an event counts or not: each condition with the value that it saw.
     *
     * @return list<array{fact: string, op: string, value: mixed, seen: mixed, holds: bool}>
     */
    public function explain(LogEvent $event): array
    {
        $lines = [['fact' => 'event.name', 'op' => 'is', 'value' => $this->event, 'seen' => $event->name, 'holds' => $event->name === $this->event]];
        if ($event->name !== $this->event) {
            return $lines;
        }
        $lines = [...$lines, ...Explanation::of($this->pages->rule ?? Combination::all([]), $event->facts())];
        if ($this->selector !== null) {
            $path = $event->text('path') ?? '';
            $lines[] = ['fact' => 'event.props.path', 'op' => 'is within', 'value' => $this->selector->text, 'seen' => $path, 'holds' => $this->selector->matches($path)];
        }
        if ($this->amount !== null) {
            $prop = $this->kind === 'engaged' ? 'seconds' : 'percent';
            $seen = $event->number($prop);
            $lines[] = ['fact' => "event.props.{$prop}", 'op' => 'gte', 'value' => $this->amount, 'seen' => $seen, 'holds' => $seen >= $this->amount];
        }

        return [...$lines, ...Explanation::of($this->when ?? Combination::all([]), $event->facts())];
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return array_filter([
            'kind' => $this->kind,
            'event' => $this->kind === 'event' ? $this->event : null,
            'pages' => $this->pages?->rule->toArray(),
            'selector' => $this->selector?->text,
            'when' => $this->when?->toArray(),
            'seconds' => $this->kind === 'engaged' ? $this->amount : null,
            'percent' => $this->kind === 'scroll' ? $this->amount : null,
        ], static fn (mixed $part): bool => $part !== null);
    }

    /** @param Fields<InvalidGoal> $fields */
    private static function amount(Fields $fields, string $name, int $most): int
    {
        $amount = $fields->number($name);
        if ($amount !== floor($amount) || $amount < 1 || $amount > $most) {
            throw new InvalidGoal("A whole number from 1 to {$most} is needed.", $name);
        }

        return (int) $amount;
    }
}
