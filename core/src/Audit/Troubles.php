<?php

declare(strict_types=1);

namespace Pellix\Core\Audit;

/**
 * The troubles of one experiment from one audit to the next: each is told once, however often it is found again and whichever
 * finding leads it; it is over when no audit finds any of it, and what comes back soon after is the old one.
 */
final readonly class Troubles
{
    /** So long after it was over a trouble is the same one, in seconds (common practice, no source). */
    private const SOON = 7 * 86_400;

    /**
     * @param list<Alarm>                $new   to be told
     * @param array<int, list<string>>   $grown trouble => areas that it has now
     * @param list<int>                  $over  troubles that are over
     * @param list<int>                  $back  troubles that were over and are not
     */
    private function __construct(public array $new, public array $grown, public array $over, public array $back)
    {
    }

    /**
     * @param array<int, array{areas: list<string>, over: int|null}> $known   trouble => its areas, and when it was over, in seconds since 1970
     * @param list<Alarm>                                            $alarms
     * @param list<string>                                           $present areas that are in trouble
     * @param int                                                    $now     in seconds since 1970
     */
    public static function next(array $known, array $alarms, array $present, int $now): self
    {
        $new = $grown = $over = $back = [];
        $lively = array_filter($known, static fn (array $one): bool => $one['over'] === null || $now - $one['over'] <= self::SOON);
        foreach ($alarms as $alarm) {
            $same = null;
            foreach ($lively as $id => $one) {
                if (array_intersect($one['areas'], $alarm->areas) !== []) {
                    $same = $id;
                    break;
                }
            }
            if ($same === null) {
                $new[] = $alarm;
                continue;
            }
            $grown[$same] = $lively[$same]['areas'] = array_values(array_unique([...$lively[$same]['areas'], ...$alarm->areas]));
            if ($known[$same]['over'] !== null) {
                $back[] = $same;
            }
        }
        foreach ($known as $id => $one) {
            if ($one['over'] === null && ! isset($grown[$id]) && array_intersect($one['areas'], $present) === []) {
                $over[] = $id;
            }
        }

        return new self($new, $grown, $over, array_values(array_unique($back)));
    }
}
