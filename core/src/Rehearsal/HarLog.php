<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

/**
 * The requests of a page as an HTTP archive, which Pellix's own inspection opens, and other tools do. Source: HAR 1.2.
 *
 * @phpstan-type Request array{url: string, method: string, began: float, wall: float, headers: array<string, string>, body: string|null, status: int|null, mime: string, response: array<string, string>, bytes: int, ended: float|null, failed: string|null, content?: string}
 */
final class HarLog
{
    /**
     * @param list<Request> $requests times in seconds: `began` and `ended` of one clock, `wall` since 1970
     * @param string        $browser  its name and version
     *
     * @return array<string, mixed>
     */
    public static function of(string $title, array $requests, string $browser): array
    {
        usort($requests, static fn (array $a, array $b): int => $a['wall'] <=> $b['wall']);

        return ['log' => [
            'version' => '1.2',
            'creator' => ['name' => 'Pellix', 'version' => '1'],
            'browser' => ['name' => $browser, 'version' => ''],
            'pages' => [['startedDateTime' => self::moment($requests[0]['wall'] ?? 0.0), 'id' => 'page', 'title' => $title, 'pageTimings' => (object) []]],
            'entries' => array_map(self::entry(...), $requests),
        ]];
    }

    /**
     * @param Request $of
     *
     * @return array<string, mixed>
     */
    private static function entry(array $of): array
    {
        $ms = $of['ended'] === null ? 0.0 : max(0.0, 1000 * ($of['ended'] - $of['began']));

        return [
            'pageref' => 'page',
            'startedDateTime' => self::moment($of['wall']),
            'time' => round($ms, 1),
            'request' => [
                'method' => $of['method'],
                'url' => $of['url'],
                'httpVersion' => 'HTTP/1.1',
                'cookies' => [],
                'headers' => self::pairs($of['headers']),
                'queryString' => self::query($of['url']),
                ...($of['body'] === null ? [] : ['postData' => ['mimeType' => self::header($of['headers'], 'content-type') ?? 'text/plain', 'text' => $of['body']]]),
                'headersSize' => -1,
                'bodySize' => $of['body'] === null ? 0 : strlen($of['body']),
            ],
            'response' => [
                // What was blocked or failed has no status.
                'status' => $of['status'] ?? 0,
                'statusText' => $of['failed'] ?? '',
                'httpVersion' => 'HTTP/1.1',
                'cookies' => [],
                'headers' => self::pairs($of['response']),
                'content' => ['size' => isset($of['content']) ? strlen($of['content']) : $of['bytes'], 'mimeType' => $of['mime'], ...(isset($of['content']) ? ['text' => $of['content']] : [])],
                'redirectURL' => self::header($of['response'], 'location') ?? '',
                'headersSize' => -1,
                'bodySize' => $of['bytes'],
            ],
            'cache' => (object) [],
            'timings' => ['send' => 0, 'wait' => round($ms, 1), 'receive' => 0],
        ];
    }

    private static function moment(float $wall): string
    {
        return (\DateTimeImmutable::createFromFormat('U.u', sprintf('%.6F', $wall)) ?: new \DateTimeImmutable('@0'))->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s.v\Z');
    }

    /**
     * @param array<string, string> $headers
     *
     * @return list<array{name: string, value: string}>
     */
    private static function pairs(array $headers): array
    {
        return array_map(static fn (string $name, string $value): array => ['name' => $name, 'value' => $value], array_map(strval(...), array_keys($headers)), array_values($headers));
    }

    /** @return list<array{name: string, value: string}> */
    private static function query(string $url): array
    {
        $pairs = [];
        foreach (explode('&', (string) parse_url($url, PHP_URL_QUERY)) as $pair) {
            if ($pair !== '') {
                [$name, $value] = explode('=', $pair, 2) + ['', ''];
                $pairs[] = ['name' => rawurldecode($name), 'value' => rawurldecode($value)];
            }
        }

        return $pairs;
    }

    /** @param array<string, string> $headers */
    private static function header(array $headers, string $wanted): ?string
    {
        foreach ($headers as $name => $value) {
            if (strtolower((string) $name) === $wanted) {
                return $value;
            }
        }

        return null;
    }
}
