<?php

namespace App\Metrics;

/** Whole lines that were added to a log since it was looked at last; each is told once. */
final readonly class Tail
{
    /** So much is read at a time; what is beyond that is passed over, so that a log that ran away holds nothing up. */
    private const MOST_BYTES = 64 * 1024 * 1024;

    private const LONGEST_LINE = 65536;

    /** @param string $mark a file that says how far was read */
    public function __construct(private string $log, private string $mark)
    {
    }

    /** @return \Generator<int, string> */
    public function lines(): \Generator
    {
        $file = @fopen($this->log, 'r');
        if ($file === false) {
            return;
        }
        $size = (int) fstat($file)['size'];
        $from = (int) @file_get_contents($this->mark);
        // A shorter one was begun anew.
        $from = $from > $size ? 0 : max($from, $size - self::MOST_BYTES);
        fseek($file, $from);
        while (ftell($file) < $size && ($line = fgets($file, self::LONGEST_LINE)) !== false) {
            if (! str_ends_with($line, "\n") && strlen($line) < self::LONGEST_LINE - 1) {
                break;
            }
            $from += strlen($line);

            yield rtrim($line, "\n");
        }
        fclose($file);
        file_put_contents($this->mark, (string) $from);
    }

    /** Begins the log anew where it has grown large and all of it was read; whoever writes goes on at its new end. */
    public function shorten(int $largest): void
    {
        clearstatcache(true, $this->log);
        if (is_file($this->log) && filesize($this->log) > $largest) {
            file_put_contents($this->log, '');
            file_put_contents($this->mark, '0');
        }
    }
}
