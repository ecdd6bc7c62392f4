<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Reading;

use Pellix\Core\Formats\Spool;

/** Lines that processes have put aside, by their first cell: what belongs together comes together, a part of it at a time. */
final class Gathered
{
    private const PARTS = 32;

    /**
     * @param list<Spool> $halves
     *
     * @return \Generator<int, array{string, non-empty-list<list<string>>}> the first cell, and the other cells of each line that has it
     */
    public static function of(array $halves): \Generator
    {
        $parts = new Spool(self::PARTS);
        foreach ($halves as $half) {
            $file = $half->part(0);
            while (($line = fgets($file)) !== false) {
                $parts->add(crc32(substr($line, 0, (int) strpos($line, "\t"))), $line);
            }
        }
        for ($part = 0; $part < self::PARTS; $part++) {
            $together = [];
            $file = $parts->part($part);
            while (($line = fgets($file)) !== false) {
                $cells = explode("\t", rtrim($line, "\n"));
                // With a mark, since PHP would take digits for a number.
                $together['#'.array_shift($cells)][] = $cells;
            }
            ksort($together);
            foreach ($together as $key => $lines) {
                yield [substr((string) $key, 1), $lines];
            }
        }
    }
}
