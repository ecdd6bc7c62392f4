<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Reading;

use Pellix\Core\Events\CutLog;
use Pellix\Core\Events\InvalidLog;

/** Lines that were left out, each with its reason; the first of each kind by their numbers. */
final class Skipped
{
    private const FIRST = 100;

    private const MOST_KINDS = 40;

    public int $lines = 0;

    /** Whether the file could be read up to a point only. */
    public bool $isCut = false;

    /** @var array<string, int> reason => lines */
    public array $kinds = [];

    /** @var array<string, list<int>> reason => numbers of the first lines */
    private array $first = [];

    public function add(int $line, string $reason): void
    {
        $this->lines++;
        $reason = mb_strcut(mb_scrub($reason, 'UTF-8'), 0, 300, 'UTF-8');
        if (! isset($this->kinds[$reason]) && count($this->kinds) >= self::MOST_KINDS) {
            $reason = 'Other reasons.';
        }
        $this->kinds[$reason] = ($this->kinds[$reason] ?? 0) + 1;
        if (count($this->first[$reason] ?? []) < self::FIRST) {
            $this->first[$reason][] = $line;
        }
    }

    public function refuse(int $line, InvalidLog $why): void
    {
        [, $field] = explode('.', $why->field, 2) + [1 => ''];
        $this->add($line, ($field === '' ? '' : "Field {$field}: ").$why->getMessage());
        $this->isCut = $this->isCut || $why instanceof CutLog;
    }

    /** What was left out of a later piece of the same file. */
    public function plus(self $later): void
    {
        $this->lines += $later->lines;
        $this->isCut = $this->isCut || $later->isCut;
        foreach ($later->kinds as $reason => $lines) {
            $this->kinds[$reason] = ($this->kinds[$reason] ?? 0) + $lines;
            $this->first[$reason] = array_slice([...$this->first[$reason] ?? [], ...$later->first[$reason]], 0, self::FIRST);
        }
    }

    /** @return list<array{line: int, reason: string}> in the order of the file */
    public function toArray(): array
    {
        $all = [];
        foreach ($this->first as $reason => $lines) {
            foreach ($lines as $line) {
                $all[] = ['line' => $line, 'reason' => (string) $reason];
            }
        }
        usort($all, static fn (array $a, array $b): int => $a['line'] <=> $b['line'] ?: strcmp($a['reason'], $b['reason']));

        return $all;
    }
}
