<?php

declare(strict_types=1);

namespace App\Rehearsals\Browser;

/**
 * What was seen of one page besides what it looks like: requests, console, dialogs, windows, and whatever a browser would have
 * asked a person. Everything has a bound.
 *
 * @phpstan-type Request array{id: string, loader: string, url: string, method: string, type: string, began: float, wall: float, headers: array<string, string>, body: string|null, status: int|null, mime: string, response: array<string, string>, bytes: int, ended: float|null, failed: string|null, blocked: string|null, initiator: string}
 */
final class Watch
{
    private const MOST_REQUESTS = 600;
    private const MOST_LINES = 200;
    private const MOST_NOTES = 50;
    private const LONGEST = 2000;
    public const LONGEST_BODY = 70_000;

    /** A page that loads more is stopped. */
    public const MOST_BYTES = 20_000_000;

    /** @var array<string, Request> */
    public array $requests = [];

    /** @var list<array{at: float, level: string, text: string, url: string, line: int, kind: string}> */
    public array $console = [];

    /** @var list<array{what: string, text: string}> dialog, download, crash, permission, large, window, certificate, policy */
    public array $notes = [];

    /** @var list<string> addresses that the page itself has come to, in order */
    public array $addresses = [];

    public int $bytes = 0;

    public int $windows = 0;

    /** How often the page wanted to open one: browsers keep those from opening that nobody has asked for. */
    public int $asksForWindows = 0;

    public int $unkept = 0;

    /** @param array<string, mixed> $p parameters */
    public function hear(string $name, array $p): void
    {
        match ($name) {
            'Network.requestWillBeSent' => $this->asked($p),
            'Network.responseReceived' => $this->answered((string) $p['requestId'], (array) $p['response']),
            'Network.dataReceived' => $this->bytes += (int) $p['encodedDataLength'] ?: (int) $p['dataLength'],
            'Network.loadingFinished' => $this->ended((string) $p['requestId'], (float) $p['timestamp'], (int) $p['encodedDataLength'], null, null),
            'Network.loadingFailed' => $this->ended((string) $p['requestId'], (float) $p['timestamp'], 0, (string) ($p['errorText'] ?? ''), isset($p['blockedReason']) ? (string) $p['blockedReason'] : null),
            'Network.webSocketCreated' => $this->connected((string) $p['requestId'], (string) $p['url']),
            'Network.webSocketFrameSent' => $this->told((string) $p['requestId'], (string) ($p['response']['payloadData'] ?? '')),
            'Runtime.exceptionThrown' => $this->thrown((array) $p['exceptionDetails'], (float) $p['timestamp']),
            'Runtime.consoleAPICalled' => $this->said($p),
            'Log.entryAdded' => $this->logged((array) $p['entry']),
            'Inspector.targetCrashed' => $this->note('crash', ''),
            default => null,
        };
    }

    public function note(string $what, string $text): void
    {
        if (count($this->notes) < self::MOST_NOTES && ! in_array(['what' => $what, 'text' => $text], $this->notes, true)) {
            $this->notes[] = ['what' => $what, 'text' => self::cut($text)];
        }
    }

    public function noted(string $what): ?string
    {
        foreach ($this->notes as $note) {
            if ($note['what'] === $what) {
                return $note['text'];
            }
        }

        return null;
    }

    /** A window that the page has opened; whether it may stay. */
    public function opened(): bool
    {
        return ++$this->windows <= Chromium::MOST_WINDOWS;
    }

    /** Begins anew with the next page; what was noted stays. */
    public function forget(): void
    {
        $this->requests = $this->console = $this->addresses = [];
        $this->bytes = 0;
    }

    /** Another page is there: of what the one before still waited for nothing is heard any more. */
    public function begun(string $loader): void
    {
        foreach ($this->requests as $id => $request) {
            if ($request['ended'] === null && $request['loader'] !== $loader) {
                $this->requests[$id]['ended'] = $request['began'];
            }
        }
    }

    /** The browser shows a page of its own in the place of an address. */
    public function unreachable(string $url): void
    {
        $why = '';
        foreach ($this->requests as $request) {
            $why = $request['type'] === 'Document' && $request['failed'] !== null ? $request['failed'] : $why;
        }
        str_contains($why, 'CERT') || $this->note('unreachable', trim("{$url}: {$why}", ': '));
    }

    /** How many requests have not ended yet, those that stay open for ever left out. */
    public function open(): int
    {
        return count(array_filter($this->requests, static fn (array $one): bool => $one['ended'] === null && ! in_array($one['type'], ['EventSource', 'WebSocket', 'Ping'], true)));
    }

    /** @param array<string, mixed> $p */
    private function asked(array $p): void
    {
        $id = (string) $p['requestId'];
        if (isset($p['redirectResponse'], $this->requests[$id])) {
            // The next hop has the same id: the one before is kept under another.
            $this->answered($id, (array) $p['redirectResponse']);
            $this->ended($id, (float) $p['timestamp'], 0, null, null);
            $this->requests[$id.'#'.count($this->requests)] = $this->requests[$id];
            unset($this->requests[$id]);
        }
        if (count($this->requests) >= self::MOST_REQUESTS) {
            $this->unkept++;

            return;
        }
        $request = (array) $p['request'];
        $initiator = (array) ($p['initiator'] ?? []);
        $this->requests[$id] = [
            'id' => $id, 'loader' => (string) ($p['loaderId'] ?? ''), 'url' => self::cut((string) $request['url'].($request['urlFragment'] ?? '')), 'method' => (string) $request['method'], 'type' => (string) ($p['type'] ?? 'Other'),
            'began' => (float) $p['timestamp'], 'wall' => (float) $p['wallTime'], 'headers' => self::headers($request['headers'] ?? []),
            'body' => self::body($request), 'status' => null, 'mime' => '', 'response' => [], 'bytes' => 0,
            'ended' => null, 'failed' => null, 'blocked' => null, 'initiator' => (string) ($initiator['url'] ?? $initiator['stack']['callFrames'][0]['url'] ?? ''),
        ];
    }

    /**
     * @param array<string, mixed> $request
     *
     * @return string|null empty where there is one that the browser has not told: it can be asked for
     */
    private static function body(array $request): ?string
    {
        $body = $request['postData'] ?? implode('', array_map(static fn (array $part): string => (string) base64_decode((string) ($part['bytes'] ?? ''), true), (array) ($request['postDataEntries'] ?? [])));

        return $body === '' && ! ($request['hasPostData'] ?? false) ? null : mb_strcut((string) $body, 0, self::LONGEST_BODY, '8bit');
    }

    /** A line that stays open: what is said over it is kept as its body. */
    private function connected(string $id, string $url): void
    {
        if (count($this->requests) < self::MOST_REQUESTS) {
            $this->requests[$id] = [
                'id' => $id, 'loader' => '', 'url' => self::cut($url), 'method' => 'GET', 'type' => 'WebSocket', 'began' => 0.0, 'wall' => microtime(true), 'headers' => [], 'body' => null, 'status' => null, 'mime' => '',
                'response' => [], 'bytes' => 0, 'ended' => 0.0, 'failed' => null, 'blocked' => null, 'initiator' => '',
            ];
        }
    }

    private function told(string $id, string $text): void
    {
        if (isset($this->requests[$id])) {
            $this->requests[$id]['body'] = mb_strcut(($this->requests[$id]['body'] ?? '')."\n{$text}", 0, self::LONGEST_BODY, '8bit');
        }
    }

    /** @param array<string, mixed> $response */
    private function answered(string $id, array $response): void
    {
        if (isset($this->requests[$id])) {
            $this->requests[$id]['status'] = (int) $response['status'];
            $this->requests[$id]['mime'] = (string) ($response['mimeType'] ?? '');
            $this->requests[$id]['response'] = self::headers($response['headers'] ?? []);
        }
    }

    private function ended(string $id, float $at, int $bytes, ?string $failed, ?string $blocked): void
    {
        if (isset($this->requests[$id])) {
            $this->requests[$id] = ['ended' => $at, 'bytes' => $bytes, 'failed' => $failed, 'blocked' => $blocked] + $this->requests[$id];
            str_contains((string) $failed, 'ERR_CERT') && $this->note('certificate', "{$this->requests[$id]['url']}: {$failed}");
        }
    }

    /** @param array<string, mixed> $details */
    private function thrown(array $details, float $at): void
    {
        $frame = (array) ($details['stackTrace']['callFrames'][0] ?? []);
        $text = (string) ($details['exception']['description'] ?? $details['exception']['value'] ?? $details['text'] ?? '');
        $this->line($at, 'error', strtok($text, "\n") ?: $text, (string) ($frame['url'] ?? $details['url'] ?? ''), 1 + (int) ($frame['lineNumber'] ?? $details['lineNumber'] ?? 0), 'exception');
    }

    /** @param array<string, mixed> $p */
    private function said(array $p): void
    {
        $words = array_map(static fn (array $one): string => (string) (is_scalar($one['value'] ?? null) ? $one['value'] : ($one['description'] ?? '')), array_slice((array) $p['args'], 0, 10));
        $text = implode(' ', $words);
        if (str_starts_with($text, Tab::ASKED)) {
            $asked = substr($text, strlen(Tab::ASKED));
            if ($asked === 'window') {
                $this->asksForWindows++;
            } else {
                $this->note('permission', $asked);
            }

            return;
        }
        $frame = (array) ($p['stackTrace']['callFrames'][0] ?? []);
        $this->line((float) $p['timestamp'], (string) $p['type'], $text, (string) ($frame['url'] ?? ''), 1 + (int) ($frame['lineNumber'] ?? 0), 'console');
    }

    /** @param array<string, mixed> $entry */
    private function logged(array $entry): void
    {
        $this->line((float) $entry['timestamp'], (string) $entry['level'], (string) $entry['text'], (string) ($entry['url'] ?? ''), 1 + (int) ($entry['lineNumber'] ?? 0), (string) $entry['source']);
    }

    private function line(float $at, string $level, string $text, string $url, int $line, string $kind): void
    {
        if (count($this->console) < self::MOST_LINES) {
            $this->console[] = ['at' => $at, 'level' => $level, 'text' => self::cut($text), 'url' => self::cut($url), 'line' => $line, 'kind' => $kind];
        } else {
            $this->unkept++;
        }
    }

    /** @return array<string, string> */
    private static function headers(mixed $headers): array
    {
        return array_map(static fn (mixed $value): string => self::cut(is_scalar($value) ? (string) $value : ''), array_slice((array) $headers, 0, 60));
    }

    private static function cut(string $text): string
    {
        return mb_strcut(mb_scrub($text, 'UTF-8'), 0, self::LONGEST, 'UTF-8');
    }
}
