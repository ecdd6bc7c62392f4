<?php

declare(strict_types=1);

namespace Pellix\Core\Triggers;

use Pellix\Core\Formats\Fields;
use Pellix\Core\Happenings\Happening;
use Pellix\Core\Happenings\Kind;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Rules\Place;
use Pellix\Core\Rules\Rule;
use Pellix\Core\Rules\RuleReader;

/** What makes a tag fire, or an experiment start: one thing that happens, on pages that a rule may narrow down. */
final readonly class Trigger extends Happening
{
    /**
     * From `{"kind":"page","pages":RULE}`, `{"kind":"event","name":"…","when":RULE}`, `{"kind":"click","selector":"…"}`,
     * `{"kind":"form","selector":"…"}`, `{"kind":"time","seconds":30}`, `{"kind":"scroll","percent":50}` or
     * `{"kind":"data","when":RULE}`; each may have `pages`.
     *
     * @param bool $toBeKept whether it will run: then a fact that is never known when it is asked for is refused
     *
     * @throws InvalidTrigger
     */
    public static function read(mixed $json, bool $toBeKept = false): self
    {
        $fields = new Fields($json, InvalidTrigger::class, 'A trigger');
        $kind = Kind::from($fields->word('kind', Kind::ofTriggers(), ''));
        $pages = $fields->has('pages') ? $fields->part('pages', PageRule::read(...)) : null;
        if ($kind === Kind::Page && $pages === null) {
            throw new InvalidTrigger('Say on which pages; a rule with "all": [] means every page.', 'pages');
        }

        $trigger = new self(
            $kind,
            $kind === Kind::Event ? $fields->pattern('name', '/\A[A-Za-z][A-Za-z0-9_.-]{0,63}\z/', 'The name of an event is needed: letters, digits, "_", "." and "-".') : null,
            $pages,
            $kind->hasSelector() ? self::selector($fields) : null,
            self::when($fields, $kind, $toBeKept),
            self::readAmount($fields, $kind),
        );
        $toBeKept && $fields->nothingElse();

        return $trigger;
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return $this->members('name');
    }

    /** @param Fields<InvalidTrigger> $fields */
    private static function selector(Fields $fields): string
    {
        $selector = $fields->text('selector', 500);

        return preg_match('/[{}<]/', $selector) === 1 ? throw new InvalidTrigger('A CSS selector holds no "{", "}" or "<".', 'selector') : $selector;
    }

    /** @param Fields<InvalidTrigger> $fields */
    private static function when(Fields $fields, Kind $kind, bool $toBeKept): ?Rule
    {
        if (! in_array($kind, [Kind::Event, Kind::Data], true)) {
            return null;
        }
        if (! $fields->has('when')) {
            return $kind === Kind::Event ? null : throw new InvalidTrigger('Say what is pushed: a condition on data.…, such as data.event is "booked".', 'when');
        }
        $place = $kind === Kind::Event ? Place::Happening : Place::Browser;

        return $fields->part('when', static fn (mixed $rule): Rule => RuleReader::read($rule, $toBeKept ? $place : null));
    }
}
