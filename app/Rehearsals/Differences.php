<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Models\Rehearsal;

/** What broke and what was mended from one rehearsal to a later one. Findings are told apart by their code and what they are about. */
final class Differences
{
    /** @return array{before: array<string, mixed>, after: array<string, mixed>, broke: list<array<string, mixed>>, mended: list<array<string, mixed>>, stayed: list<array<string, mixed>>, pictures: list<string>} */
    public static function between(Rehearsal $before, Rehearsal $after): array
    {
        [$old, $new] = [self::findings($before), self::findings($after)];

        return [
            'before' => Report::head($before),
            'after' => Report::head($after),
            'broke' => array_values(array_diff_key($new, $old)),
            // What was not looked at again is not mended.
            'mended' => array_values(array_filter(array_diff_key($old, $new), static fn (array $one): bool => ($one['variant'] === null || in_array($one['variant'], $after->variants, true)) && ($one['screen'] === null || in_array($one['screen'], $after->screens, true)))),
            'stayed' => array_values(array_intersect_key($new, $old)),
            'pictures' => array_values(array_intersect(Report::pictures($before), Report::pictures($after))),
        ];
    }

    /** @return array<string, array<string, mixed>> all that was found, by what tells it from others */
    public static function findings(Rehearsal $rehearsal): array
    {
        return array_column(array_merge(...$rehearsal->parts()->get()->map(Report::findings(...))->all(), ...[[]]), null, 'identity');
    }
}
