<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

use Pellix\Core\Formats\Fields;

/** Where the fields of an event stand in a log that was not made for Pellix, and how times and numbers are written there. */
final class LogColumns
{
    public const ENCODINGS = ['UTF-8', 'windows-1252', 'ISO-8859-1', 'ISO-8859-15', 'UTF-16LE', 'UTF-16BE'];

    /**
     * @param array<string, string> $columns  our field (`id`, `props.value`, …) => their column, or path in their JSON
     * @param array<string, string> $names    their name of an event => ours
     * @param string|null           $host     is put before addresses that are paths alone
     */
    private function __construct(
        public readonly array $columns,
        public readonly TimeFormat $times,
        public readonly ?string $encoding,
        public readonly ?string $separator,
        public readonly string $decimal,
        public readonly array $names,
        public readonly ?string $host,
    ) {
    }

    /**
     * From `{"pellix":1,"columns":{"visitor":"client","time":"ts",…},"time":{"format":"seconds","zone":"Europe/Berlin"},"encoding":"windows-1252",
     * "separator":";","decimal":",","names":{"pageview":"page_view"},"host":"https://shop.example"}`; only `columns` is needed.
     *
     * @throws InvalidLog
     */
    public static function read(mixed $json): self
    {
        $fields = new Fields($json, InvalidLog::class, 'A mapping');
        $fields->raw('pellix');
        $fields->raw('sure');
        $columns = self::texts($fields, 'columns');
        foreach (['visitor', 'time', 'name', 'url'] as $needed) {
            if (! isset($columns[$needed])) {
                throw new InvalidLog("Say which column has the {$needed} of an event.", "columns.{$needed}");
            }
        }
        foreach (array_keys($columns) as $field) {
            if (! in_array($field, [...LogReader::FIELDS, ...LogReader::SHORT], true) && ! str_starts_with($field, 'props.')) {
                throw new InvalidLog('There is no such field of an event: '.implode(', ', [...LogReader::FIELDS, ...LogReader::SHORT]).' or props.NAME.', "columns.{$field}");
            }
        }
        $encoding = $fields->has('encoding') ? $fields->text('encoding', 20) : null;
        if ($encoding !== null && ! in_array(strtolower($encoding), array_map(strtolower(...), self::ENCODINGS), true)) {
            throw new InvalidLog('One of '.implode(', ', self::ENCODINGS).' is needed.', 'encoding');
        }
        $read = new self(
            $columns,
            $fields->part('time', static fn (mixed $time): TimeFormat => TimeFormat::read($time)),
            $encoding === null || strtolower($encoding) === 'utf-8' ? null : $encoding,
            $fields->has('separator') ? $fields->word('separator', LogReader::SEPARATORS, ',') : null,
            $fields->word('decimal', ['.', ','], '.'),
            self::texts($fields, 'names'),
            $fields->has('host') ? rtrim($fields->text('host', 200), '/') : null,
        );
        $fields->nothingElse();

        return $read;
    }

    /**
     * @param Fields<InvalidLog> $fields
     *
     * @return array<string, string>
     */
    private static function texts(Fields $fields, string $name): array
    {
        $texts = [];
        $json = $fields->raw($name) ?? [];
        foreach (is_array($json) ? $json : throw new InvalidLog('A JSON object is needed.', $name) as $key => $text) {
            $texts[(string) $key] = is_string($text) && $text !== '' ? $text : throw new InvalidLog('A text is needed.', "{$name}.{$key}");
        }

        return $texts;
    }

    /**
     * @param array<mixed> $row cells by their column, or what a line of JSON holds
     *
     * @return array<string, mixed> in our form; times that cannot be read stay as they are, to be complained about
     */
    public function event(array $row): array
    {
        $event = $props = [];
        foreach ($this->columns as $field => $column) {
            $value = self::at($row, $column);
            if ($value === null || $value === '') {
                continue;
            }
            if (str_starts_with($field, 'props.') || in_array($field, LogReader::SHORT, true)) {
                $prop = str_starts_with($field, 'props.') ? substr($field, 6) : $field;
                $props[$prop] = is_string($value) && ! in_array($prop, LogReader::TEXTS, true) ? $this->typed($value) : $value;
            } elseif ($field === 'time' || $field === 'received') {
                $event[$field] = $this->times->of($value);
            } else {
                $event[$field] = is_int($value) || is_float($value) ? (string) $value : $value;
            }
        }
        $event['props'] = $props;
        // A log without ids: what is the same in everything is the same event.
        $event['id'] ??= hash('xxh128', serialize($row));
        if (is_string($event['name'] ?? null)) {
            $event['name'] = $this->names[$event['name']] ?? $event['name'];
        }
        if ($this->host !== null && is_string($event['url'] ?? null) && ! str_contains($event['url'], '://')) {
            $event['url'] = $this->host.(str_starts_with($event['url'], '/') ? '' : '/').$event['url'];
        }

        return $event;
    }

    private function typed(string $value): mixed
    {
        return $this->decimal === ',' && preg_match('/\A-?(\d{1,3}(\.\d{3})+|\d+)(,\d+)?\z/', $value) === 1 ? (float) strtr(str_replace('.', '', $value), ',', '.') : LogReader::typed($value);
    }

    /** A number of seconds or milliseconds since 1970, told apart by its size (the years 2001 to 2286), in RFC 3339; what is none stays as it is. */
    public static function moment(mixed $value): mixed
    {
        if (! (is_int($value) || is_float($value) || (is_string($value) && ctype_digit($value)))) {
            return $value;
        }

        return match (true) {
            $value >= 1e9 && $value < 1e10 => TimeFormat::written((float) $value),
            $value >= 1e12 && $value < 1e13 => TimeFormat::written((float) $value / 1000),
            default => $value,
        };
    }

    /** @param array<mixed> $row */
    private static function at(array $row, string $column): mixed
    {
        if (array_key_exists($column, $row)) {
            return $row[$column];
        }
        foreach (explode('.', $column) as $step) {
            $row = is_array($row) ? ($row[$step] ?? null) : null;
        }

        return is_scalar($row) ? $row : null;
    }

    /** @return array<string, mixed> the mapping's object */
    public function toArray(): array
    {
        return array_filter([
            'pellix' => 1, 'columns' => $this->columns, 'time' => $this->times->toArray(), 'encoding' => $this->encoding,
            'separator' => $this->separator, 'decimal' => $this->decimal === '.' ? null : $this->decimal, 'names' => $this->names === [] ? null : $this->names, 'host' => $this->host,
        ], static fn (mixed $part): bool => $part !== null);
    }
}
