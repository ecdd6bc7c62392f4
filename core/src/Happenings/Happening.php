<?php

declare(strict_types=1);

namespace Pellix\Core\Happenings;

use Pellix\Core\Events\LogEvent;
use Pellix\Core\Formats\Fields;
use Pellix\Core\InvalidInput;
use Pellix\Core\Rules\Combination;
use Pellix\Core\Rules\Explanation;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Rules\Rule;

/** One thing that can happen on a page, on pages that a rule may narrow down: what a goal's step and a trigger have in common. */
abstract readonly class Happening
{
    /**
     * @param string|null $event    of `event`: its name
     * @param string|null $selector of `click`, `form` and `seen`: the elements, as a CSS selector
     * @param int|null    $amount   of `engaged` and `time`: seconds; of `scroll`: percent of the page's height
     * @param Rule|null   $when     a condition on the event or the push
     */
    protected function __construct(
        public Kind $kind,
        public ?string $event,
        public ?PageRule $pages,
        public ?string $selector,
        public ?Rule $when,
        public ?int $amount,
    ) {
    }

    /**
     * Why a recorded event is this happening, or is not: each condition with the value that it saw.
     *
     * @return list<array{fact: string, op: string, value: mixed, seen: mixed, holds: bool}>
     *
     * @throws InvalidHappening where the selector cannot be recognised in a record
     */
    public function explain(LogEvent $event): array
    {
        $name = $this->event ?? $this->kind->recordedAs();
        $lines = [['fact' => 'event.name', 'op' => 'is', 'value' => $name, 'seen' => $event->name, 'holds' => $event->name === $name]];
        if ($event->name !== $name) {
            return $lines;
        }
        $lines = [...$lines, ...Explanation::of($this->pages->rule ?? Combination::all([]), $event->facts())];
        if ($this->kind === Kind::Seen) {
            $seen = $event->text('area');
            $lines[] = ['fact' => 'event.props.area', 'op' => 'is', 'value' => $this->selector, 'seen' => $seen, 'holds' => $seen === $this->selector];
        } elseif ($this->selector !== null) {
            $path = $event->text('path') ?? '';
            $lines[] = ['fact' => 'event.props.path', 'op' => 'is within', 'value' => $this->selector, 'seen' => $path, 'holds' => ElementSelector::read($this->selector)->matches($path)];
        }
        if ($this->amount !== null) {
            $seen = $event->number((string) $this->kind->amount());
            $lines[] = ['fact' => "event.props.{$this->kind->amount()}", 'op' => 'gte', 'value' => $this->amount, 'seen' => $seen, 'holds' => $seen >= $this->amount];
        }

        return [...$lines, ...Explanation::of($this->when ?? Combination::all([]), $event->facts())];
    }

    /**
     * @param Fields<covariant InvalidInput> $fields
     *
     * @throws InvalidInput
     */
    protected static function readAmount(Fields $fields, Kind $kind): ?int
    {
        $name = $kind->amount();
        if ($name === null) {
            return null;
        }
        $amount = $fields->number($name);
        if ($amount !== floor($amount) || $amount < 1 || $amount > $kind->largestAmount()) {
            throw $fields->complaint("A whole number from 1 to {$kind->largestAmount()} is needed.", $name);
        }

        return (int) $amount;
    }

    /**
     * @param string $event the member that holds the name of an `event`
     *
     * @return array<string, mixed>
     */
    protected function members(string $event): array
    {
        return array_filter([
            'kind' => $this->kind->value,
            $event => $this->event,
            'pages' => $this->pages?->rule->toArray(),
            'selector' => $this->selector,
            'when' => $this->when?->toArray(),
            ...($this->amount === null ? [] : [(string) $this->kind->amount() => $this->amount]),
        ], static fn (mixed $part): bool => $part !== null);
    }
}
