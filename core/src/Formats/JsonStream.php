<?php

declare(strict_types=1);

namespace Pellix\Core\Formats;

/**
 * Reads some values out of a long JSON text, without ever holding more than one of them: what lies beside is passed over.
 * Depth and size of a value are bounded before it costs memory.
 */
final class JsonStream
{
    public const DEEPEST = 64;

    /** A single value may have so many bytes. */
    public const LARGEST = 32_000_000;

    private const CHUNK = 1 << 18;

    private string $buffer = '';

    private int $at = 0;

    /** The line, from 1, at the place up to which line breaks were counted. */
    private int $line = 1;

    private int $counted = 0;

    /**
     * @param resource     $stream
     * @param list<string> $paths
     */
    private function __construct(private $stream, private readonly array $paths)
    {
    }

    /**
     * @param resource     $stream
     * @param list<string> $paths  members of objects (`log.entries`) whose values are wanted; of lists each element, or an empty list
     *
     * @return \Generator<int, array{string, int|null, int, mixed}> path, place in its list (null where it is none), line, and value
     *
     * @throws InvalidJson with the line
     */
    public static function values($stream, array $paths): \Generator
    {
        $reader = new self($stream, $paths);
        $reader->more(3);
        if (str_starts_with($reader->buffer, "\xef\xbb\xbf")) {
            $reader->at = 3;
        }
        yield from $reader->value('');
        if ($reader->peek() !== '') {
            throw $reader->complaint('the end of the file was expected');
        }
    }

    /** @return \Generator<int, array{string, int|null, int, mixed}> */
    private function value(string $path): \Generator
    {
        $first = $this->peek();
        $isWanted = in_array($path, $this->paths, true);
        if ($isWanted && $first === '[') {
            yield from $this->elements($path);
        } elseif ($first === '{' && array_filter($this->paths, static fn (string $one): bool => $path === '' || str_starts_with($one, "{$path}.")) !== []) {
            yield from $this->members($path);
        } elseif ($isWanted) {
            $line = $this->lineHere();
            yield [$path, null, $line, $this->decoded($line)];
        } else {
            $this->take(false);
        }
    }

    /** @return \Generator<int, array{string, int|null, int, mixed}> */
    private function elements(string $path): \Generator
    {
        $begin = $this->lineHere();
        $this->at++;
        for ($i = 0; $this->peek() !== ']' || $i > 0; $i++) {
            $line = $this->lineHere();
            yield [$path, $i, $line, $this->decoded($line)];
            if ($this->separator(']')) {
                return;
            }
            $this->peek();
        }
        $this->at++;
        yield [$path, null, $begin, []];
    }

    /** @return \Generator<int, array{string, int|null, int, mixed}> */
    private function members(string $path): \Generator
    {
        $this->at++;
        for ($i = 0; $this->peek() !== '}' || $i > 0; $i++) {
            $line = $this->lineHere();
            $name = $this->peek() === '"' ? $this->decoded($line) : null;
            if (! is_string($name)) {
                throw $this->complaint('a text in double quotes was expected');
            }
            if ($this->peek() !== ':') {
                throw $this->complaint('":" after a name was expected');
            }
            $this->at++;
            yield from $this->value($path === '' ? $name : "{$path}.{$name}");
            if ($this->separator('}')) {
                return;
            }
        }
        $this->at++;
    }

    /** Passes a comma, or the end; whether it was the end. */
    private function separator(string $end): bool
    {
        $next = $this->peek();
        if ($next !== ',' && $next !== $end) {
            throw $this->complaint("\",\" or \"{$end}\" was expected");
        }
        $this->at++;

        return $next === $end;
    }

    private function decoded(int $line): mixed
    {
        try {
            return json_decode($this->take(true), true, self::DEEPEST, JSON_THROW_ON_ERROR | JSON_INVALID_UTF8_SUBSTITUTE);
        } catch (\JsonException $e) {
            throw new InvalidJson("Not valid JSON in the value that begins at line {$line}: {$e->getMessage()}.", (string) $line);
        }
    }

    /** Passes one value; its text, where that is wanted. */
    private function take(bool $isKept): string
    {
        $first = $this->peek();
        $text = '';
        $depth = 0;
        do {
            $from = $this->at;
            if ($this->at >= strlen($this->buffer) && ! $this->more(1)) {
                throw $this->complaint($first === '' || $depth > 0 ? 'the file ends within a value' : 'a value was expected');
            }
            $from = min($from, $this->at);
            $sign = $this->buffer[$this->at];
            if ($sign === '"') {
                $this->string();
            } elseif ($sign === '{' || $sign === '[') {
                $this->at++;
                if (++$depth > self::DEEPEST) {
                    throw $this->complaint('values stand within each other more than '.self::DEEPEST.' deep');
                }
            } elseif ($sign === '}' || $sign === ']') {
                if ($depth === 0) {
                    throw $this->complaint('a value was expected');
                }
                $this->at++;
                $depth--;
            } elseif ($depth > 0) {
                $this->at += strcspn($this->buffer, '"{}[]', $this->at);
            } else {
                $this->more(400);
                if (preg_match('/\G[-+.\w]+/', $this->buffer, $m, 0, $this->at) !== 1) {
                    throw $this->complaint('a value was expected');
                }
                $this->at += strlen($m[0]);
            }
            if ($isKept) {
                $text .= substr($this->buffer, $from, $this->at - $from);
                if (strlen($text) > self::LARGEST) {
                    throw $this->complaint('a single value has more than '.number_format(self::LARGEST / 1_000_000).' MB');
                }
            }
            $this->drop();
        } while ($depth > 0);

        return $text;
    }

    /** Passes a text in double quotes, which the buffer is made to hold. */
    private function string(): void
    {
        $end = $this->at + 1;
        while (true) {
            $end += strcspn($this->buffer, '"\\', $end);
            if ($end + 1 < strlen($this->buffer) && $this->buffer[$end] === '\\') {
                $end += 2;
                continue;
            }
            if ($end < strlen($this->buffer) && $this->buffer[$end] === '"') {
                break;
            }
            if (strlen($this->buffer) - $this->at > self::LARGEST) {
                throw $this->complaint('a single text has more than '.number_format(self::LARGEST / 1_000_000).' MB');
            }
            if (! $this->append()) {
                throw $this->complaint('the file ends within a text');
            }
        }
        $this->at = $end + 1;
    }

    /**
     * The next sign that is no white space; '' at the end.
     *
     * @phpstan-impure
     */
    private function peek(): string
    {
        while (true) {
            $this->at += strspn($this->buffer, " \t\r\n", $this->at);
            if ($this->at < strlen($this->buffer)) {
                return $this->buffer[$this->at];
            }
            if (! $this->more(1)) {
                return '';
            }
        }
    }

    /** Reads on until so many bytes lie ahead; false where there are none at all. */
    private function more(int $bytes): bool
    {
        $this->drop();
        while (strlen($this->buffer) - $this->at < $bytes && $this->append()) {
            // Until there is enough.
        }

        return $this->at < strlen($this->buffer);
    }

    private function append(): bool
    {
        $chunk = fread($this->stream, self::CHUNK);
        if ($chunk === false || $chunk === '') {
            return false;
        }
        $this->buffer .= $chunk;

        return true;
    }

    /** Lets go of what was passed. */
    private function drop(): void
    {
        if ($this->at > self::CHUNK) {
            $this->lineHere();
            $this->buffer = substr($this->buffer, $this->at);
            $this->at = $this->counted = 0;
        }
    }

    private function lineHere(): int
    {
        $this->line += substr_count($this->buffer, "\n", $this->counted, max(0, $this->at - $this->counted));
        $this->counted = max($this->counted, $this->at);

        return $this->line;
    }

    private function complaint(string $what): InvalidJson
    {
        $line = $this->lineHere();

        return new InvalidJson("Not valid JSON at line {$line}: {$what}.", (string) $line);
    }
}
