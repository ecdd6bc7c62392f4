<?php

declare(strict_types=1);

namespace Pellix\Core\Formats;

/**
 * Records that are put aside on disk in a number of files, so that what belongs together can be read together later. The files
 * have no names, so they are gone with the process, however it ends; a process that was forked meanwhile shares them.
 */
final class Spool
{
    private const BUFFER = 1 << 14;

    /** @var array<int, resource> */
    private array $files = [];

    /** @var array<int, string> what was not written yet */
    private array $buffers;

    public function __construct(private readonly int $number)
    {
        for ($part = 0; $part < $number; $part++) {
            $this->files[] = self::file();
        }
        $this->buffers = array_fill(0, $number, '');
    }

    /** @return resource an empty file without a name */
    public static function file()
    {
        $name = @tempnam(sys_get_temp_dir(), 'pellix');
        $file = $name === false ? false : @fopen($name, 'w+b');
        $name !== false && @unlink($name);

        return $file ?: throw new \RuntimeException('No temporary file can be made.');
    }

    /** @param int $hash of what belongs together */
    public function add(int $hash, string $record): void
    {
        $part = $hash % $this->number;
        $this->buffers[$part] .= $record;
        if (strlen($this->buffers[$part]) > self::BUFFER) {
            $this->write($part);
        }
    }

    /**
     * Looks at files of lines once more, part by part, each line in the part that its hash gives: what belongs together stays together.
     *
     * @param list<resource>                 $files
     * @param callable(string): int          $hash of a line
     * @param callable(list<resource>): void $look is given a part of each of them, in order
     */
    public static function inParts(array $files, int $number, callable $hash, callable $look): void
    {
        $divided = [];
        foreach ($files as $file) {
            $divided[] = $parts = new self($number);
            while (($line = fgets($file)) !== false) {
                $parts->add($hash($line), $line);
            }
        }
        for ($part = 0; $part < $number; $part++) {
            $look(array_map(static fn (self $parts) => $parts->part($part), $divided));
            foreach ($divided as $parts) {
                $parts->drop($part);
            }
        }
    }

    /** Writes all that was added, for whoever shares the files. */
    public function flush(): void
    {
        foreach ($this->buffers as $part => $buffer) {
            $buffer !== '' && $this->write($part);
        }
    }

    /** @return resource what was put there, from its beginning */
    public function part(int $part)
    {
        $this->buffers[$part] !== '' && $this->write($part);
        rewind($this->files[$part]);

        return $this->files[$part];
    }

    /** Gives the disk back before the rest is looked at. */
    public function drop(int $part): void
    {
        ftruncate($this->files[$part], 0);
    }

    private function write(int $part): void
    {
        if (@fwrite($this->files[$part], $this->buffers[$part]) !== strlen($this->buffers[$part])) {
            throw new \RuntimeException('The disk for temporary files is full.');
        }
        $this->buffers[$part] = '';
    }
}
