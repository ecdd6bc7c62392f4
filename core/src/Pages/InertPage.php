<?php

declare(strict_types=1);

namespace Pellix\Core\Pages;

use DOMDocument;
use DOMElement;
use DOMXPath;
use Masterminds\HTML5;

/** A page as it was inspected, made so that it can be shown: nothing in it runs, is loaded, or leads away. */
final class InertPage
{
    /** What runs, loads or frames something, or changes what addresses mean; of `meta`, what acts as a header. */
    private const GONE = '//script | //noscript | //iframe | //frame | //object | //embed | //applet | //base | //template | //link[not(@rel="icon")] | //meta[@http-equiv] | //portal | //fencedframe';

    /** Attributes that hold code or another page, or load something. */
    private const ATTRIBUTES = '/\A(?:on.*|srcdoc|formaction|ping|background|nonce)\z/i';

    /**
     * @param string       $html   UTF-8
     * @param list<string> $sheets texts of the style sheets that it links to
     * @param string       $head   HTML that is put at the beginning of its head: the only thing that may run there
     */
    public static function of(string $html, array $sheets, string $head): string
    {
        $html5 = new HTML5(['disable_html_ns' => true]);
        $document = $html5->loadHTML($html);
        $xpath = new DOMXPath($document);
        foreach (self::elements($xpath, self::GONE) as $element) {
            $element->parentNode?->removeChild($element);
        }
        array_map(self::still(...), self::elements($xpath, '//*'));
        self::style($document, $xpath, $sheets);
        $text = $html5->saveHTML($document);
        $at = stripos($text, '<head');
        $end = $at === false ? false : strpos($text, '>', $at);

        return $end === false ? "<!DOCTYPE html><head>{$head}</head>{$text}" : substr($text, 0, $end + 1).$head.substr($text, $end + 1);
    }

    /** @return list<DOMElement> a list of its own, which does not change with the document */
    private static function elements(DOMXPath $xpath, string $path): array
    {
        return array_values(array_filter(iterator_to_array($xpath->query($path) ?: []), static fn (mixed $node): bool => $node instanceof DOMElement));
    }

    private static function still(DOMElement $element): void
    {
        foreach (iterator_to_array($element->attributes) as $attribute) {
            $isCode = preg_match(self::ATTRIBUTES, $attribute->nodeName) === 1 || preg_match('/\A(?:java|vb)script:/i', (string) preg_replace('/[\x00-\x20]+/', '', (string) $attribute->nodeValue)) === 1;
            $isCode && $element->removeAttributeNode($attribute);
        }
    }

    /** @param list<string> $sheets */
    private static function style(DOMDocument $document, DOMXPath $xpath, array $sheets): void
    {
        $head = self::elements($xpath, '//head')[0] ?? null;
        // Before the page's own: most pages link first.
        $first = self::elements($xpath, '//head/style')[0] ?? null;
        foreach ($sheets as $sheet) {
            $element = $document->createElement('style');
            // What would end the element early ends it nowhere in a style sheet.
            $element->appendChild($document->createTextNode(str_ireplace('</style', '<\/style', $sheet)));
            $first !== null ? $first->parentNode?->insertBefore($element, $first) : ($head ?? $document->documentElement)?->appendChild($element);
        }
    }
}
