<?php

declare(strict_types=1);

namespace App\Fetching;

use App\Models\Site;
use GuzzleHttp\Client;
use GuzzleHttp\Exception\GuzzleException;
use GuzzleHttp\Psr7\Exception\MalformedUriException;
use GuzzleHttp\Psr7\Uri;
use GuzzleHttp\Psr7\UriResolver;
use GuzzleHttp\Psr7\Utils;
use Pellix\Core\Rules\AddressFacts;
use Pellix\Core\Wiring\Inspection\Delivery;
use Psr\Http\Message\ResponseInterface;

/**
 * Fetches pages of a site, and nothing else: http and https, the site's own hosts, at every redirect anew; no private or
 * loopback address unless the configuration allows them; at most 5 MB unpacked and 10 seconds in all.
 */
final readonly class PageFetcher
{
    private const MOST_BYTES = 5_000_000;

    private const SECONDS = 10;

    private const MOST_REDIRECTS = 5;

    /**
     * @param bool         $privateAllowed whether any host may be on a private address
     * @param list<string> $privateHosts   hosts that may be, and those below them, such as the demo's
     */
    public function __construct(private Client $client, private bool $privateAllowed, private array $privateHosts = [])
    {
    }

    /** @throws FetchFailed */
    public function fetch(Site $site, string $url): Delivery
    {
        $deadline = microtime(true) + self::SECONDS;
        $here = $url;
        for ($i = 0; $i <= self::MOST_REDIRECTS; $i++) {
            $response = $this->request($site, $here, $deadline - microtime(true));
            $location = $response->getHeaderLine('Location');
            if ($response->getStatusCode() < 300 || $response->getStatusCode() >= 400 || $location === '') {
                return new Delivery(
                    $url,
                    $here,
                    $response->getStatusCode(),
                    $response->getHeaderLine('Content-Type'),
                    array_values($response->getHeader('Content-Security-Policy')),
                    (string) $response->getBody(),
                );
            }
            try {
                $there = UriResolver::resolve(new Uri($here), new Uri($location));
            } catch (MalformedUriException) {
                throw new FetchFailed('it redirects to something that is no address.');
            }
            if ($there->getPort() !== null && $there->getPort() !== (new Uri($here))->getPort()) {
                throw new FetchFailed("it redirects to another port, {$there->getPort()}.");
            }
            $here = (string) $there;
        }

        throw new FetchFailed('it redirects more than '.self::MOST_REDIRECTS.' times.');
    }

    private function request(Site $site, string $url, float $seconds): ResponseInterface
    {
        if ($seconds <= 0) {
            throw new FetchFailed('it took longer than '.self::SECONDS.' seconds.');
        }
        [$host, $port] = $this->target($site, $url);
        $address = $this->resolve($host);
        try {
            return $this->client->get($url, [
                'allow_redirects' => false,
                'http_errors' => false,
                'timeout' => $seconds,
                'connect_timeout' => min(5, $seconds),
                'sink' => new CappedStream(Utils::streamFor(Utils::tryFopen('php://temp', 'w+')), self::MOST_BYTES),
                'headers' => ['User-Agent' => 'Pellix inspection', 'Accept' => 'text/html,application/xhtml+xml,text/css;q=0.9'],
                // The address that was checked is the one that is called: a name that changes in between gains nothing.
                'curl' => [CURLOPT_RESOLVE => ["{$host}:{$port}:{$address}"], CURLOPT_PROTOCOLS => CURLPROTO_HTTP | CURLPROTO_HTTPS],
                'proxy' => '',
            ]);
        } catch (GuzzleException $e) {
            $cause = $e->getPrevious();
            throw $cause instanceof FetchFailed ? $cause : new FetchFailed(str_contains($e->getMessage(), 'timed out') ? 'it took longer than '.self::SECONDS.' seconds.' : 'the connection failed.');
        }
    }

    /** @return array{string, int} host and port */
    private function target(Site $site, string $url): array
    {
        if (preg_match('~\A(https?)://[^/?#@\s\\\\]+(?=[/?#]|\z)~i', $url, $m) !== 1) {
            throw new FetchFailed('only addresses with http or https, and without a user name, are fetched.');
        }
        $host = AddressFacts::of($url)->host;
        if (! in_array($host, $site->hosts, true)) {
            throw new FetchFailed("the host \"{$host}\" is none of this site's.");
        }

        try {
            return [$host, (new Uri($url))->getPort() ?? (strtolower($m[1]) === 'https' ? 443 : 80)];
        } catch (MalformedUriException) {
            throw new FetchFailed('this is no complete address.');
        }
    }

    /** The address that a name leads to. @throws FetchFailed where there is none, or one that may not be called */
    public function resolve(string $host): string
    {
        // RFC 6761, 6.3: names under localhost are loopback, whatever a resolver says.
        $addresses = $host === 'localhost' || str_ends_with($host, '.localhost') ? ['127.0.0.1'] : (gethostbynamel($host) ?: []);
        if ($addresses === []) {
            throw new FetchFailed("the name \"{$host}\" has no address.");
        }
        foreach ($addresses as $address) {
            if (SpecialRanges::contain($address) && ! $this->privateAllowed && ! $this->mayBePrivate($host)) {
                throw new FetchFailed("\"{$host}\" leads to {$address}, inside of a private network.");
            }
        }

        return $addresses[0];
    }

    private function mayBePrivate(string $host): bool
    {
        foreach ($this->privateHosts as $own) {
            if ($host === $own || str_ends_with($host, ".{$own}")) {
                return true;
            }
        }

        return false;
    }
}
