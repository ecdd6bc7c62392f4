<?php

declare(strict_types=1);

namespace Pellix\Core\Audit;

/** What has come and gone from one audit to the next, by the findings' identities. */
final readonly class Comparison
{
    /**
     * @param list<string>               $new   identities
     * @param list<array<string, mixed>> $mended findings of the audit before that are no more
     * @param int                        $still
     */
    private function __construct(public array $new, public array $mended, public int $still)
    {
    }

    /**
     * @param list<array<string, mixed>> $before findings as `Report::toArray()` has them
     * @param list<array<string, mixed>> $now
     */
    public static function between(array $before, array $now): self
    {
        $before = self::flat($before);
        $now = self::flat($now);

        return new self(array_map(strval(...), array_keys(array_diff_key($now, $before))), array_values(array_diff_key($before, $now)), count(array_intersect_key($now, $before)));
    }

    /**
     * @param array<mixed> $findings
     *
     * @return array<string, array<string, mixed>> identity => finding, with those that follow from others beside them
     */
    public static function flat(array $findings): array
    {
        $flat = [];
        /** @var array<string, mixed> $finding */
        foreach ($findings as $finding) {
            $flat[is_string($finding['identity'] ?? null) ? $finding['identity'] : ''] = $finding;
            $flat += self::flat(is_array($finding['consequences'] ?? null) ? $finding['consequences'] : []);
        }

        return $flat;
    }

    /** `1 new, 2 mended`, `nothing new, nothing mended`. */
    public function words(): string
    {
        $new = count($this->new);
        $mended = count($this->mended);

        return $new + $mended === 0 ? 'nothing new, nothing mended' : ($new === 0 ? 'nothing' : (string) $new).' new, '.($mended === 0 ? 'nothing' : (string) $mended).' mended';
    }
}
