<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

/**
 * What is typed into forms: data of nobody, so unlikely that wherever it turns up, it came from there.
 */
final readonly class MadeUp
{
    /** @var array<string, string> placeholder => value */
    public array $values;

    /** @param string $mark six letters, other ones for every visitor */
    public function __construct(string $mark)
    {
        // example.org is kept for examples (RFC 2606, 3); the numbers after +44 7700 900 are nobody's (Ofcom's numbers for drama; from memory).
        $this->values = [
            'name' => 'Wren Tallow'.$mark,
            'mail' => "wren.{$mark}@example.org",
            'phone' => '+447700900'.sprintf('%03d', crc32($mark) % 1000),
            'street' => "{$mark} Lane 4",
            'town' => "Upper {$mark}",
            'text' => "made up {$mark}",
        ];
    }

    /** A text with `{name}`, `{mail}` and the like filled in. */
    public function fill(string $text): string
    {
        return strtr($text, array_combine(array_map(static fn (string $name): string => "{{$name}}", array_keys($this->values)), $this->values));
    }

    /** What suits a field, by its type and by what it is called. */
    public function for(string $type, string $name): string
    {
        return match (true) {
            $type === 'email' || preg_match('/mail/i', $name) === 1 => $this->values['mail'],
            $type === 'tel' || preg_match('/phone|tel|mobile/i', $name) === 1 => $this->values['phone'],
            $type === 'number' || $type === 'range' => '1',
            $type === 'date' => '2031-05-14',
            $type === 'time' => '10:30',
            $type === 'url' => 'https://example.org/',
            preg_match('/street|address/i', $name) === 1 => $this->values['street'],
            preg_match('/town|city/i', $name) === 1 => $this->values['town'],
            preg_match('/name/i', $name) === 1 => $this->values['name'],
            default => $this->values['text'],
        };
    }

    /**
     * The made-up value that a text holds, plain, percent-encoded, as JSON, in Base64 or as a hash; null where it holds none.
     *
     * @param list<string> $typed what was typed
     *
     * @return array{string, string}|null the value, and in which form it was found
     */
    public static function in(string $text, array $typed): ?array
    {
        $plain = mb_strtolower(rawurldecode(str_replace('+', ' ', $text)));
        $raw = mb_strtolower(rawurldecode($text));
        $unescaped = mb_strtolower((string) preg_replace_callback('/\\\\u([0-9a-f]{4})/i', static fn (array $m): string => mb_chr((int) hexdec($m[1]), 'UTF-8') ?: '', $text));
        foreach ($typed as $value) {
            $wanted = mb_strtolower($value);
            // A short or common text proves nothing.
            if (mb_strlen($wanted) < 6) {
                continue;
            }
            if (str_contains($plain, $wanted) || str_contains($raw, $wanted) || str_contains($unescaped, $wanted)) {
                return [$value, 'as it was typed'];
            }
            foreach ([$value, $wanted] as $spelling) {
                for ($shift = 0; $shift < 3; $shift++) {
                    // In the middle of a longer text, Base64 has three spellings; its edges hang on what is beside it.
                    $encoded = substr(rtrim(base64_encode(str_repeat('x', $shift).$spelling), '='), $shift === 0 ? 0 : 4, -2);
                    if (strlen($encoded) >= 8 && str_contains(rawurldecode($text), $encoded)) {
                        return [$value, 'in Base64'];
                    }
                }
                foreach (['md5', 'sha1', 'sha256'] as $hash) {
                    if (str_contains($plain, hash($hash, $spelling))) {
                        return [$value, 'as a hash ('.strtoupper($hash).')'];
                    }
                }
            }
        }

        return null;
    }
}
