<?php

declare(strict_types=1);

namespace Pellix\Core\Pages;

use DOMDocument;
use DOMElement;
use DOMXPath;
use Masterminds\HTML5;
use Pellix\Core\Wiring\Html\Tokenizer;
use Symfony\Component\CssSelector\CssSelectorConverter;
use Symfony\Component\CssSelector\Exception\ExceptionInterface;

/**
 * A page as it was inspected, to be asked what a selector finds there. Scripts have not run on it: what they build is not
 * there yet.
 */
final class PageCopy
{
    /** A larger page is not taken apart. */
    public const MOST_BYTES = 1_000_000;

    private const LINE = 'data-plx-line';

    /** The text of these holds no tags. */
    private const RAW = ['script', 'style', 'textarea', 'title', 'xmp', 'iframe', 'noembed', 'noframes', 'noscript'];

    private readonly DOMXPath $xpath;

    private readonly CssSelectorConverter $converter;

    /** @var array<string, list<DOMElement>|null> selector => what it finds */
    private array $found = [];

    private function __construct(private readonly DOMDocument $document)
    {
        $this->xpath = new DOMXPath($document);
        $this->converter = new CssSelectorConverter(true);
    }

    /** @param string $html UTF-8; null for one that is too large */
    public static function read(string $html): ?self
    {
        if (strlen($html) > self::MOST_BYTES) {
            return null;
        }

        return new self((new HTML5(['disable_html_ns' => true]))->loadHTML(self::numbered($html)));
    }

    /**
     * The elements that `document.querySelectorAll()` would find here.
     *
     * @return list<DOMElement>|null null for a selector that can only be told in a browser, or is none
     */
    public function find(string $selector): ?array
    {
        if (! array_key_exists($selector, $this->found)) {
            $this->found[$selector] = trim($selector) === '' ? null : $this->look($selector);
        }

        return $this->found[$selector];
    }

    public function matches(DOMElement $element, string $selector): bool
    {
        return in_array($element, $this->find($selector) ?? [], true);
    }

    /** @return int the line of the page's source that an element begins in, from 1; 0 where a browser adds it by itself */
    public static function line(DOMElement $element): int
    {
        return (int) $element->getAttribute(self::LINE);
    }

    /** An element in a line: its start tag and the beginning of its text. */
    public static function brief(DOMElement $element): string
    {
        $tag = "<{$element->nodeName}";
        foreach ($element->attributes as $attribute) {
            if ($attribute->nodeName !== self::LINE) {
                $tag .= " {$attribute->nodeName}=\"".mb_strimwidth($attribute->nodeValue ?? '', 0, 60, '…', 'UTF-8').'"';
            }
        }

        return mb_strimwidth($tag.'>'.self::text($element), 0, 160, '…', 'UTF-8');
    }

    /** The text of an element with its white space as one blank each. */
    public static function text(DOMElement $element): string
    {
        return trim((string) preg_replace('/\s+/u', ' ', mb_scrub($element->textContent, 'UTF-8')));
    }

    /** What an element holds, as HTML in one spelling. */
    public static function inside(DOMElement $element): string
    {
        return self::written(iterator_to_array($element->childNodes, false));
    }

    /** Another piece of HTML in that spelling. */
    public static function spelled(string $html): string
    {
        $fragment = (new HTML5(['disable_html_ns' => true]))->loadHTMLFragment($html);

        return self::written(iterator_to_array($fragment->childNodes, false));
    }

    /** @param list<\DOMNode> $nodes */
    private static function written(array $nodes): string
    {
        $writer = new HTML5(['disable_html_ns' => true]);
        $html = implode('', array_map(static fn (\DOMNode $node): string => $writer->saveHTML($node), $nodes));

        return trim((string) preg_replace(['/ '.self::LINE.'="\d+"/', '/\s+/u'], ['', ' '], $html));
    }

    /** @return list<DOMElement>|null */
    private function look(string $selector): ?array
    {
        try {
            $found = @$this->xpath->query($this->converter->toXPath(trim($selector)));
        } catch (ExceptionInterface) {
            return null;
        }

        $shown = [];
        foreach ($found === false ? [] : $found as $node) {
            $node instanceof DOMElement && self::isShown($node) && $shown[] = $node;
        }

        return $found === false ? null : $shown;
    }

    /** What stands in a template, or is there for browsers without scripts, is no part of the page. */
    private static function isShown(DOMElement $element): bool
    {
        for ($around = $element->parentNode; $around !== null; $around = $around->parentNode) {
            if (in_array($around->nodeName, ['template', 'noscript'], true)) {
                return false;
            }
        }

        return true;
    }

    /** The page with the number of its line at each start tag: parsers forget it. */
    private static function numbered(string $html): string
    {
        $tokens = new Tokenizer($html);
        $numbered = '';
        [$at, $line] = [0, 1];
        while (($token = $tokens->next()) !== null) {
            if ($token->type !== 'start') {
                continue;
            }
            if (in_array($token->name, self::RAW, true)) {
                $tokens->rawText($token->name);
            }
            $behind = $token->offset + 1 + strlen($token->name);
            $line += substr_count($html, "\n", $at, $token->offset - $at);
            $numbered .= substr($html, $at, $token->offset - $at).substr($html, $token->offset, $behind - $token->offset).' '.self::LINE."=\"{$line}\"";
            $line += substr_count($html, "\n", $token->offset, $behind - $token->offset);
            $at = $behind;
        }

        return $numbered.substr($html, $at);
    }
}
