<?php

declare(strict_types=1);

namespace Demo\Seed;

use Pellix\Core\Experiments\Experiment as Declared;

/**
 * What variants of the demo's experiments do to whoever sees them: invented, and worked out from the visitor's id alone, so that the rest of the
 * traffic stays as it is. An effect is a list of `[what, variant, chance, …]`:
 *
 * - `goes on`: whoever's visit ends on a page (or under it) goes on over others: `[…, from, pages]`
 * - `stops`: whoever would come to a page does not: `[…, page]`
 * - `reads less`: tells of no attention on pages under an address: `[…, under]`
 * - `gives`: a gift is so many times as large: `[…, times]`
 */
final readonly class Effects
{
    /** @param list<array{string, float, list<mixed>}> $all what, chance, and the rest, of the variants that a visitor is in */
    private function __construct(private string $visitor, private array $all)
    {
    }

    /** @param list<array{declared: Declared, effects: list<list<mixed>>}> $running */
    public static function on(string $visitor, array $running): self
    {
        $all = [];
        foreach ($running as $one) {
            $variant = $one['effects'] === [] ? null : $one['declared']->assigner()->variantOf($visitor);
            foreach ($one['effects'] as [$what, $of, $chance, $rest]) {
                if ($variant === $of) {
                    $all[] = [(string) $what, (float) $chance, (array) $rest];
                }
            }
        }

        return new self($visitor, $all);
    }

    /**
     * @param list<string> $walk paths of a visit
     *
     * @return list<string>
     */
    public function walk(array $walk): array
    {
        foreach ($this->all as [$what, $chance, $rest]) {
            if ($what === 'goes on' && $this->happens("{$what} {$rest[0]}", $chance) && str_starts_with((string) end($walk), $rest[0])) {
                $walk = [...$walk, ...$rest[1]];
            }
            $at = $what === 'stops' && $this->happens("{$what} {$rest[0]}", $chance) ? array_search($rest[0], $walk, true) : false;
            if ($at !== false) {
                $walk = array_slice($walk, 0, $at);
            }
        }

        return $walk;
    }

    /**
     * @param array<string, mixed> $event
     *
     * @return array<string, mixed>|null null where it does not happen
     */
    public function event(array $event): ?array
    {
        foreach ($this->all as [$what, $chance, $rest]) {
            if ($what === 'reads less' && $event['name'] === 'engaged' && str_contains($event['url'], $rest[0]) && $this->happens($what, $chance)) {
                return null;
            }
            if ($what === 'gives' && $event['name'] === 'order' && $this->happens($what, $chance)) {
                $event['props']['value'] *= $rest[0];
            }
        }

        return $event;
    }

    private function happens(string $what, float $chance): bool
    {
        return hexdec(substr(hash('sha256', "{$what} {$this->visitor}"), 0, 8)) / 0xFFFFFFFF < $chance;
    }
}
