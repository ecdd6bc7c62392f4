<?php

declare(strict_types=1);

namespace Pellix\Core\Reconcile;

use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Events\LogColumns;
use Pellix\Core\Events\LogReader;
use Pellix\Core\Events\TimeFormat;
use Pellix\Core\Formats\Fields;

/** Where the figures of another source stand in its file, and how times and numbers are written there. */
final readonly class OtherColumns
{
    public const ORDERS = ['order_id', 'time', 'value', 'currency', 'variant'];
    public const DAYS = ['day', 'variant', 'visitors'];

    /** Days and times that are understood where no mapping says how they are written. */
    private const TIMES = ['Y-m-d H:i:s', 'Y-m-d H:i:s.u', 'Y-m-d\TH:i:s', 'Y-m-d\TH:i:s.u', 'Y-m-d H:i', 'Y-m-d\TH:i', 'Y-m-d H:i:sP', 'Y-m-d H:i:s P'];
    private const DAY = ['Y-m-d', 'Ymd', 'Y/m/d'];

    /** @var list<TimeFormat> */
    private array $times;

    /** @var list<TimeFormat> */
    private array $days;

    /**
     * @param array<string, string> $columns  our field => their column
     * @param array<string, string> $variants their name of a variant => its key
     * @param TimeFormat|null       $time     null where nothing says how they are written
     */
    private function __construct(public array $columns, private ?TimeFormat $time, public ?string $encoding, public ?string $separator, private string $decimal, public array $variants, private string $zone)
    {
        $this->times = $time !== null && $time->format !== 'rfc3339' ? [$time] : array_map($this->written(...), self::TIMES);
        $this->days = $time !== null && $time->format !== 'rfc3339' ? [$time] : array_map($this->written(...), self::DAY);
    }

    private function written(string $format): TimeFormat
    {
        return TimeFormat::read(['format' => $format, 'zone' => $this->time->zone ?? $this->zone]);
    }

    /** The columns have our names, in any order. */
    public static function ours(string $zone): self
    {
        return new self([], null, null, null, '.', [], $zone);
    }

    /**
     * From `{"pellix":1,"columns":{"order_id":"Order","time":"Created","value":"Total","currency":"Currency"},"time":{"format":"d.m.Y H:i",
     * "zone":"Europe/Berlin"},"encoding":"windows-1252","separator":";","decimal":",","variants":{"A":"control"}}`; for days the columns
     * are `day`, `variant` and `visitors`, and the format of `time` is that of a day. Only `columns` is needed.
     *
     * @param string $zone of the site: times that do not say theirs are meant there, unless the mapping names another
     *
     * @throws InvalidOther
     */
    public static function read(mixed $json, string $zone): self
    {
        $fields = new Fields($json, InvalidOther::class, 'A mapping');
        $fields->raw('pellix');
        $columns = self::texts($fields, 'columns');
        $known = array_values(array_unique([...self::ORDERS, ...self::DAYS]));
        foreach (array_keys($columns) as $field) {
            if (! in_array($field, $known, true)) {
                throw new InvalidOther('There is no such field here: '.implode(', ', $known).'.', "columns.{$field}");
            }
        }
        if (! isset($columns['day'], $columns['visitors']) && ! isset($columns['order_id']) && ! isset($columns['time'], $columns['value'])) {
            throw new InvalidOther('Say which columns have day and visitors, or order_id, time and value.', 'columns');
        }
        try {
            $time = $fields->has('time') ? Fields::within('time', static fn (): TimeFormat => TimeFormat::read($fields->raw('time'), 'rfc3339', $zone), InvalidLog::class) : null;
        } catch (InvalidLog $e) {
            throw new InvalidOther($e->getMessage(), $e->field);
        }
        $encoding = $fields->has('encoding') ? $fields->text('encoding', 20) : null;
        if ($encoding !== null && ! in_array(strtolower($encoding), array_map(strtolower(...), LogColumns::ENCODINGS), true)) {
            throw new InvalidOther('One of '.implode(', ', LogColumns::ENCODINGS).' is needed.', 'encoding');
        }
        $read = new self(
            $columns,
            $time,
            $encoding === null || strtolower($encoding) === 'utf-8' ? null : $encoding,
            $fields->has('separator') ? $fields->word('separator', LogReader::SEPARATORS, ',') : null,
            $fields->word('decimal', ['.', ','], '.'),
            self::texts($fields, 'variants'),
            $zone,
        );
        $fields->nothingElse();

        return $read;
    }

    /**
     * @param Fields<InvalidOther> $fields
     *
     * @return array<string, string>
     */
    private static function texts(Fields $fields, string $name): array
    {
        $json = $fields->raw($name) ?? [];
        $texts = [];
        foreach (is_array($json) ? $json : throw $fields->complaint('A JSON object is needed.', $name) as $key => $text) {
            $texts[(string) $key] = is_string($text) && $text !== '' ? $text : throw $fields->complaint('A text is needed.', "{$name}.{$key}");
        }

        return $texts;
    }

    /** Column that has a field; its own name where no mapping says another. */
    public function column(string $field): ?string
    {
        return $this->columns === [] ? $field : $this->columns[$field] ?? null;
    }

    /**
     * A moment, in milliseconds since 1970.
     *
     * @throws InvalidOther
     */
    public function time(string $cell): int
    {
        $text = $this->time !== null ? $this->time->of($cell) : LogColumns::moment($cell);
        $moment = is_string($text) ? \Pellix\Core\Formats\Moment::parse($text) : null;
        foreach ($moment === null ? $this->times : [] as $format) {
            $moment ??= $format->moment($cell);
        }

        return $moment === null ? throw new InvalidOther("\"{$cell}\" is no time; it is written like 2026-03-02T14:05:00Z, or as a mapping says: \"time\":{\"format\":\"d.m.Y H:i\"}.", 'time') : 1000 * $moment->getTimestamp() + (int) $moment->format('v');
    }

    /**
     * A day, as `2026-03-02`.
     *
     * @throws InvalidOther
     */
    public function day(string $cell): string
    {
        foreach ($this->days as $format) {
            $day = $format->moment($cell);
            if ($day !== null) {
                return $day->format('Y-m-d');
            }
        }
        // Some write the midnight that a day begins with.
        if (preg_match('/\A(\d{4})-(\d\d)-(\d\d)[T ]00:00/', $cell, $found) === 1 && checkdate((int) $found[2], (int) $found[3], (int) $found[1])) {
            return "{$found[1]}-{$found[2]}-{$found[3]}";
        }

        throw new InvalidOther("\"{$cell}\" is no day; it is written like 2026-03-02, or as a mapping says: \"time\":{\"format\":\"d.m.Y\"}.", 'day');
    }

    /** @throws InvalidOther */
    public function value(string $cell): float
    {
        $text = $this->decimal === ',' ? strtr(str_replace('.', '', $cell), ',', '.') : $cell;
        if (! is_numeric($text) || abs((float) $text) > 1e15) {
            throw new InvalidOther("\"{$cell}\" is no number; it is written like 1234.50, or with a decimal comma where a mapping says so: \"decimal\":\",\".", 'value');
        }

        return (float) $text;
    }

    /** @throws InvalidOther */
    public function count(string $cell): int
    {
        return preg_match('/\A\d{1,12}\z/', $cell) === 1 ? (int) $cell : throw new InvalidOther("\"{$cell}\" is no count: a whole number that is not negative is needed.", 'visitors');
    }
}
