<?php

declare(strict_types=1);

namespace Pellix\Core\Formats;

/** Records that are put aside on disk in a number of files, so that what belongs together can be read together later. */
final class Spool
{
    private const BUFFER = 1 << 14;

    /** @var array<int, resource> */
    private array $files = [];

    /** @var array<int, string> what was not written yet */
    private array $buffers = [];

    public function __construct(private readonly int $number)
    {
    }

    /** @param int $hash of what belongs together */
    public function add(int $hash, string $record): void
    {
        $part = $hash % $this->number;
        $this->buffers[$part] = ($this->buffers[$part] ?? '').$record;
        if (strlen($this->buffers[$part]) > self::BUFFER) {
            $this->write($part);
        }
    }

    /** @return \Generator<int, resource> each file that something was put into, from its beginning; gone when the next is asked for */
    public function files(): \Generator
    {
        foreach (array_keys($this->buffers) as $part) {
            $this->write($part);
        }
        ksort($this->files);
        foreach ($this->files as $part => $file) {
            rewind($file);
            yield $part => $file;
            fclose($file);
            unset($this->files[$part]);
        }
    }

    private function write(int $part): void
    {
        $this->files[$part] ??= tmpfile() ?: throw new \RuntimeException('No temporary file can be made.');
        if (fwrite($this->files[$part], $this->buffers[$part]) !== strlen($this->buffers[$part])) {
            throw new \RuntimeException('The disk for temporary files is full.');
        }
        $this->buffers[$part] = '';
    }
}
