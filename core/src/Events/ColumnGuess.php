<?php

declare(strict_types=1);

namespace Pellix\Core\Events;

/** Guesses from the first lines of a log which column has which field, and how times are written: a proposal for people to look at. */
final class ColumnGuess
{
    /** our field => what a column that has it is called (without marks and case), the surest first; words of the trade */
    private const CALLED = [
        'id' => ['id', 'eventid', 'messageid', 'hitid', 'uuid', 'hit'],
        'visitor' => ['visitor', 'visitorid', 'clientid', 'cookieid', 'anonymousid', 'deviceid', 'browserid', 'visitor_id', 'cid', 'uid'],
        'user' => ['user', 'userid', 'customerid', 'memberid', 'accountid', 'login'],
        'time' => ['time', 'timestamp', 'eventtime', 'ts', 'date', 'datetime', 'occurredat', 'createdat', 'clienttime'],
        'received' => ['received', 'receivedat', 'servertime', 'servertimestamp', 'arrivedat', 'ingestedat'],
        'name' => ['name', 'event', 'eventname', 'eventtype', 'action', 'type'],
        'url' => ['url', 'pageurl', 'address', 'location', 'pagelocation', 'page', 'path', 'pagepath', 'href'],
        'referrer' => ['referrer', 'referer', 'pagereferrer', 'ref'],
        'agent' => ['agent', 'useragent', 'ua', 'browseragent'],
        'experiment' => ['experiment', 'experimentkey', 'experimentid', 'test', 'testid', 'testname'],
        'variant' => ['variant', 'variantkey', 'variantid', 'variation', 'arm', 'group'],
        'props.value' => ['value', 'revenue', 'amount', 'ordervalue', 'total', 'price'],
        'props.currency' => ['currency', 'currencycode', 'cur'],
        'props.order_id' => ['orderid', 'ordernumber', 'transactionid', 'order'],
        'props.device' => ['device', 'devicetype', 'devicecategory'],
        'props.browser' => ['browser', 'browsername'],
        'props.source' => ['source', 'trafficsource', 'channel', 'utmsource', 'medium'],
        'props.country' => ['country', 'countrycode', 'region'],
    ];

    /** What a name of an event mostly stands for. */
    private const NAMES = ['pageview' => 'page_view', 'page view' => 'page_view', 'view' => 'page_view', 'page' => 'page_view', 'exposed' => 'exposure', 'experiment_viewed' => 'exposure', 'impression' => 'exposure', 'purchase' => 'order', 'transaction' => 'order'];

    private const TIMES = [
        'Y-m-d H:i:s.u', 'Y-m-d H:i:s', 'Y-m-d\TH:i:s.u', 'Y-m-d\TH:i:s', 'Y-m-d H:i', 'd.m.Y H:i:s', 'd.m.Y H:i', 'd/m/Y H:i:s', 'm/d/Y H:i:s', 'd/m/Y H:i', 'm/d/Y H:i', 'Y/m/d H:i:s', 'Ymd\THis', 'Y-m-d H:i:s P', 'Y-m-d H:i:sP', 'Y-m-d H:i:s T', 'd/M/Y:H:i:s O',
    ];

    /**
     * @param list<array<mixed>> $rows      of the first lines: cells by their column, or what a line of JSON holds
     * @param string|null        $separator of CSV
     *
     * @return array{mapping: array<string, mixed>, sure: array<string, bool>} a mapping, and of which of its fields it is sure
     */
    public static function of(array $rows, ?string $separator, ?string $encoding): array
    {
        $columns = $sure = $values = [];
        foreach ($rows as $row) {
            self::collect($row, '', $values);
        }
        $taken = [];
        foreach (self::CALLED as $field => $called) {
            foreach ($called as $rank => $word) {
                foreach (array_keys($values) as $column) {
                    $column = (string) $column;
                    $last = str_contains($column, '.') ? substr($column, (int) strrpos($column, '.') + 1) : $column;
                    if (! isset($taken[$column], $columns[$field]) && ! isset($columns[$field]) && ! isset($taken[$column]) && preg_replace('/[^a-z0-9]/', '', strtolower($last)) === $word && self::fits($field, $values[$column])) {
                        $columns[$field] = $column;
                        $sure[$field] = $rank < 3 && $values[$column] !== [];
                        $taken[$column] = true;
                    }
                }
            }
        }
        // What no name tells, the values may: times, and addresses of pages.
        foreach (['time', 'url'] as $field) {
            foreach (array_diff(array_map(strval(...), array_keys($values)), $columns) as $column) {
                if (! isset($columns[$field]) && self::fits($field, $values[$column]) && ($field === 'time' || self::areAddresses($values[$column]))) {
                    $columns[$field] = $column;
                    $sure[$field] = false;
                }
            }
        }
        foreach (array_diff(array_map(strval(...), array_keys($values)), $columns) as $column) {
            if (str_starts_with($column, 'props.')) {
                $columns[$column] = $column;
            }
        }
        [$format, $isSure] = self::format($values[$columns['time'] ?? ''] ?? []);
        $sure['time'] = ($sure['time'] ?? false) && $isSure;
        foreach (['visitor', 'time', 'name', 'url'] as $needed) {
            $sure[$needed] ??= false;
        }
        $names = [];
        foreach (array_unique(array_map(strval(...), array_filter($values[$columns['name'] ?? ''] ?? [], is_scalar(...)))) as $name) {
            $ours = self::NAMES[strtolower($name)] ?? null;
            if ($ours !== null && $ours !== $name) {
                $names[$name] = $ours;
            }
        }
        $commas = array_filter($values[$columns['props.value'] ?? ''] ?? [], static fn (mixed $value): bool => is_string($value) && preg_match('/\A-?[\d.]*\d,\d{1,2}\z/', $value) === 1);
        ksort($sure);

        return ['mapping' => array_filter([
            'pellix' => 1, 'columns' => $columns, 'time' => ['format' => $format, 'zone' => 'UTC'], 'encoding' => $encoding, 'separator' => $separator,
            'decimal' => $commas === [] ? null : ',', 'names' => $names === [] ? null : $names,
        ], static fn (mixed $part): bool => $part !== null), 'sure' => $sure];
    }

    /**
     * @param array<mixed>                 $row
     * @param array<string, list<mixed>> $values
     */
    private static function collect(array $row, string $under, array &$values): void
    {
        foreach ($row as $column => $value) {
            $path = $under === '' ? (string) $column : "{$under}.{$column}";
            if (is_array($value)) {
                substr_count($path, '.') < 3 && self::collect($value, $path, $values);
            } elseif (isset($values[$path]) || count($values) < 300) {
                // What is empty in all of these may be filled later on.
                $values[$path] ??= [];
                if ($value !== null && $value !== '' && count($values[$path]) < 1000) {
                    $values[$path][] = $value;
                }
            }
        }
    }

    /** @param list<mixed> $values */
    private static function fits(string $field, array $values): bool
    {
        $texts = array_map(static fn (mixed $value): string => is_scalar($value) ? (string) $value : '', $values);

        return match ($field) {
            'time', 'received' => self::format($values)[0] !== '',
            'url' => array_filter($texts, static fn (string $text): bool => str_contains($text, '/')) !== [],
            'props.value' => $values === [] || array_filter($texts, static fn (string $text): bool => preg_match('/\d/', $text) === 1) !== [],
            'id' => count(array_unique($texts)) > 0.5 * count($texts),
            default => true,
        };
    }

    /** @param list<mixed> $values */
    private static function areAddresses(array $values): bool
    {
        return $values !== [] && array_filter($values, static fn (mixed $value): bool => ! is_string($value) || preg_match('~\Ahttps?://\S+\z~i', $value) !== 1) === [];
    }

    /**
     * @param list<mixed> $values
     *
     * @return array{string, bool} format, '' where none fits nearly all; and whether it is the only one
     */
    private static function format(array $values): array
    {
        $texts = array_map(static fn (mixed $value): string => is_scalar($value) ? (string) $value : '', array_slice($values, 0, 300));
        $most = 0.95 * count($texts);
        if ($texts === []) {
            return ['', false];
        }
        $share = static fn (callable $is): int => count(array_filter($texts, $is));
        $number = static fn (float $from, float $to): callable => static fn (string $text): bool => is_numeric($text) && (float) $text >= $from && (float) $text < $to;
        // From the year 2001 to 2100.
        foreach (['seconds' => 1, 'milliseconds' => 1e3, 'microseconds' => 1e6] as $name => $per) {
            if ($share($number(978_307_200 * $per, 4_102_444_800 * $per)) >= $most) {
                return [$name, true];
            }
        }
        if ($share(static fn (string $text): bool => \Pellix\Core\Formats\Moment::parse($text) !== null) >= $most) {
            return ['rfc3339', true];
        }
        $fitting = array_values(array_filter(self::TIMES, static fn (string $format): bool => $share(static fn (string $text): bool => ! str_contains($text, "\0") && \DateTimeImmutable::createFromFormat("!{$format}", $text) !== false && (\DateTimeImmutable::getLastErrors()['warning_count'] ?? 0) === 0) >= $most));

        // A local time has no zone of its own: somebody has to say which.
        return [$fitting[0] ?? '', count($fitting) === 1 && preg_match('/[PTO]\z/', $fitting[0]) === 1];
    }
}
