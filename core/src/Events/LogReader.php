<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

use Pellix\Core\Formats\Fields;

/** Reads event logs: NDJSON, one object a line, or the same as CSV (RFC 4180) with a header row and `props.X` columns. */
final class LogReader
{
    private const FIELDS = ['id', 'visitor', 'user', 'time', 'received', 'name', 'url', 'referrer', 'agent'];

    /** Columns that are taken for properties. */
    private const SHORT = ['experiment', 'variant'];

    /** Properties that stay texts in CSV, even where they look like numbers. */
    private const TEXTS = ['experiment', 'variant', 'order_id'];

    /**
     * @param resource $stream
     * @param bool     $csv    CSV; else NDJSON
     *
     * @return \Generator<int, LogEvent> line number => event
     *
     * @throws InvalidLog whose field begins with the number of the line: `12.time`
     */
    public static function read($stream, bool $csv): \Generator
    {
        return $csv ? self::csv($stream) : self::lines($stream);
    }

    /**
     * @param resource $stream
     *
     * @return \Generator<int, LogEvent>
     */
    private static function lines($stream): \Generator
    {
        for ($number = 1; ($line = fgets($stream)) !== false; $number++) {
            $line = $number === 1 ? (string) preg_replace('/\A\xef\xbb\xbf/', '', $line) : $line;
            if (trim($line) === '') {
                continue;
            }
            try {
                $json = json_decode($line, true, 32, JSON_THROW_ON_ERROR);
            } catch (\JsonException $e) {
                throw new InvalidLog("This line is not JSON: {$e->getMessage()}.", (string) $number);
            }
            yield $number => Fields::within((string) $number, static fn (): LogEvent => self::event($json), InvalidLog::class);
        }
    }

    /**
     * @param resource $stream
     *
     * @return \Generator<int, LogEvent>
     */
    private static function csv($stream): \Generator
    {
        $header = self::row($stream);
        if ($header === null) {
            return;
        }
        $header = array_map(static fn (string $name): string => trim((string) preg_replace('/\A\xef\xbb\xbf/', '', $name)), $header);
        foreach (['id', 'visitor', 'time', 'name', 'url'] as $needed) {
            if (! in_array($needed, $header, true)) {
                throw new InvalidLog("The header row has no column \"{$needed}\".", '1');
            }
        }
        for ($number = 2; ($cells = self::row($stream)) !== null; $number++) {
            if ($cells === ['']) {
                continue;
            }
            if (count($cells) !== count($header)) {
                throw new InvalidLog('The row has '.count($cells).' cells, and the header '.count($header).'.', (string) $number);
            }
            $json = self::object(array_combine($header, $cells));
            yield $number => Fields::within((string) $number, static fn (): LogEvent => self::event($json), InvalidLog::class);
        }
    }

    /**
     * @param resource $stream
     *
     * @return list<string>|null
     */
    private static function row($stream): ?array
    {
        // RFC 4180 knows no escape character: a quote is doubled.
        $row = fgetcsv($stream, null, ',', '"', '');

        return $row === false ? null : array_map(static fn (?string $cell): string => $cell ?? '', $row);
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
    private static function typed(string $cell): string|int|float|bool
    {
        if (in_array($cell, ['true', 'false'], true)) {
            return $cell === 'true';
        }

        if (preg_match('/\A-?(0|[1-9]\d{0,14})(\.\d+)?([eE][+-]?\d+)?\z/', $cell) !== 1) {
            return $cell;
        }

        return preg_match('/[.eE]/', $cell) === 1 ? (float) $cell : (int) $cell;
    }

    private static function event(mixed $json): LogEvent
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
