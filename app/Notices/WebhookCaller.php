<?php

declare(strict_types=1);

namespace App\Notices;

use App\Fetching\CappedStream;
use App\Fetching\FetchFailed;
use App\Fetching\PageFetcher;
use App\Models\Delivery;
use App\Models\Webhook;
use Carbon\CarbonImmutable;
use GuzzleHttp\Client;
use GuzzleHttp\Exception\GuzzleException;
use GuzzleHttp\Psr7\Uri;
use GuzzleHttp\Psr7\Utils;
use Pellix\Core\Notices\HttpSignature;

/** Calls an address with what there is to tell: one signed request, no redirects, ten seconds at most. */
final readonly class WebhookCaller
{
    private const SECONDS = 10;

    /** Of the answer only its state is of interest. */
    private const MOST_BYTES = 65_536;

    private const GONE = 410;

    public function __construct(private Client $client, private PageFetcher $fetcher, private WebhookHosts $hosts, private Payload $payload)
    {
    }

    /** @return int state of HTTP. @throws NotDelivered */
    public function call(Webhook $webhook, Delivery $delivery): int
    {
        $refused = $this->hosts->refusal($webhook->site, $webhook->url);
        $refused === null || throw new NotDelivered($refused, isFinal: true);
        $uri = new Uri($webhook->url);
        $body = json_encode($this->payload->of($delivery), JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE);
        try {
            $address = $this->fetcher->resolve($uri->getHost());
            $port = $uri->getPort() ?? ($uri->getScheme() === 'https' ? 443 : 80);
            $response = $this->client->post($uri, [
                'allow_redirects' => false,
                'http_errors' => false,
                'timeout' => self::SECONDS,
                'connect_timeout' => 5,
                'body' => $body,
                'sink' => new CappedStream(Utils::streamFor(Utils::tryFopen('php://temp', 'w+')), self::MOST_BYTES),
                'headers' => $this->headers($webhook, $uri, $body),
                // The address that was checked is the one that is called.
                'curl' => [CURLOPT_RESOLVE => ["{$uri->getHost()}:{$port}:{$address}"], CURLOPT_PROTOCOLS => CURLPROTO_HTTP | CURLPROTO_HTTPS],
                'proxy' => '',
            ]);
        } catch (FetchFailed $e) {
            throw new NotDelivered("Nothing was called: {$e->getMessage()}");
        } catch (GuzzleException $e) {
            $isLong = $e->getPrevious() instanceof FetchFailed;
            throw new NotDelivered(match (true) {
                $isLong => 'The answer was longer than '.self::MOST_BYTES.' bytes; its state is all that counts.',
                str_contains($e->getMessage(), 'timed out') => 'There was no answer within '.self::SECONDS.' seconds.',
                default => 'The connection failed.',
            });
        }
        $status = $response->getStatusCode();
        if ($status < 200 || $status > 299) {
            throw new NotDelivered(match (true) {
                $status === self::GONE => 'It answered 410: it wants no more.',
                $status < 400 => "It answered {$status}, another address. Redirects are not followed: give the last address.",
                default => "It answered {$status}.",
            }, $status, $status === self::GONE);
        }

        return $status;
    }

    /** @return array<string, string> */
    private function headers(Webhook $webhook, Uri $uri, string $body): array
    {
        $type = 'application/json';
        $digest = HttpSignature::digest($body);
        $authority = strtolower($uri->getAuthority());

        return [
            'Content-Type' => $type,
            'Content-Digest' => $digest,
            'User-Agent' => 'Pellix',
            ...HttpSignature::of(
                ['@method' => 'POST', '@authority' => $authority, '@path' => $uri->getPath() === '' ? '/' : $uri->getPath(), '@query' => "?{$uri->getQuery()}", 'content-type' => $type, 'content-digest' => $digest],
                ['created' => CarbonImmutable::now('UTC')->getTimestamp(), 'keyid' => (string) $webhook->id, 'alg' => 'hmac-sha256'],
                $webhook->secret,
            ),
        ];
    }
}
