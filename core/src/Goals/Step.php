<?php

declare(strict_types=1);

namespace Pellix\Core\Goals;

use Pellix\Core\Events\LogEvent;
use Pellix\Core\Formats\Fields;
use Pellix\Core\Happenings\ElementSelector;
use Pellix\Core\Happenings\Happening;
use Pellix\Core\Happenings\Kind;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Rules\Place;
use Pellix\Core\Rules\Rule;
use Pellix\Core\Rules\RuleReader;

/** One thing that a recorded event can be: a page reached, a click, a form sent, an event of some name, an order, time or scrolling. */
final readonly class Step extends Happening
{
    /**
     * @param string|null $area       of `seen`: the elements, as a CSS selector that browsers are asked
     * @param string      $recordedAs name of the events that it looks at
     */
    private function __construct(
        Kind $kind,
        ?string $event,
        ?PageRule $pages,
        private ?ElementSelector $element,
        ?Rule $when,
        ?int $amount,
        public ?string $area,
        public string $recordedAs,
    ) {
        parent::__construct($kind, $event, $pages, $element->text ?? $area, $when, $amount);
    }

    /**
     * @param Fields<InvalidGoal> $fields
     * @param bool                $toBeKept whether it will count: then a fact that no recorded event tells is refused
     *
     * @throws InvalidGoal
     */
    public static function from(Fields $fields, Kind $kind, bool $toBeKept = false): self
    {
        if ($kind === Kind::Page && ! $fields->has('pages')) {
            throw new InvalidGoal('Say which page counts.', 'pages');
        }
        $event = $kind === Kind::Event
            ? $fields->pattern('event', '/\A[A-Za-z][A-Za-z0-9_.-]{0,63}\z/', 'The name of the event is needed: letters, digits, "_", "." and "-".')
            : null;

        return new self(
            $kind,
            $event,
            $fields->has('pages') ? $fields->part('pages', PageRule::read(...)) : null,
            $kind->hasSelector() && $kind !== Kind::Seen ? Fields::within('', static fn (): ElementSelector => ElementSelector::read($fields->text('selector', 500)), InvalidGoal::class) : null,
            in_array($kind, [Kind::Event, Kind::Order], true) && $fields->has('when')
                ? $fields->part('when', static fn (mixed $rule): Rule => RuleReader::read($rule, $toBeKept ? Place::RecordedEvent : null)) : null,
            self::readAmount($fields, $kind),
            $kind === Kind::Seen ? self::area($fields) : null,
            $event ?? (string) $kind->recordedAs(),
        );
    }

    public function matches(LogEvent $event): bool
    {
        return $event->name === $this->recordedAs
            && ($this->pages === null || $this->pages->matches($event->url))
            && ($this->element === null || $this->element->matches($event->text('path') ?? ''))
            && ($this->area === null || $this->area === $event->text('area'))
            && ($this->amount === null || $event->number((string) $this->kind->amount()) >= $this->amount)
            && ($this->when === null || $this->when->matches($event->facts()));
    }

    /** @param Fields<InvalidGoal> $fields */
    private static function area(Fields $fields): string
    {
        $selector = trim($fields->text('selector', 500));
        if (preg_match('/[{}<]/', $selector) === 1) {
            throw new InvalidGoal('A CSS selector holds no "{", "}" or "<".', 'selector');
        }

        return $selector;
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return $this->members('event');
    }
}
