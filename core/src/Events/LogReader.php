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
    private const FIELDS = ['id', 'visitor', 'user', 'time', 'received', 'name', 'url', 'referrer', 'agent'];

    /** Columns that are taken for properties. */
    private const SHORT = ['experiment', 'variant'];

    /** Properties that stay texts in CSV, even where they look like numbers. */
    private const TEXTS = ['experiment', 'variant', 'order_id'];

    private const SEPARATORS = [',', ';', "\t"];

    private const DEEPEST = 32;

    /**
     * What each line holds, not yet looked at; `event()` reads it.
     *
     * @param resource  $stream
     * @param bool|null $csv    CSV; else NDJSON; null for what it looks like
     *
     * @return \Generator<int, mixed> line number => what it holds
     *
     * @throws InvalidLog whose field is the number of the line
     */
    public static function rows($stream, ?bool $csv): \Generator
    {
        $lines = Lines::of($stream);
        try {
            if ($csv ?? self::looksLikeCsv($lines)) {
                yield from self::csv($lines);

                return;
            }
            yield from self::ndjson($lines);
        } catch (InvalidText $e) {
            throw new InvalidLog($e->getMessage(), $e->field);
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
    public static function pieces(string $file, ?bool $csv, int $from): ?array
    {
        $stream = is_file($file) && is_readable($file) ? fopen($file, 'r') : false;
        if ($stream === false) {
            return null;
        }
        $size = fstat($stream)['size'] ?? 0;
        $begin = $size < max(2, $from) || $csv === true ? '' : (string) fread($stream, 1 << 16);
        $mark = str_starts_with($begin, "\xef\xbb\xbf") ? 3 : 0;
        if (str_starts_with(ltrim(substr($begin, $mark)), '{') && str_contains($begin, "\n")) {
            fseek($stream, intdiv($size, 2));
            $line = (string) fgets($stream, Lines::LONGEST);
            $middle = (int) ftell($stream);
            if (str_ends_with($line, "\n") && $middle < $size) {
                return [self::piece($file, $mark, $middle), self::piece($file, $middle, $size)];
            }
        }
        rewind($stream);

        return [self::rows($stream, $csv)];
    }

    /** @return \Generator<int, mixed> */
    private static function piece(string $file, int $from, int $to): \Generator
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
            yield from self::ndjson(Lines::piece($stream, $to - $from, $before));
        } catch (InvalidText $e) {
            throw new InvalidLog($e->getMessage(), $e->field);
        }
    }

    /**
     * @param \Generator<int, string> $lines
     *
     * @return \Generator<int, mixed>
     */
    private static function ndjson(\Generator $lines): \Generator
    {
        for (; $lines->valid(); $lines->next()) {
            $line = $lines->current();
            if (trim($line) === '') {
                continue;
            }
            $json = json_decode($line, true, self::DEEPEST);
            if ($json === null && json_last_error() !== JSON_ERROR_NONE) {
                throw new InvalidLog('This line is not JSON: '.json_last_error_msg().'.', (string) $lines->key());
            }
            yield $lines->key() => $json;
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
     * @return \Generator<int, array<string, mixed>>
     */
    private static function csv(\Generator $lines): \Generator
    {
        $header = null;
        $separator = ',';
        while ($lines->valid()) {
            $number = $lines->key();
            $row = self::row($lines);
            if (trim($row) === '') {
                continue;
            }
            if (! mb_check_encoding($row, 'UTF-8')) {
                throw new InvalidLog('This line is not UTF-8. Save the file as UTF-8.', (string) $number);
            }
            if ($header === null) {
                [$separator, $header] = self::header($row, $number);
                continue;
            }
            $cells = self::cells($row, $separator);
            if (count($cells) !== count($header)) {
                throw new InvalidLog('The row has '.count($cells).' cells, and the header '.count($header).'.', (string) $number);
            }
            yield $number => self::object(array_combine($header, $cells));
        }
    }

    /**
     * One row, which has several lines where a cell in quotes has; the lines are left at the next one.
     *
     * @param \Generator<int, string> $lines
     */
    private static function row(\Generator $lines): string
    {
        $first = $lines->key();
        $row = $lines->current();
        $lines->next();
        while (substr_count($row, '"') % 2 === 1) {
            if (! $lines->valid() || strlen($row) > Lines::LONGEST) {
                throw new InvalidLog('A quote opens in this row and is never closed.', (string) $first);
            }
            $row .= "\n".$lines->current();
            $lines->next();
        }

        return $row;
    }

    /** @return array{string, list<string>} what parts the cells, and the names of the columns */
    private static function header(string $row, int $number): array
    {
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
    private static function cells(string $row, string $separator): array
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
    private static function typed(string $cell): mixed
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
