<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Har;

use Pellix\Core\Formats\Fields;
use Pellix\Core\Wiring\Inventory\Address;

/** One request of a capture with its answer (HAR 1.2, `entries`). */
final readonly class Exchange
{
    private const LARGEST_PAGE = 7_000_000;
    private const LARGEST_ANSWER = 65_536;
    private const LARGEST_BEACON = 200_000;

    /**
     * @param int                       $index     place among the capture's entries, from 0
     * @param int                       $line      of the file that the entry starts on, from 1
     * @param string                    $page      the page that asked, as the capture names it; '' where it does not say
     * @param int                       $status    HTTP status; 0 where the browser got no answer or asked nobody
     * @param bool                      $beginsPage whether somebody went to this address, so that a page begins with it
     * @param string|null               $sent      the beacon that was sent, where it is one
     * @param list<array{string, string}> $headers of the answer, names in lower case
     * @param string|null               $leadsTo   the absolute address that the answer redirects to
     * @param string|null               $body      of the answer, where the capture kept it and it is a page or short
     * @param bool                      $isBytes   whether the body is as it was sent, not decoded to UTF-8 yet
     */
    private function __construct(
        public int $index,
        public int $line,
        public string $page,
        public bool $beginsPage,
        public \DateTimeImmutable $at,
        public string $method,
        public string $url,
        public ?string $sent,
        public int $status,
        public array $headers,
        public string $mimeType,
        public ?string $leadsTo,
        public ?string $body,
        public bool $isBytes,
    ) {
    }

    /** @throws InvalidHar */
    public static function read(int $index, int $line, mixed $json): self
    {
        $entry = new Fields($json, InvalidHar::class, 'An entry');
        $request = $entry->part('request', static fn (mixed $request): Fields => new Fields($request, InvalidHar::class, 'A request'));
        $response = $entry->part('response', static fn (mixed $response): Fields => new Fields($response, InvalidHar::class, 'A response'));
        $post = $request->raw('postData');
        $sent = is_array($post) && is_string($post['text'] ?? null) ? $post['text'] : null;
        $content = $response->raw('content');
        $content = is_array($content) ? $content : [];
        $mimeType = is_string($content['mimeType'] ?? null) ? mb_strcut($content['mimeType'], 0, 200, 'UTF-8') : '';
        $url = $request->raw('url');
        // What stands in the address itself may be of any length, and nobody asked for it.
        $url = is_string($url) && strncasecmp($url, 'data:', 5) === 0 ? mb_strcut($url, 0, 100, 'UTF-8') : $entry->part('request', static fn (): string => $request->text('url', 1_000_000));
        $headers = self::headers($response->raw('headers'));
        $asked = array_column(self::headers($request->raw('headers')), 1, 0);
        $status = (int) $entry->part('response', static fn (): float => $response->number('status'));

        return new self(
            $index,
            $line,
            is_string($entry->raw('pageref')) ? mb_strcut($entry->raw('pageref'), 0, 200, 'UTF-8') : '',
            ($asked['sec-fetch-dest'] ?? '') === 'document',
            $entry->moment('startedDateTime') ?? throw new InvalidHar('An entry needs the time it started.', 'startedDateTime'),
            $entry->part('request', static fn (): string => $request->text('method', 40)),
            $url,
            $sent !== null && strlen($sent) <= self::LARGEST_BEACON && str_contains($sent, '"pellix"') ? $sent : null,
            $status,
            array_values(array_filter($headers, static fn (array $one): bool => in_array($one[0], ['content-type', 'content-security-policy'], true))),
            $mimeType,
            self::target($status, $url, $response->raw('redirectURL'), array_column($headers, 1, 0)['location'] ?? ''),
            self::body($content, self::isPage($mimeType) ? self::LARGEST_PAGE : self::LARGEST_ANSWER),
            ($content['encoding'] ?? null) === 'base64',
        );
    }

    public function withoutBody(): self
    {
        return new self($this->index, $this->line, $this->page, $this->beginsPage, $this->at, $this->method, $this->url, $this->sent, $this->status, $this->headers, $this->mimeType, $this->leadsTo, null, false);
    }

    /** Whether it is a page that a browser shows; one that it had already is one as well. */
    public function isDocument(): bool
    {
        return self::isPage($this->mimeType) && ($this->status < 300 || $this->status >= 400 || $this->status === 304);
    }

    /** Whether what was sent goes on to the next address (RFC 9110, 15.4): with these only, a POST stays one. */
    public function keepsItsBody(): bool
    {
        return in_array($this->status, [307, 308], true);
    }

    public function failed(): bool
    {
        return $this->status < 200 || $this->status >= 400;
    }

    /** `POST https://pellix.example/c → 204` */
    public function words(): string
    {
        return "{$this->method} ".mb_strcut($this->url, 0, 300, 'UTF-8').' → '.($this->status === 0 ? 'no answer' : $this->status);
    }

    /** @return list<string> */
    public function header(string $name): array
    {
        return array_values(array_map(static fn (array $one): string => $one[1], array_filter($this->headers, static fn (array $one): bool => $one[0] === $name)));
    }

    /** @return list<array{string, string}> */
    private static function headers(mixed $list): array
    {
        $headers = [];
        foreach (is_array($list) ? $list : [] as $header) {
            if (is_array($header) && is_string($header['name'] ?? null) && is_string($header['value'] ?? null)) {
                $headers[] = [strtolower($header['name']), $header['value']];
            }
        }

        return $headers;
    }

    private static function isPage(string $mimeType): bool
    {
        return preg_match('~\A(text/html|application/xhtml\+xml)\b~i', $mimeType) === 1;
    }

    private static function target(int $status, string $url, mixed $redirect, string $location): ?string
    {
        $target = is_string($redirect) && $redirect !== '' ? $redirect : $location;

        return $status >= 300 && $status < 400 && $status !== 304 && $target !== '' ? Address::resolve($target, $url) : null;
    }

    /** @param array<mixed> $content */
    private static function body(array $content, int $most): ?string
    {
        $text = $content['text'] ?? null;
        if (! is_string($text) || strlen($text) > $most) {
            return null;
        }
        if (($content['encoding'] ?? null) !== 'base64') {
            return $text;
        }
        $bytes = base64_decode($text, true);

        return $bytes === false ? null : $bytes;
    }
}
