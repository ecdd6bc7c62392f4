<?php

declare(strict_types=1);

namespace Tests\Support;

use Firebase\JWT\JWT;
use GuzzleHttp\Promise\Create;
use GuzzleHttp\Promise\PromiseInterface;
use GuzzleHttp\Psr7\Response;
use Psr\Http\Message\RequestInterface;

/** A small OpenID provider that stands in for the outside one: it answers in place of the network, and can be told to lie. */
final class StandInProvider
{
    public const ISSUER = 'https://login.example';
    public const CLIENT = 'pellix-here';
    public const SECRET = 'a secret of both';

    private \OpenSSLAsymmetricKey $key;

    /** @var array<string, array{challenge: string, nonce: string}> codes that were given out */
    private array $codes = [];

    /** @var array<string, mixed> members of the ID token that are otherwise than they should be */
    public array $lies = [];

    public string $algorithm = 'RS256';
    public int $keysAsked = 0;

    public function __construct()
    {
        $this->key = self::newKey();
    }

    private static function newKey(): \OpenSSLAsymmetricKey
    {
        $key = openssl_pkey_new(['private_key_bits' => 2048, 'private_key_type' => OPENSSL_KEYTYPE_RSA]);

        return $key === false ? throw new \RuntimeException('No key') : $key;
    }

    /** From now on tokens are signed with a key that it never published. */
    public function forge(): void
    {
        $this->key = self::newKey();
    }

    /** Somebody signs in there: the address that their browser is sent back to. */
    public function agree(string $address, array $more = []): string
    {
        parse_str((string) parse_url($address, PHP_URL_QUERY), $asked);
        $code = bin2hex(random_bytes(8));
        $this->codes[$code] = ['challenge' => (string) $asked['code_challenge'], 'nonce' => (string) $asked['nonce']];

        return parse_url((string) $asked['redirect_uri'], PHP_URL_PATH).'?'.http_build_query(['code' => $code, 'state' => $asked['state'], 'iss' => self::ISSUER, ...$more]);
    }

    /** @param array<string, mixed> $options */
    public function __invoke(RequestInterface $request, array $options): PromiseInterface
    {
        return Create::promiseFor(match ($request->getUri()->getPath()) {
            '/.well-known/openid-configuration' => self::json(['issuer' => self::ISSUER, 'authorization_endpoint' => self::ISSUER.'/authorize', 'token_endpoint' => self::ISSUER.'/token', 'jwks_uri' => self::ISSUER.'/keys']),
            '/keys' => self::json(['keys' => [$this->publicKey()]]),
            '/token' => $this->token($request),
            default => new Response(404),
        });
    }

    private function token(RequestInterface $request): Response
    {
        parse_str((string) $request->getBody(), $given);
        $code = $this->codes[$given['code'] ?? ''] ?? null;
        unset($this->codes[$given['code'] ?? '']);
        $challenge = rtrim(strtr(base64_encode(hash('sha256', (string) ($given['code_verifier'] ?? ''), true)), '+/', '-_'), '=');
        if ($code === null || $challenge !== $code['challenge'] || ($given['client_secret'] ?? '') !== self::SECRET) {
            return self::json(['error' => 'invalid_grant'], 400);
        }
        $now = time();
        $claims = ['iss' => self::ISSUER, 'aud' => self::CLIENT, 'sub' => 'number-7', 'iat' => $now, 'exp' => $now + 300, 'nonce' => $code['nonce'], 'email' => 'ana@shop.test', 'email_verified' => true, ...$this->lies];
        $signed = $this->algorithm === 'none'
            ? JWT::urlsafeB64Encode('{"alg":"none"}').'.'.JWT::urlsafeB64Encode((string) json_encode($claims)).'.'
            : JWT::encode($claims, $this->algorithm === 'HS256' ? (string) json_encode($this->publicKey()) : $this->key, $this->algorithm, 'key-1');

        return self::json(['access_token' => 'x', 'token_type' => 'Bearer', 'id_token' => $signed]);
    }

    /** @return array<string, string> */
    private function publicKey(): array
    {
        $this->keysAsked++;
        $details = openssl_pkey_get_details($this->key) ?: [];

        return ['kty' => 'RSA', 'kid' => 'key-1', 'alg' => 'RS256', 'use' => 'sig', 'n' => JWT::urlsafeB64Encode($details['rsa']['n']), 'e' => JWT::urlsafeB64Encode($details['rsa']['e'])];
    }

    /** @param array<string, mixed> $body */
    private static function json(array $body, int $status = 200): Response
    {
        return new Response($status, ['Content-Type' => 'application/json'], (string) json_encode($body));
    }
}
