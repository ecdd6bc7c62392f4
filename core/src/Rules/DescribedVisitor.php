<?php

declare(strict_types=1);

namespace Pellix\Core\Rules;

use Pellix\Core\Formats\Fields;
use Pellix\Core\Segments\Agent;

/** A page view of a visitor whom somebody describes, to see what a rule makes of it. What is not said is not known. */
final readonly class DescribedVisitor implements Facts
{
    /**
     * @param array<string, string|int|float|bool> $said   fact => value
     * @param list<string>                         $groups stems of facts of which everything is said: `cookie.`, `data.`
     */
    private function __construct(public string $url, private AddressFacts $address, private array $said, private array $groups)
    {
    }

    /**
     * From `{"url":"…","device":"mobile","browser":"safari","language":"de","returning":true,"referrer":"…","cookies":{},"data":{}}`;
     * all but the address may be left out.
     *
     * @throws InvalidRule
     */
    public static function read(mixed $json): self
    {
        $fields = new Fields($json, InvalidRule::class, 'A visitor');
        $url = trim($fields->text('url', 2000));
        if (preg_match('~\Ahttps?://[^/?#\s]~i', $url) !== 1) {
            throw new InvalidRule('The whole address of a page is needed, such as https://host/path.', 'url');
        }
        $said = [];
        $groups = [];
        foreach (['device' => Agent::DEVICES, 'browser' => Agent::BROWSERS] as $name => $words) {
            if ($fields->has($name)) {
                $said[$name] = $fields->word($name, $words, '');
            }
        }
        if ($fields->has('language')) {
            $said['language'] = $fields->text('language', 40);
        }
        if ($fields->has('returning')) {
            $said['visitor.returning'] = $fields->flag('returning');
        }
        if ($fields->has('referrer')) {
            $referrer = trim($fields->text('referrer', 2000, ''));
            // Whoever says that there is none has said it.
            $groups[] = 'referrer.host';
            $host = $referrer === '' ? '' : AddressFacts::of(str_contains($referrer, '//') ? $referrer : "https://{$referrer}/")->host;
            $said += $host === '' ? [] : ['referrer.host' => $host];
        }
        foreach (['cookies' => 'cookie.', 'data' => 'data.'] as $name => $stem) {
            if ($fields->has($name)) {
                $groups[] = $stem;
                $said += self::flat($fields->raw($name), $name, $stem);
            }
        }
        $fields->nothingElse();

        return new self($url, AddressFacts::of($url), $said, $groups);
    }

    public function get(string $fact): string|int|float|bool|null
    {
        return str_starts_with($fact, 'url.') ? $this->address->get($fact) : $this->said[$fact] ?? null;
    }

    public function isKnown(string $fact): bool
    {
        if (str_starts_with($fact, 'url.') || isset($this->said[$fact])) {
            return true;
        }
        foreach ($this->groups as $stem) {
            if (str_starts_with($fact, $stem)) {
                return true;
            }
        }

        return false;
    }

    /** @return array<string, string|int|float|bool> */
    private static function flat(mixed $values, string $name, string $stem): array
    {
        if (! is_array($values) || count($values) > 100) {
            throw new InvalidRule('An object with names and values is needed, of at most 100.', $name);
        }
        $flat = [];
        foreach ($values as $key => $value) {
            if (! is_scalar($value)) {
                throw new InvalidRule('A text, a number, true or false is needed; of an object within, name its path, such as basket.total.', "{$name}.{$key}");
            }
            $flat[$stem.$key] = $stem === 'cookie.' ? (string) $value : $value;
        }

        return $flat;
    }
}
