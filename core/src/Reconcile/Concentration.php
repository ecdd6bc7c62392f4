<?php

declare(strict_types=1);

namespace Pellix\Core\Reconcile;

use Pellix\Core\Statistics\FalseDiscovery;
use Pellix\Core\Statistics\Hypergeometric;

/** Where what is missing concentrates: over values of some dimensions, such as hours of the day, pages or browsers. */
final class Concentration
{
    private const MOST_VALUES = 2000;
    private const FEWEST = 3;
    private const ALPHA = 0.01;
    private const MOST_TOLD = 12;

    /** @var array<string, array<string, array{int, int}>> dimension => value => missing, and all */
    private array $of = [];

    private int $missing = 0;
    private int $all = 0;

    /** @param array<string, string> $parts dimension => value */
    public function add(array $parts, bool $isMissing): void
    {
        $this->all++;
        $this->missing += $isMissing ? 1 : 0;
        foreach ($parts as $dimension => $value) {
            $known = $this->of[$dimension][$value] ?? [0, 0];
            if ($known[1] > 0 || count($this->of[$dimension] ?? []) < self::MOST_VALUES) {
                $this->of[$dimension][$value] = [$known[0] + ($isMissing ? 1 : 0), $known[1] + 1];
            }
        }
    }

    /** @return list<array{dimension: string, value: string, missing: int, all: int, q: float}> the clearest first; q by Fisher's test, adjusted (Benjamini–Hochberg) */
    public function toArray(): array
    {
        $tested = [];
        foreach ($this->of as $dimension => $values) {
            foreach ($values as $value => [$missing, $all]) {
                // Where every order has a value of its own, the value tells nothing.
                if ($missing >= self::FEWEST && $all < $this->all) {
                    $tested["{$dimension}\n{$value}"] = Hypergeometric::logAtMost($all - $missing, $all, $this->all - $this->missing, $this->all);
                }
            }
        }
        $told = [];
        foreach (FalseDiscovery::adjust($tested) as $key => $log) {
            if ($log < log(self::ALPHA)) {
                [$dimension, $value] = explode("\n", (string) $key, 2);
                [$missing, $all] = $this->of[$dimension][$value];
                $told[] = ['dimension' => (string) $dimension, 'value' => (string) $value, 'missing' => $missing, 'all' => $all, 'q' => exp($log)];
            }
        }
        usort($told, static fn (array $a, array $b): int => $a['q'] <=> $b['q'] ?: $b['missing'] <=> $a['missing']);

        return array_slice($told, 0, self::MOST_TOLD);
    }
}
