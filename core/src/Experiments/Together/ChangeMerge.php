<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments\Together;

use Pellix\Core\Formats\Same;

/**
 * Two people have changed one list of changes, each beginning with the same state of it: what both have done stands in the list
 * that comes of it. Where both have written the same change anew, both wordings stay, one after the other.
 *
 * A three-way merge by what changes are about, not by lines. Taking something back is a merge as well: from the state after it to the
 * state before it, into what others have made of the list since.
 *
 * @phpstan-type Json array<string, mixed>
 */
final readonly class ChangeMerge
{
    /**
     * @param list<Json> $changes
     * @param list<int>  $both    indexes of those where the two have met: each is worth a look
     */
    private function __construct(public array $changes, public array $both)
    {
    }

    /**
     * @param list<Json> $base   what one began with
     * @param list<Json> $mine   what came of it
     * @param list<Json> $theirs what somebody else has made of it meanwhile
     */
    public static function of(array $base, array $mine, array $theirs): self
    {
        if (Same::json($base, $theirs)) {
            return new self($mine, []);
        }
        if (Same::json($base, $mine)) {
            return new self($theirs, []);
        }
        $my = Aligned::of($base, $mine);
        $their = Aligned::of($base, $theirs);
        // The order is that of whoever has moved something; where both have, that of the other, which is kept already.
        $iLead = ! $my->keepsOrder() && $their->keepsOrder();
        [$leader, $follower] = $iLead ? [$my, $their] : [$their, $my];
        $slots = self::slots($leader, $follower);
        $changes = $both = [];
        foreach ($slots as [$i, $one]) {
            foreach ($i === null ? [[$one, false]] : self::met($base[$i], isset($my->places[$i]) ? $mine[$my->places[$i]] : null, isset($their->places[$i]) ? $theirs[$their->places[$i]] : null) as [$change, $isMet]) {
                $isMet && $both[] = count($changes);
                $changes[] = $change;
            }
        }

        return new self($changes, $both);
    }

    /**
     * The places of the list that comes of it.
     *
     * @return list<array{int|null, Json}> index of a change of the base and null, or null and a new change
     */
    private static function slots(Aligned $leader, Aligned $follower): array
    {
        $slots = self::ordered($leader);
        // Gone with the one who leads, and there with the other: it has a place all the same, where it may be that the other has written it anew.
        foreach (array_diff_key($follower->places, $leader->places) as $i => $place) {
            self::put($slots, [$i, []], self::before($follower, $place));
        }
        foreach ($follower->added() as $place) {
            $one = $follower->later[$place];
            // Both have thought of the same.
            if (array_filter($leader->added(), static fn (int $added): bool => Same::json($leader->later[$added], $one)) !== []) {
                continue;
            }
            if ($follower->places === [] || $place > max($follower->places)) {
                // It was added last, and may build on everything before.
                $slots[] = [null, $one];
            } else {
                self::put($slots, [null, $one], self::before($follower, $place));
            }
        }

        return $slots;
    }

    /** @return list<array{int|null, Json}> */
    private static function ordered(Aligned $aligned): array
    {
        $bases = array_flip($aligned->places);

        return array_map(static fn (int $place, array $one): array => isset($bases[$place]) ? [$bases[$place], []] : [null, $one], array_keys($aligned->later), $aligned->later);
    }

    /**
     * What stands before a place, the nearest first.
     *
     * @return list<array{int|null, Json}>
     */
    private static function before(Aligned $aligned, int $place): array
    {
        return array_reverse(array_slice(self::ordered($aligned), 0, $place));
    }

    /**
     * @param list<array{int|null, Json}> $slots
     * @param array{int|null, Json}       $slot
     * @param list<array{int|null, Json}> $after
     */
    private static function put(array &$slots, array $slot, array $after): void
    {
        foreach ($after as $wanted) {
            foreach ($slots as $at => $one) {
                if ($wanted[0] === null ? $one[0] === null && Same::json($one[1], $wanted[1]) : $one[0] === $wanted[0]) {
                    array_splice($slots, $at + 1, 0, [$slot]);

                    return;
                }
            }
        }
        array_unshift($slots, $slot);
    }

    /**
     * @param Json      $base
     * @param Json|null $mine   null where it was taken out
     * @param Json|null $theirs
     *
     * @return list<array{Json, bool}> changes, each with whether the two have met there
     */
    private static function met(array $base, ?array $mine, ?array $theirs): array
    {
        if ($mine === null || $theirs === null) {
            $left = $mine ?? $theirs;

            // What somebody has just worked on is not lost because somebody else took it out.
            return $left === null || Same::json($left, $base) ? [] : [[$left, true]];
        }
        if (Same::json($mine, $theirs) || Same::json($mine, $base)) {
            return [[$theirs, false]];
        }

        return Same::json($theirs, $base) ? [[$mine, false]] : [[$theirs, true], [$mine, true]];
    }
}
