<?php

declare(strict_types=1);

namespace Pellix\Core\Notices;

/**
 * Signs a request with a secret that both sides know, as RFC 9421 (HTTP Message Signatures) has it with `hmac-sha256` (3.3.3), and
 * states the digest of what it carries as RFC 9530 has it.
 */
final class HttpSignature
{
    /** Name of the signature among others that a request may have. */
    public const LABEL = 'pellix';

    /**
     * The fields that carry a signature.
     *
     * @param array<string, string>     $components name (`@method`, `content-type`) → value, in the order in which they are signed
     * @param array<string, int|string> $parameters `created` (seconds since 1970), `keyid`, `alg`, in their order
     *
     * @return array{Signature-Input: string, Signature: string}
     */
    public static function of(array $components, array $parameters, #[\SensitiveParameter] string $secret, string $label = self::LABEL): array
    {
        $input = self::input(array_keys($components), $parameters);

        return [
            'Signature-Input' => "{$label}={$input}",
            'Signature' => "{$label}=:".base64_encode(hash_hmac('sha256', self::base($components, $input), $secret, true)).':',
        ];
    }

    /** Value of the field `Content-Digest` (RFC 9530, 2). */
    public static function digest(string $content): string
    {
        return 'sha-256=:'.base64_encode(hash('sha256', $content, true)).':';
    }

    /**
     * What is signed (RFC 9421, 2.5).
     *
     * @param array<string, string> $components
     */
    private static function base(array $components, string $input): string
    {
        $lines = [];
        foreach ($components as $name => $value) {
            // RFC 9421, 2.1: without white space around it, and on one line.
            $lines[] = "\"{$name}\": ".trim((string) preg_replace('/\s*\r?\n\s*/', ' ', $value));
        }
        $lines[] = "\"@signature-params\": {$input}";

        return implode("\n", $lines);
    }

    /**
     * What is covered, and how, as an inner list with parameters (RFC 9651, 3.1.1 and 4.1).
     *
     * @param list<string>              $names
     * @param array<string, int|string> $parameters
     */
    private static function input(array $names, array $parameters): string
    {
        $input = '('.implode(' ', array_map(static fn (string $name): string => "\"{$name}\"", $names)).')';
        foreach ($parameters as $name => $value) {
            $input .= ";{$name}=".(is_int($value) ? (string) $value : '"'.addcslashes($value, '"\\').'"');
        }

        return $input;
    }
}
