<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Har;

use Pellix\Core\Formats\Fields;

/** One request of a capture with its answer (HAR 1.2, `entries`). */
final readonly class Exchange
{
    /**
     * @param int                       $index     place among the capture's entries, from 0
     * @param string                    $page      the page that asked, as the capture names it; '' where it does not say
     * @param int                       $status    HTTP status; 0 where the browser got no answer or asked nobody
     * @param list<array{string, string}> $headers of the answer, names in lower case
     * @param string|null               $body      of the answer, where the capture kept it
     */
    private function __construct(
        public int $index,
        public string $page,
        public \DateTimeImmutable $at,
        public string $method,
        public string $url,
        public ?string $sent,
        public int $status,
        public array $headers,
        public string $mimeType,
        public ?string $body,
    ) {
    }

    /** @throws InvalidHar */
    public static function read(int $index, mixed $json): self
    {
        $entry = new Fields($json, InvalidHar::class, 'An entry');
        $request = $entry->part('request', static fn (mixed $request): Fields => new Fields($request, InvalidHar::class, 'A request'));
        $response = $entry->part('response', static fn (mixed $response): Fields => new Fields($response, InvalidHar::class, 'A response'));
        $post = $request->raw('postData');
        $content = $response->raw('content');
        $content = is_array($content) ? $content : [];

        return new self(
            $index,
            is_string($entry->raw('pageref')) ? $entry->raw('pageref') : '',
            $entry->moment('startedDateTime') ?? throw new InvalidHar('An entry needs the time it started.', 'startedDateTime'),
            $entry->part('request', static fn (): string => $request->text('method', 40)),
            $entry->part('request', static fn (): string => $request->text('url', 1_000_000)),
            is_array($post) && is_string($post['text'] ?? null) ? $post['text'] : null,
            (int) $entry->part('response', static fn (): float => $response->number('status')),
            self::headers($response->raw('headers')),
            is_string($content['mimeType'] ?? null) ? $content['mimeType'] : '',
            self::body($content),
        );
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

    /** @param array<mixed> $content */
    private static function body(array $content): ?string
    {
        $text = $content['text'] ?? null;
        if (! is_string($text)) {
            return null;
        }
        if (($content['encoding'] ?? null) !== 'base64') {
            return $text;
        }
        $bytes = base64_decode($text, true);

        return $bytes === false ? null : $bytes;
    }
}
