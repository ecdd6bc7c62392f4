<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Tags;

use Pellix\Core\Events\LogEvent;
use Pellix\Core\Goals\ElementSelector;
use Pellix\Core\Goals\InvalidGoal;
use Pellix\Core\Rules\Combination;
use Pellix\Core\Rules\Explanation;

/** Whether a recorded event would set a trigger off, as far as a record can tell. */
final class TriggerTrace
{
    private const EVENTS = ['page' => 'page_view', 'click' => 'click', 'form' => 'form_submit', 'scroll' => 'scroll'];

    /** @return array{kind: string, matched: bool|null, conditions: list<array{fact: string, op: string, value: mixed, seen: mixed, holds: bool}>} `matched` is null where no event tells: the clock and the data layer set it off */
    public static function of(Trigger $trigger, LogEvent $event): array
    {
        $name = $trigger->kind === 'event' ? $trigger->name : (self::EVENTS[$trigger->kind] ?? null);
        if ($name === null) {
            return ['kind' => $trigger->kind, 'matched' => null, 'conditions' => []];
        }
        $conditions = [['fact' => 'event.name', 'op' => 'is', 'value' => $name, 'seen' => $event->name, 'holds' => $event->name === $name]];
        if ($event->name !== $name) {
            return ['kind' => $trigger->kind, 'matched' => false, 'conditions' => $conditions];
        }
        if ($trigger->selector !== null) {
            try {
                $path = $event->text('path') ?? '';
                $holds = ElementSelector::read($trigger->selector)->matches($path);
                $conditions[] = ['fact' => 'event.props.path', 'op' => 'is within', 'value' => $trigger->selector, 'seen' => $path, 'holds' => $holds];
            } catch (InvalidGoal) {
                // A browser knows more selectors than can be recognised in a record.
                return ['kind' => $trigger->kind, 'matched' => null, 'conditions' => $conditions];
            }
        }
        if ($trigger->kind === 'scroll') {
            $seen = $event->number('percent');
            $conditions[] = ['fact' => 'event.props.percent', 'op' => 'gte', 'value' => $trigger->amount, 'seen' => $seen, 'holds' => $seen >= $trigger->amount];
        }
        $none = Combination::all([]);
        $conditions = [...$conditions, ...Explanation::of($trigger->when ?? $none, $event->facts()), ...Explanation::of($trigger->pages->rule ?? $none, $event->facts())];
        $rulesHold = ($trigger->when ?? $none)->matches($event->facts()) && ($trigger->pages === null || $trigger->pages->matches($event->url));
        $others = array_filter(array_slice($conditions, 1, ($trigger->selector !== null || $trigger->kind === 'scroll') ? 1 : 0), static fn (array $one): bool => ! $one['holds']);

        return ['kind' => $trigger->kind, 'matched' => $rulesHold && $others === [], 'conditions' => $conditions];
    }
}
