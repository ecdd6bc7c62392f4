<?php

declare(strict_types=1);

namespace Pellix\Core\Pages;

use DOMDocument;
use DOMElement;
use DOMXPath;
use League\Uri\Exceptions\SyntaxError;
use League\Uri\Uri;
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

    /** On larger pages it is not told which place an element has among others: counting would take too long. */
    private const MOST_FOR_POSITIONS = 5_000;

    private readonly DOMXPath $xpath;

    /** @var list<DOMElement> in the order of the page */
    private readonly array $elements;

    private readonly CssSelectorConverter $converter;

    /** @var array<string, list<DOMElement>|null> selector => what it finds */
    private array $found = [];

    private function __construct(DOMDocument $document)
    {
        $this->xpath = new DOMXPath($document);
        $elements = [];
        // A list of its own: one of the document's is gone through anew for each of its elements.
        foreach ($this->xpath->query('//*') ?: [] as $node) {
            $node instanceof DOMElement && $elements[] = $node;
        }
        $this->elements = $elements;
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

    /**
     * Where its links and forms lead.
     *
     * @param string $base its own address
     *
     * @return list<string> absolute addresses, each once
     */
    public function leadsTo(string $base): array
    {
        $found = [];
        foreach (['a[href]' => 'href', 'area[href]' => 'href', 'form' => 'action'] as $selector => $attribute) {
            foreach ($this->find($selector) ?? [] as $element) {
                try {
                    $found[Uri::fromBaseUri(trim($element->getAttribute($attribute)), $base)->toString()] = true;
                } catch (SyntaxError) {
                    continue;
                }
            }
        }

        return array_map(strval(...), array_keys($found));
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

    /**
     * Compounds are found one by one, and joined by what stands between them: one expression for the whole would take time that
     * grows with the square of the page.
     *
     * @return list<DOMElement>|null
     */
    private function look(string $selector): ?array
    {
        $alternatives = SelectorParts::of($selector);
        if ($alternatives === null || (count($this->elements) > self::MOST_FOR_POSITIONS && preg_match('/:(?:nth-|first-|last-|only-)|~/', $selector) === 1)) {
            return null;
        }
        $all = [];
        foreach ($alternatives as $parts) {
            $reached = [];
            foreach ($parts as $part) {
                $found = $this->compound($part['compound']);
                if ($found === null) {
                    return null;
                }
                $reached = $part['combinator'] === '' ? $found : self::related($found, $part['combinator'], $reached);
            }
            $all += $reached;
        }

        // In the order of the page.
        return array_values(array_filter($this->elements, static fn (DOMElement $one): bool => isset($all[spl_object_id($one)]) && self::isShown($one)));
    }

    /** @return array<int, DOMElement>|null by their object ids, which stay, since the page holds on to its elements */
    private function compound(string $compound): ?array
    {
        try {
            $nodes = @$this->xpath->query($this->converter->toXPath($compound));
        } catch (ExceptionInterface) {
            return null;
        }
        $found = [];
        foreach ($nodes === false ? [] : $nodes as $node) {
            $node instanceof DOMElement && $found[spl_object_id($node)] = $node;
        }

        return $nodes === false ? null : $found;
    }

    /**
     * Those that stand in a relation to one of the others.
     *
     * @param array<int, DOMElement> $found
     * @param array<int, DOMElement> $to
     *
     * @return array<int, DOMElement>
     */
    private static function related(array $found, string $combinator, array $to): array
    {
        $step = static fn (DOMElement $one): ?DOMElement => $combinator === '+' || $combinator === '~' ? $one->previousElementSibling : ($one->parentNode instanceof DOMElement ? $one->parentNode : null);
        $isFar = $combinator === ' ' || $combinator === '~';
        $known = [];

        return array_filter($found, static function (DOMElement $element) use ($step, $isFar, $to, &$known): bool {
            $passed = [];
            $answer = false;
            for ($one = $step($element); $one !== null; $one = $isFar ? $step($one) : null) {
                $id = spl_object_id($one);
                $answer = $known[$id] ?? isset($to[$id]);
                if ($answer || isset($known[$id])) {
                    break;
                }
                $passed[] = $id;
            }
            foreach ($passed as $id) {
                // Whoever comes by here again finds what was found from here on.
                $known[$id] = $answer;
            }

            return $answer;
        });
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
