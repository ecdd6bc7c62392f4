<?php

declare(strict_types=1);

namespace Pellix\Core\Triggers;

use Pellix\Core\Events\LogEvent;
use Pellix\Core\Happenings\InvalidHappening;
use Pellix\Core\Rules\Combination;

/** Whether a recorded event would set a trigger off, as far as a record can tell. */
final class TriggerTrace
{
    /** @return array{kind: string, matched: bool|null, conditions: list<array{fact: string, op: string, value: mixed, seen: mixed, holds: bool}>} `matched` is null where no event tells: the clock and the data layer set it off, and a browser knows more selectors than can be recognised in a record */
    public static function of(Trigger $trigger, LogEvent $event): array
    {
        if ($trigger->event === null && $trigger->kind->recordedAs() === null) {
            return ['kind' => $trigger->kind->value, 'matched' => null, 'conditions' => []];
        }
        try {
            $conditions = $trigger->explain($event);
        } catch (InvalidHappening) {
            return ['kind' => $trigger->kind->value, 'matched' => null, 'conditions' => []];
        }

        return ['kind' => $trigger->kind->value, 'matched' => self::matches($trigger, $event, $conditions), 'conditions' => $conditions];
    }

    /**
     * The rules say themselves whether they hold: one of several conditions may well not.
     *
     * @param list<array{fact: string, op: string, value: mixed, seen: mixed, holds: bool}> $conditions
     */
    private static function matches(Trigger $trigger, LogEvent $event, array $conditions): bool
    {
        $within = array_filter($conditions, static fn (array $one): bool => $one['op'] === 'is within' && ! $one['holds']);

        return $conditions[0]['holds'] && $within === []
            && ($trigger->amount === null || $event->number((string) $trigger->kind->amount()) >= $trigger->amount)
            && ($trigger->when ?? Combination::all([]))->matches($event->facts())
            && ($trigger->pages === null || $trigger->pages->matches($event->url));
    }
}
