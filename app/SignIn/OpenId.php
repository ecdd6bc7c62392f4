<?php

namespace App\SignIn;

use Carbon\CarbonImmutable;
use Firebase\JWT\JWK;
use Firebase\JWT\JWT;
use GuzzleHttp\Client;
use Illuminate\Contracts\Cache\Repository;
use Illuminate\Contracts\Session\Session;
use League\OAuth2\Client\Provider\GenericProvider;
use Psr\Http\Message\ResponseInterface;

/**
 * Single sign-on with a provider that whoever runs this copy has named: OpenID Connect Core 1.0, the authorization code flow, with PKCE
 * (RFC 7636), state and nonce, and the provider's name in its answer (RFC 9207) where it gives one.
 */
final readonly class OpenId
{
    private const SESSION = 'openid';
    private const PENDING_MINUTES = 10;

    /** Signatures that are taken: with a public key, never with a secret that both know, and never none. */
    private const ALGORITHMS = ['RS256', 'RS384', 'RS512', 'ES256', 'ES384', 'EdDSA'];

    private const LEEWAY_SECONDS = 60;
    private const KEPT_SECONDS = 3600;
    private const MOST_BYTES = 200_000;

    public function __construct(private Client $client, private Repository $cache)
    {
    }

    /** @return string|null what the provider is called; null where there is none */
    public static function name(): ?string
    {
        return (string) config('signing_in.openid.issuer') === '' ? null : (string) config('signing_in.openid.name');
    }

    /**
     * Where somebody is sent.
     *
     * @param string $to where they want to be afterwards, a path of the interface
     *
     * @throws OpenIdFailed
     */
    public function begin(Session $session, string $to, CarbonImmutable $now): string
    {
        $provider = $this->provider();
        $nonce = bin2hex(random_bytes(16));
        $address = $provider->getAuthorizationUrl(['scope' => 'openid email profile', 'nonce' => $nonce]);
        $session->put(self::SESSION, ['state' => $provider->getState(), 'nonce' => $nonce, 'verifier' => $provider->getPkceCode(), 'to' => $to, 'until' => $now->addMinutes(self::PENDING_MINUTES)->getTimestamp()]);

        return $address;
    }

    /**
     * Whom the provider's answer is about.
     *
     * @param array<string, mixed> $answer what stands in the address that the provider sent the browser to
     *
     * @return array{issuer: string, subject: string, email: string|null, to: string} with an e-mail address only where the provider has verified it
     *
     * @throws OpenIdFailed
     */
    public function finish(Session $session, array $answer, CarbonImmutable $now): array
    {
        // Good for one answer.
        $pending = $session->pull(self::SESSION);
        if (! is_array($pending) || $pending['until'] < $now->getTimestamp() || ! is_string($answer['state'] ?? null) || ! hash_equals((string) $pending['state'], $answer['state'])) {
            throw new OpenIdFailed('expired', 'The answer belongs to no sign-in of this browser');
        }
        if (isset($answer['error']) || ! is_string($answer['code'] ?? null)) {
            throw new OpenIdFailed('refused', 'The provider let nobody in');
        }
        $issuer = (string) config('signing_in.openid.issuer');
        if (isset($answer['iss']) && $answer['iss'] !== $issuer) {
            throw new OpenIdFailed('provider', 'The answer is of another provider');
        }
        $provider = $this->provider();
        $provider->setPkceCode((string) $pending['verifier']);
        try {
            $token = $provider->getAccessToken('authorization_code', ['code' => $answer['code']])->getValues()['id_token'] ?? null;
        } catch (\Throwable $e) {
            throw new OpenIdFailed('provider', 'The code was not taken: '.$e::class);
        }
        $claims = $this->claims(is_string($token) ? $token : '', $issuer, (string) $pending['nonce'], $now);

        return [
            'issuer' => $issuer, 'subject' => $claims['sub'], 'to' => (string) $pending['to'],
            'email' => ($claims['email_verified'] ?? false) === true && is_string($claims['email'] ?? null) ? $claims['email'] : null,
        ];
    }

    /**
     * The claims of an ID token that stands every check of OpenID Connect Core 1.0, section 3.1.3.7.
     *
     * @return array<string, mixed> `sub` is a text of 1 to 255 characters
     *
     * @throws OpenIdFailed
     */
    private function claims(string $token, string $issuer, string $nonce, CarbonImmutable $now): array
    {
        [JWT::$leeway, JWT::$timestamp] = [self::LEEWAY_SECONDS, $now->getTimestamp()];
        try {
            $head = json_decode(JWT::urlsafeB64Decode(explode('.', $token)[0]), true);
            if (! is_array($head) || ! in_array($head['alg'] ?? null, self::ALGORITHMS, true)) {
                throw new OpenIdFailed('provider', 'The token is signed in a way that is not taken');
            }
            $keys = $this->keys(is_string($head['kid'] ?? null) ? $head['kid'] : null);
            $claims = (array) json_decode((string) json_encode(JWT::decode($token, JWK::parseKeySet($keys, $head['alg']))), true);
        } catch (OpenIdFailed $e) {
            throw $e;
        } catch (\Throwable $e) {
            throw new OpenIdFailed('provider', 'The token does not stand the check: '.$e::class);
        } finally {
            JWT::$timestamp = null;
        }
        $client = (string) config('signing_in.openid.client_id');
        $audience = (array) ($claims['aud'] ?? []);
        $problem = match (true) {
            ($claims['iss'] ?? null) !== $issuer => 'it is of another provider',
            ! in_array($client, $audience, true) => 'it is for somebody else',
            (count($audience) > 1 || isset($claims['azp'])) && ($claims['azp'] ?? null) !== $client => 'it was asked for by somebody else',
            ! is_int($claims['exp'] ?? null) || ! is_int($claims['iat'] ?? null) => 'it does not say how long it is good',
            ! is_string($claims['nonce'] ?? null) || ! hash_equals($nonce, $claims['nonce']) => 'it belongs to another sign-in',
            ! is_string($claims['sub'] ?? null) || $claims['sub'] === '' || strlen($claims['sub']) > 255 => 'it is about nobody',
            default => null,
        };
        if ($problem !== null) {
            throw new OpenIdFailed('provider', "The token does not stand the check: {$problem}");
        }

        return $claims;
    }

    private function provider(): GenericProvider
    {
        $known = $this->discovered();

        return new GenericProvider([
            'clientId' => (string) config('signing_in.openid.client_id'), 'clientSecret' => (string) config('signing_in.openid.client_secret'),
            'redirectUri' => rtrim((string) config('app.url'), '/').'/sign-in/back', 'urlAuthorize' => $known['authorization_endpoint'], 'urlAccessToken' => $known['token_endpoint'],
            'urlResourceOwnerDetails' => '', 'pkceMethod' => GenericProvider::PKCE_METHOD_S256, 'scopeSeparator' => ' ',
        ], ['httpClient' => $this->client]);
    }

    /**
     * What the provider says of itself (OpenID Connect Discovery 1.0).
     *
     * @return array{authorization_endpoint: string, token_endpoint: string, jwks_uri: string}
     *
     * @throws OpenIdFailed
     */
    private function discovered(): array
    {
        $issuer = (string) config('signing_in.openid.issuer');
        $kept = $this->cache->get($key = 'openid:'.hash('sha256', $issuer));
        if (is_array($kept)) {
            return $kept;
        }
        $said = $this->json(rtrim($issuer, '/').'/.well-known/openid-configuration');
        $found = array_intersect_key($said, array_flip(['authorization_endpoint', 'token_endpoint', 'jwks_uri']));
        // Section 4.3: it must be the one that was asked.
        if (($said['issuer'] ?? null) !== $issuer || count(array_filter($found, static fn (mixed $one): bool => is_string($one) && self::isSafe($one))) !== 3) {
            throw new OpenIdFailed('provider', 'What the provider says of itself is not whole');
        }
        $this->cache->put($key, $found, self::KEPT_SECONDS);

        /** @var array{authorization_endpoint: string, token_endpoint: string, jwks_uri: string} $found */
        return $found;
    }

    /**
     * The provider's keys; asked for again where a token names one that is not among them, but not for each such token.
     *
     * @return array<string, mixed>
     *
     * @throws OpenIdFailed
     */
    private function keys(?string $wanted): array
    {
        $address = $this->discovered()['jwks_uri'];
        $key = 'openid-keys:'.hash('sha256', $address);
        $kept = $this->cache->get($key);
        $isThere = is_array($kept) && ($wanted === null || in_array($wanted, array_column((array) ($kept['keys'] ?? []), 'kid'), true));
        if ($isThere || (is_array($kept) && ! $this->cache->add("{$key}:again", 1, 60))) {
            return $kept;
        }
        $keys = $this->json($address);
        $this->cache->put($key, $keys, self::KEPT_SECONDS);

        return $keys;
    }

    /**
     * @return array<string, mixed>
     *
     * @throws OpenIdFailed
     */
    private function json(string $address): array
    {
        if (! self::isSafe($address)) {
            throw new OpenIdFailed('provider', 'A provider is asked over https');
        }
        try {
            $response = $this->client->get($address, ['headers' => ['Accept' => 'application/json'], 'stream' => true]);
            $json = json_decode(self::beginning($response), true, 16);
        } catch (\Throwable $e) {
            throw new OpenIdFailed('provider', 'The provider does not answer: '.$e::class);
        }

        return is_array($json) ? $json : throw new OpenIdFailed('provider', 'The provider answers with something else than JSON');
    }

    private static function beginning(ResponseInterface $response): string
    {
        $text = '';
        while (strlen($text) < self::MOST_BYTES && ! $response->getBody()->eof()) {
            $text .= $response->getBody()->read(8192);
        }

        return $text;
    }

    /** Over https; on this machine, as in tests, without. */
    private static function isSafe(string $address): bool
    {
        return preg_match('~\Ahttps://|\Ahttp://(localhost|127\.0\.0\.1|[a-z0-9.-]+\.localhost)[:/]~i', $address) === 1;
    }
}
