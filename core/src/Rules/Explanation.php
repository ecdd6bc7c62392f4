<?php

declare(strict_types=1);

namespace Pellix\Core\Rules;

/** Why a rule matched or not: each of its conditions with the value that it saw. */
final class Explanation
{
    /** @return list<array{fact: string, op: string, value: mixed, seen: string|int|float|bool|null, holds: bool}> from left to right */
    public static function of(Rule $rule, Facts $facts): array
    {
        $lines = [];
        foreach ($rule->conditions() as $condition) {
            $lines[] = [
                'fact' => $condition->fact,
                'op' => $condition->op->value,
                'value' => $condition->value,
                'seen' => $facts->get($condition->fact),
                'holds' => $condition->matches($facts),
            ];
        }

        return $lines;
    }
}
