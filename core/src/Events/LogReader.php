<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

use Pellix\Core\Formats\Fields;
use Pellix\Core\Formats\InvalidText;
use Pellix\Core\Formats\Lines;

/**
 * Reads event logs: NDJSON, one object a line, or the same as CSV (RFC 4180) with a header row and `props.X` columns, which
 * commas, semicolons or tabs part. Both may be packed by gzip, and be UTF-8 or UTF-16 with a byte order mark.
 */
final class LogReader
{
    /** A log of more bytes is worth two processes. */
    public const WORTH_TWO = 10_000_000;

    public const FIELDS = ['id', 'visitor', 'user', 'time', 'received', 'name', 'url', 'referrer', 'agent'];

    /** Columns that are taken for properties. */
    public const SHORT = ['experiment', 'variant'];

    /** Properties that stay texts in CSV, even where they look like numbers. */
    public const TEXTS = ['experiment', 'variant', 'order_id'];

    public const SEPARATORS = [',', ';', "\t"];

    private const DEEPEST = 32;

    /**
     * What each line holds, not yet looked at; `event()` reads it.
     *
     * @param resource             $stream
     * @param bool|null            $csv    CSV; else NDJSON; null for what it looks like
     * @param LogColumns|null      $columns where the fields of an event stand, if not where they should
     * @param bool                 $goesOn of a line that cannot be read an `InvalidLog` is given, and the others are read
     *
     * @return \Generator<int, mixed> line number => what it holds
     *
     * @throws InvalidLog whose field is the number of the line
     */
    public static function rows($stream, ?bool $csv, ?LogColumns $columns = null, bool $goesOn = false): \Generator
    {
        $troubles = new \ArrayObject();
        $lines = Lines::of($stream, $goesOn ? static fn (int $line, string $why, bool $isEnd) => $troubles->append([$line, $why, $isEnd]) : null);
        if ($columns?->encoding !== null) {
            $lines = self::decoded($lines, $columns->encoding);
        }
        try {
            if ($csv ?? self::looksLikeCsv($lines)) {
                yield from self::csv($lines, $columns, $goesOn);
            } else {
                yield from self::ndjson($lines, $columns, $goesOn);
            }
        } catch (InvalidText $e) {
            throw new InvalidLog($e->getMessage(), $e->field);
        }
        yield from self::told($troubles);
    }

    /**
     * What was wrong with lines as such.
     *
     * @param \ArrayObject<int, array{int, string, bool}> $troubles
     *
     * @return \Generator<int, InvalidLog>
     */
    private static function told(\ArrayObject $troubles): \Generator
    {
        foreach ($troubles as [$line, $why, $isEnd]) {
            yield $line => $isEnd ? new CutLog($why, (string) $line) : new InvalidLog($why, (string) $line);
        }
    }

    /**
     * Lines of another encoding, in UTF-8.
     *
     * @param \Generator<int, string> $lines
     *
     * @return \Generator<int, string>
     */
    public static function decoded(\Generator $lines, string $encoding): \Generator
    {
        foreach ($lines as $number => $line) {
            yield $number => (string) mb_convert_encoding($line, 'UTF-8', $encoding);
        }
    }

    /**
     * The same in pieces that may be read at the same time, each by a process of its own: two of a long plain file of NDJSON,
     * one of anything else.
     *
     * @param int $from bytes that are worth two processes
     *
     * @return non-empty-list<\Generator<int, mixed>>|null null where the file cannot be read
     */
    public static function pieces(string $file, ?bool $csv, int $from, ?LogColumns $columns = null, bool $goesOn = false): ?array
    {
        $stream = is_file($file) && is_readable($file) ? fopen($file, 'r') : false;
        if ($stream === false) {
            return null;
        }
        $size = fstat($stream)['size'] ?? 0;
        $begin = $size < max(2, $from) || $csv === true || $columns?->encoding !== null ? '' : (string) fread($stream, 1 << 16);
        $mark = str_starts_with($begin, "\xef\xbb\xbf") ? 3 : 0;
        if (str_starts_with(ltrim(substr($begin, $mark)), '{') && str_contains($begin, "\n")) {
            fseek($stream, intdiv($size, 2));
            $line = (string) fgets($stream, Lines::LONGEST);
            $middle = (int) ftell($stream);
            if (str_ends_with($line, "\n") && $middle < $size) {
                return [self::piece($file, $mark, $middle, $columns, $goesOn), self::piece($file, $middle, $size, $columns, $goesOn)];
            }
        }
        rewind($stream);

        return [self::rows($stream, $csv, $columns, $goesOn)];
    }

    /** @return \Generator<int, mixed> */
    private static function piece(string $file, int $from, int $to, ?LogColumns $columns, bool $goesOn): \Generator
    {
        // A place in the file of its own: two processes that shared one would read each other's lines.
        $stream = fopen($file, 'r') ?: throw new InvalidLog('The file can no longer be read.');
        for ($before = 0, $left = $from; $left > 0; $left -= strlen($chunk)) {
            $chunk = (string) fread($stream, max(1, min(1 << 20, $left)));
            $before += substr_count($chunk, "\n");
            if ($chunk === '') {
                break;
            }
        }
        try {
            $troubles = new \ArrayObject();
            yield from self::ndjson(Lines::piece($stream, $to - $from, $before, $goesOn ? static fn (int $line, string $why, bool $isEnd) => $troubles->append([$line, $why, $isEnd]) : null), $columns, $goesOn);
            yield from self::told($troubles);
        } catch (InvalidText $e) {
            throw new InvalidLog($e->getMessage(), $e->field);
        }
    }

    /**
     * @param \Generator<int, string> $lines
     *
     * @return \Generator<int, mixed>
     */
    private static function ndjson(\Generator $lines, ?LogColumns $columns, bool $goesOn): \Generator
    {
        for (; $lines->valid(); $lines->next()) {
            $line = $lines->current();
            if (trim($line) === '') {
                continue;
            }
            $json = json_decode($line, true, self::DEEPEST);
            if ($json === null && json_last_error() !== JSON_ERROR_NONE) {
                $wrong = new InvalidLog('This line is not JSON: '.json_last_error_msg().'.', (string) $lines->key());
                if (! $goesOn) {
                    throw $wrong;
                }
                yield $lines->key() => $wrong;
                continue;
            }
            yield $lines->key() => $columns === null || ! is_array($json) ? $json : $columns->event($json);
        }
    }

    /** @throws InvalidLog whose field begins with the number of the line: `12.time` */
    public static function event(int $number, mixed $json): LogEvent
    {
        return Fields::within((string) $number, static fn (): LogEvent => self::fromJson($json), InvalidLog::class);
    }

    /** @param \Generator<int, string> $lines */
    private static function looksLikeCsv(\Generator $lines): bool
    {
        while ($lines->valid() && trim($lines->current()) === '') {
            $lines->next();
        }

        return $lines->valid() && ! str_starts_with(ltrim($lines->current()), '{');
    }

    /**
     * @param \Generator<int, string> $lines
     *
     * @return \Generator<int, array<string, mixed>|InvalidLog>
     */
    private static function csv(\Generator $lines, ?LogColumns $columns, bool $goesOn): \Generator
    {
        /** @var list<string> $header */
        $header = [];
        $separator = ',';
        foreach (CsvRows::of($lines, $goesOn) as $number => $row) {
            if (is_string($row) && ! mb_check_encoding($row, 'UTF-8')) {
                $row = new InvalidLog('This line is not UTF-8. Save the file as UTF-8'.($goesOn ? ', or name its encoding in a mapping.' : '.'), (string) $number);
            }
            if (is_string($row) && $header === []) {
                [$separator, $header] = self::header($row, $number, $columns);
                continue;
            }
            $cells = is_string($row) ? self::cells($row, $separator) : [];
            if (is_string($row) && count($cells) !== count($header)) {
                $row = new InvalidLog('The row has '.count($cells).' cells, and the header '.count($header).'.', (string) $number);
            }
            if (is_string($row)) {
                $cells = array_combine($header, $cells);
                yield $number => $columns === null ? self::object($cells) : $columns->event($cells);
            } elseif ($goesOn && $header !== []) {
                yield $number => $row;
            } else {
                throw $row;
            }
        }
    }

    /** @return array{string, list<string>} what parts the cells, and the names of the columns */
    private static function header(string $row, int $number, ?LogColumns $columns): array
    {
        if ($columns !== null) {
            return CsvRows::header($row, $number, $columns->separator);
        }
        $missing = '';
        foreach (self::SEPARATORS as $separator) {
            $names = array_map(trim(...), self::cells($row, $separator));
            $lacking = array_diff(['id', 'visitor', 'time', 'name', 'url'], $names);
            if ($lacking === []) {
                $twice = array_keys(array_filter(array_count_values($names), static fn (int $times): bool => $times > 1));

                return $twice === [] ? [$separator, $names] : throw new InvalidLog("The header row has the column \"{$twice[0]}\" more than once.", (string) $number);
            }
            $missing = $missing === '' ? reset($lacking) : $missing;
        }

        throw new InvalidLog("The header row has no column \"{$missing}\".", (string) $number);
    }

    /** @return list<string> */
    public static function cells(string $row, string $separator): array
    {
        // RFC 4180 knows no escape character: a quote is doubled.
        return array_map(static fn (?string $cell): string => $cell ?? '', str_getcsv($row, $separator, '"', ''));
    }

    /**
     * @param array<string, string> $row
     *
     * @return array<string, mixed>
     */
    private static function object(array $row): array
    {
        $json = ['props' => []];
        foreach ($row as $column => $cell) {
            $column = (string) $column;
            $prop = str_starts_with($column, 'props.') ? substr($column, 6) : (in_array($column, self::SHORT, true) ? $column : null);
            if ($cell === '' || ($prop === null && ! in_array($column, self::FIELDS, true))) {
                continue;
            }
            if ($prop === null) {
                $json[$column] = $cell;
            } else {
                $json['props'][$prop] = in_array($prop, self::TEXTS, true) ? $cell : self::typed($cell);
            }
        }

        return $json;
    }

    /** A cell that reads like a JSON number or truth value is one. */
    public static function typed(string $cell): mixed
    {
        $isOne = in_array($cell, ['true', 'false'], true) || preg_match('/\A-?(0|[1-9]\d*)(\.\d+)?([eE][+-]?\d+)?\z/', $cell) === 1;

        return $isOne ? json_decode($cell) : $cell;
    }

    private static function fromJson(mixed $json): LogEvent
    {
        $fields = new Fields($json, InvalidLog::class, 'An event');
        $props = $fields->raw('props') ?? [];
        if (! is_array($props) || ($props !== [] && array_is_list($props))) {
            throw new InvalidLog('The properties are a JSON object.', 'props');
        }

        /** @var array<string, mixed> $props */
        return new LogEvent(
            $fields->text('id', 200),
            $fields->text('visitor', 200),
            $fields->moment('time') ?? throw new InvalidLog('An event needs the time it happened.', 'time'),
            $fields->text('name', 200),
            $fields->text('url', 10_000),
            $props,
            self::optional($fields, 'referrer'),
            self::optional($fields, 'agent'),
            self::optional($fields, 'user'),
        );
    }

    /** @param Fields<InvalidLog> $fields */
    private static function optional(Fields $fields, string $name): ?string
    {
        return $fields->has($name) && $fields->raw($name) !== '' ? $fields->text($name, 10_000) : null;
    }
}
