<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Exclusions;

use Pellix\Core\Audit\Evidence;
use Pellix\Core\Statistics\Contingency;
use Pellix\Core\Statistics\Hypergeometric;

/** What an exclusion left out, and whether it took as many of each variant: where it did not, what is left is no fair comparison. */
final readonly class Effect
{
    /**
     * @param int             $units  visitors (or users) that are left out whole
     * @param list<int>       $by     of these, who would count for each variant
     * @param list<float>     $parts  what part of each variant that is
     * @param float|null      $logP   natural logarithm of p that chance made such a difference; null where nothing was left out
     */
    private function __construct(public Exclusion $exclusion, public int $units, public int $events, public array $by, public array $parts, public ?float $logP)
    {
    }

    /** @return list<self> */
    public static function all(Evidence $evidence): array
    {
        $sum = $evidence->tally->exclusions;
        $variants = count($evidence->setup->variants);
        $kept = array_values($evidence->variants());
        $effects = [];
        foreach ($evidence->setup->settings->exclusions->all as $place => $one) {
            $by = $sum->byVariant($place, $variants);
            $parts = array_map(static fn (int $out, int $left): float => $out / max(1, $out + $left), $by, $kept);
            $effects[] = new self($one, $sum->units[$place] ?? 0, $sum->events[$place] ?? 0, $by, $parts, array_sum($by) === 0 ? null : self::test($by, $kept));
        }

        return $effects;
    }

    /**
     * Fisher's exact test for two variants, Pearson's chi-square for more.
     *
     * @param list<int> $out
     * @param list<int> $kept
     */
    private static function test(array $out, array $kept): float
    {
        return count($out) === 2 ? Hypergeometric::logFisher([$out[0], $kept[0]], [$out[1], $kept[1]]) : Contingency::test([$out, $kept])->logP;
    }

    /**
     * @param list<string> $variants
     *
     * @return array<string, mixed>
     */
    public function toArray(array $variants): array
    {
        return [
            'name' => $this->exclusion->name,
            'kind' => $this->exclusion->kind->value,
            'made' => $this->exclusion->made?->format('Y-m-d\TH:i:s\Z'),
            'visitors' => $this->units,
            'events' => $this->events,
            'by_variant' => array_combine($variants, $this->by),
            'p' => $this->logP === null ? null : exp($this->logP),
        ];
    }
}
