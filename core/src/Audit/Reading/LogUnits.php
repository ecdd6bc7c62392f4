<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Reading;

use Pellix\Core\Audit\Setup;
use Pellix\Core\Counting\TwoAtOnce;
use Pellix\Core\Formats\Spool;

/** A log that was read once and put aside on disk, to be looked at unit by unit (a visitor, or a user), in bounded memory. */
final class LogUnits
{
    /** A part with more bytes is divided once more. */
    private const LARGEST_PART = 12_000_000;
    private const SMALLER_PARTS = 16;

    /**
     * @param list<Intake> $intakes
     * @param int          $lines   of the log
     * @param int          $events  that were read, copies of an id included
     * @param int          $later   events after the moment of the audit, which are left out
     * @param string       $fingerprint eight bytes
     */
    private function __construct(private readonly Setup $setup, public readonly array $intakes, public readonly int $lines, public readonly int $events, public readonly int $later, public readonly Skipped $skipped, public readonly string $fingerprint)
    {
    }

    /**
     * @param non-empty-list<iterable<int, mixed>> $pieces   one or two, in order: line number => what the line holds, or an `InvalidLog`
     * @param callable(int): mixed                 $progress is told now and then how many lines were read, about
     */
    public static function read(array $pieces, Setup $setup, callable $progress): self
    {
        $intakes = array_map(static fn (): Intake => new Intake($setup), $pieces);
        $read = count($pieces) === 1
            ? [self::piece($intakes[0], $pieces[0], $progress)]
            : TwoAtOnce::run(static fn (int $half): array => self::piece($intakes[$half], $pieces[$half], $half === 0 ? static fn (int $lines) => $progress(2 * $lines) : static fn () => null));
        [$lines, $later, $skipped, $events] = [$read[0]['lines'], $read[0]['later'], $read[0]['skipped'], $read[0]['events']];
        if (isset($read[1])) {
            $lines += $read[1]['lines'];
            $later += $read[1]['later'];
            $events += $read[1]['events'];
            $skipped->plus($read[1]['skipped']);
            $read[0]['fingerprint'] ^= $read[1]['fingerprint'];
        }

        return new self($setup, $intakes, $lines, $events, $later, $skipped, $read[0]['fingerprint']);
    }

    /**
     * @param iterable<int, mixed> $rows
     * @param callable(int): mixed $progress
     *
     * @return array{lines: int, events: int, later: int, skipped: Skipped, fingerprint: string}
     */
    private static function piece(Intake $intake, iterable $rows, callable $progress): array
    {
        $intake->read($rows, $progress);

        return ['lines' => $intake->lines, 'events' => $intake->cells->events, 'later' => $intake->cells->later, 'skipped' => $intake->skipped, 'fingerprint' => $intake->cells->fingerprint];
    }

    /**
     * Looks at every second part of the units; each part can be looked at once.
     *
     * @param callable(Unit): void $look
     * @param callable(): void     $between is called between the parts
     */
    public function half(int $half, callable $look, callable $between): void
    {
        for ($part = $half; $part < Intake::PARTS; $part += 2) {
            $this->part(array_map(static fn (Intake $intake) => $intake->log->part($part), $this->intakes), 1, $look);
            foreach ($this->intakes as $intake) {
                $intake->log->drop($part);
            }
            $between();
        }
    }

    /**
     * @param list<resource>       $files with all events of some units, of each piece of the log
     * @param callable(Unit): void $look
     */
    private function part(array $files, int $depth, callable $look): void
    {
        if ($depth <= 3 && array_sum(array_map(static fn ($file): int => fstat($file)['size'] ?? 0, $files)) > self::LARGEST_PART) {
            Spool::inParts($files, self::SMALLER_PARTS, static fn (string $line): int => crc32("{$depth} ".substr($line, 0, (int) strpos($line, "\t"))), fn (array $parts) => $this->part($parts, $depth + 1, $look));

            return;
        }
        /** @var array<string, list<string>> $units */
        $units = [];
        foreach ($files as $file) {
            while (($line = fgets($file)) !== false) {
                $unit = substr($line, 0, (int) strpos($line, "\t"));
                $units[$unit][] = substr($line, 0, -1);
                if (count($units[$unit]) >= 3 * Unit::MOST_EVENTS) {
                    $units[$unit] = self::earliest($units[$unit]);
                }
            }
        }
        // Not by the lines: whatever has a bound shall not hang on their order.
        ksort($units, SORT_STRING);
        foreach ($units as $unit => $lines) {
            $look(new Unit(Row::text((string) $unit), $lines, $this->setup));
            unset($units[$unit]);
        }
    }

    /**
     * Of somebody who sends without end, those that may be looked at.
     *
     * @param list<string> $lines
     *
     * @return list<string>
     */
    private static function earliest(array $lines): array
    {
        sort($lines, SORT_STRING);

        return array_slice($lines, 0, 2 * Unit::MOST_EVENTS);
    }
}
