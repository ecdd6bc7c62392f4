<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Reading;

use Pellix\Core\Audit\Setup;
use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Formats\Spool;

/** One piece of a log, put aside on disk by its units, and the ids of its events by the id. */
final class Intake
{
    /** Parts of the units, and of the ids. */
    public const PARTS = 128;
    public const ID_PARTS = 32;

    private const TOLD_EVERY = 65_536;

    /** Where so many of the lines cannot be read it is no event log. */
    private const NO_LOG = 0.95;

    public readonly Spool $log;
    public readonly Spool $ids;

    /** Hashes of visitors, where the units are users; null where they are not. */
    public readonly ?Spool $visitors;

    public readonly Cells $cells;

    public int $lines = 0;
    public Skipped $skipped;

    public function __construct(Setup $setup)
    {
        $this->log = new Spool(self::PARTS);
        $this->ids = new Spool(self::ID_PARTS);
        $this->visitors = $setup->experiment->unit === 'user' ? new Spool(self::ID_PARTS) : null;
        $this->cells = new Cells($setup);
        $this->skipped = new Skipped();
    }

    /**
     * @param iterable<int, mixed> $rows     line number => what the line holds, or an `InvalidLog` of why it holds nothing
     * @param callable(int): mixed $progress is told now and then how many lines were read
     */
    public function read(iterable $rows, callable $progress): void
    {
        foreach ($rows as $line => $row) {
            if (++$this->lines % self::TOLD_EVERY === 0) {
                $progress($this->lines);
                if ($this->skipped->lines > self::NO_LOG * $this->lines) {
                    $this->skipped->add($line, 'Nearly no line up to here is an event, so the rest is not read.');
                    $this->skipped->isCut = true;
                    break;
                }
            }
            try {
                $this->take($line, $row);
            } catch (InvalidLog $e) {
                $this->skipped->refuse($line, $e);
            }
        }
        $this->log->flush();
        $this->ids->flush();
        $this->visitors?->flush();
    }

    /** @throws InvalidLog */
    private function take(int $line, mixed $row): void
    {
        $cells = $this->cells->of($line, $row instanceof InvalidLog ? throw $row : $row);
        if ($cells === null) {
            return;
        }
        [$unit, $text, $id, $visitor] = $cells;
        if ($this->visitors !== null) {
            $known = hash('xxh64', $visitor, true);
            $this->visitors->add(ord($known[7]), $known);
        }
        $this->ids->add(ord($id[7]), $id.pack('P', crc32($visitor)));
        $this->log->add(crc32($unit), "{$text}\n");
    }
}
