<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inspection;

/**
 * Tells what one Content-Security-Policy lets through of a snippet and of a flicker guard.
 *
 * Source: W3C Content Security Policy Level 3: 2.2 (parsing), 6.1.11 (script-src), 6.7.2 (matching of URLs), 6.7.3 (inline),
 * 8.2 (strict-dynamic); Trusted Types (require-trusted-types-for).
 */
final readonly class ContentSecurityPolicy
{
    private const SCRIPT = ['script-src-elem', 'script-src', 'default-src'];
    private const STYLE = ['style-src-elem', 'style-src', 'default-src'];

    /** @param array<string, list<string>> $directives name => sources */
    private function __construct(private array $directives, private SourceList $matcher)
    {
    }

    /**
     * The policies of one header or meta element, which commas part.
     *
     * @param string|null $page the page's own address, which 'self' means
     *
     * @return list<self>
     */
    public static function parse(string $text, ?string $page = null): array
    {
        $policies = [];
        foreach (explode(',', $text) as $policy) {
            $directives = [];
            foreach (explode(';', $policy) as $part) {
                $words = preg_split('/[\t\n\f\r ]+/', trim($part, " \t\n\f\r"), -1, PREG_SPLIT_NO_EMPTY) ?: [];
                $name = strtolower((string) array_shift($words));
                if ($name !== '' && ! isset($directives[$name])) {
                    $directives[$name] = $words;
                }
            }
            if ($directives !== []) {
                $policies[] = new self($directives, new SourceList($page));
            }
        }

        return $policies;
    }

    /**
     * What keeps an inline script from running: the directive, and what to add to it.
     *
     * @param array<string, string> $attributes of the script
     *
     * @return list<array{string, string}>
     */
    public function againstInline(string $text, array $attributes): array
    {
        if ($this->isWithoutScripts()) {
            return [['sandbox', 'allow-scripts']];
        }
        $script = $this->sources(self::SCRIPT);
        if ($script === null || SourceList::allowsInline($script[1], true) || $this->trusts($script[1], $text, $attributes)) {
            return [];
        }

        return [[$script[0], "'sha256-".base64_encode(hash('sha256', $text, true))."'"]];
    }

    /**
     * What keeps a script from being loaded that an inline script puts onto the page.
     *
     * @return list<array{string, string}>
     */
    public function againstLoaded(string $file): array
    {
        $blocked = [];
        // A text as the address of a script is refused, unless the page has a policy of its own for that.
        if (in_array("'script'", array_map(strtolower(...), $this->directives['require-trusted-types-for'] ?? []), true)) {
            $blocked[] = ['require-trusted-types-for', 'a default policy of trusted types, or the file as a script element,'];
        }
        $script = $this->sources(self::SCRIPT);
        if ($script !== null && ! SourceList::has($script[1], "'strict-dynamic'") && ! $this->matcher->matches($script[1], $file)) {
            $blocked[] = [$script[0], self::origin($file)];
        }

        return $blocked;
    }

    /**
     * What keeps a script element with an address from running.
     *
     * @param array<string, string> $attributes of the script
     *
     * @return list<array{string, string}>
     */
    public function againstFile(string $file, array $attributes): array
    {
        if ($this->isWithoutScripts()) {
            return [['sandbox', 'allow-scripts']];
        }
        $script = $this->sources(self::SCRIPT);
        if ($script === null || SourceList::hasNonce($script[1], $attributes) || SourceList::hasIntegrity($script[1], $attributes['integrity'] ?? '')) {
            return [];
        }
        $isDynamic = SourceList::has($script[1], "'strict-dynamic'");
        if (! $isDynamic && $this->matcher->matches($script[1], $file)) {
            return [];
        }

        return [[$script[0], $isDynamic ? 'a nonce, on the script too,' : self::origin($file)]];
    }

    /** @return list<array{string, string}> what keeps beacons from being sent there */
    public function againstBeacons(string $address): array
    {
        $connect = $this->sources(['connect-src', 'default-src']);

        return $connect === null || $this->matcher->matches($connect[1], $address) ? [] : [[$connect[0], self::origin($address)]];
    }

    /** @return list<array{string, string}> what keeps a style from taking effect that a script puts onto the page */
    public function againstStyle(string $text): array
    {
        $style = $this->sources(self::STYLE);
        if ($style === null || SourceList::allowsInline($style[1], false) || SourceList::hasHash($style[1], $text)) {
            return [];
        }

        return [[$style[0], "'sha256-".base64_encode(hash('sha256', $text, true))."'"]];
    }

    private function isWithoutScripts(): bool
    {
        return isset($this->directives['sandbox']) && ! in_array('allow-scripts', array_map(strtolower(...), $this->directives['sandbox']), true);
    }

    /**
     * @param list<string>          $sources
     * @param array<string, string> $attributes
     */
    private function trusts(array $sources, string $text, array $attributes): bool
    {
        return SourceList::hasNonce($sources, $attributes) || SourceList::hasHash($sources, $text);
    }

    /**
     * @param list<string> $names
     *
     * @return array{string, list<string>}|null the first of these directives that the policy has
     */
    private function sources(array $names): ?array
    {
        foreach ($names as $name) {
            if (isset($this->directives[$name])) {
                return [$name, $this->directives[$name]];
            }
        }

        return null;
    }

    private static function origin(string $url): string
    {
        return (string) preg_replace('~\A((?:https?:)?//[^/?#]*).*\z~is', '$1', $url);
    }

    /** The same policy as a meta element has it, where some directives do not count (WHATWG HTML, 4.2.5.3). */
    public function asMeta(): self
    {
        return new self(array_diff_key($this->directives, ['sandbox' => 0, 'frame-ancestors' => 0, 'report-uri' => 0]), $this->matcher);
    }
}
