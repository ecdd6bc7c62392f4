<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Html;

/**
 * Reads a page that is XML, as browsers do where a server says so: by XML 1.0 and Namespaces in XML, up to the first
 * mistake, with which the page ends.
 */
final class XhtmlReader
{
    private const HTML = 'http://www.w3.org/1999/xhtml';
    private const SVG = 'http://www.w3.org/2000/svg';
    private const XLINK = 'http://www.w3.org/1999/xlink';

    /** What comes between a namespace and a name: a sign that stands in neither. */
    private const MARK = '|';

    private const CHUNK = 65_536;

    private const DEEPEST = 10_000;

    /** @var list<Node> those of the last piece */
    private array $nodes = [];

    /** @var list<array{string, bool, int, array<string, string>, string, string}> open elements: name, of svg, offset, attributes, text, namespace */
    private array $open = [];

    private int $heads = 0;

    private int $templates = 0;

    private function __construct(private readonly string $text)
    {
    }

    /**
     * @param string $text UTF-8
     *
     * @return \Generator<int, Node, void, array{int, string}|null> elements in the order in which they end, comments and texts; in
     *                                                              the end, offset and words of the mistake that ended the page
     */
    public static function nodes(string $text): \Generator
    {
        return (new self($text))->parse();
    }

    /** @return \Generator<int, Node, void, array{int, string}|null> */
    private function parse(): \Generator
    {
        $parser = xml_parser_create_ns('UTF-8', self::MARK);
        xml_parser_set_option($parser, XML_OPTION_CASE_FOLDING, 0);
        xml_set_element_handler($parser, $this->start(...), $this->end(...));
        xml_set_character_data_handler($parser, $this->characters(...));
        xml_set_default_handler($parser, $this->other(...));
        $readable = $this->readable();
        $length = strlen($readable);
        for ($at = 0; $at < $length || $at === 0; $at += self::CHUNK) {
            $isRight = xml_parse($parser, substr($readable, $at, self::CHUNK), $at + self::CHUNK >= $length) === 1;
            yield from $this->nodes;
            $this->nodes = [];
            if (count($this->open) > self::DEEPEST) {
                return [min($at, $length - 1), 'Elements stand within each other too deep'];
            }
            if (! $isRight) {
                return [min(max(0, xml_get_current_byte_index($parser)), max(0, $length - 1)), (string) xml_error_string(xml_get_error_code($parser))];
            }
        }

        return null;
    }

    /** The same text, as long, where what was decoded is not declared any more, and entities of XHTML stand for something. */
    private function readable(): string
    {
        $text = (string) preg_replace_callback('/\A(<\?xml[^>]*?)(\sencoding\s*=\s*("[^"]*"|\'[^\']*\'))/', static fn (array $m): string => $m[1].str_repeat(' ', strlen($m[2])), $this->text);
        if (preg_match('/<!DOCTYPE[^>]*XHTML/i', substr($text, 0, 2000)) !== 1) {
            return $text;
        }

        return (string) preg_replace_callback('/&(?!lt;|gt;|amp;|quot;|apos;)[A-Za-z][A-Za-z0-9]{1,30};/', static fn (array $m): string => html_entity_decode($m[0], ENT_QUOTES | ENT_HTML5, 'UTF-8') === $m[0] ? $m[0] : str_repeat('.', strlen($m[0])), $text);
    }

    /** @param array<string, string> $attributes */
    private function start(\XMLParser $parser, string $name, array $attributes): void
    {
        [$space, $local] = str_contains($name, self::MARK) ? explode(self::MARK, $name, 2) : ['', $name];
        $own = [];
        foreach ($attributes as $key => $value) {
            $own[str_replace(self::XLINK.self::MARK, 'xlink:', (string) $key)] = $value;
        }
        $this->open[] = [$local, $space === self::SVG, $this->offset($parser), $own, '', $space];
        if ($space === self::HTML) {
            $this->heads += $local === 'head' ? 1 : 0;
            $this->templates += $local === 'template' ? 1 : 0;
        }
    }

    private function end(\XMLParser $parser, string $name): void
    {
        $element = array_pop($this->open);
        if ($element === null) {
            return;
        }
        [$local, $isSvg, $offset, $attributes, $text, $space] = $element;
        if ($space === self::HTML) {
            $this->heads -= $local === 'head' ? 1 : 0;
            $this->templates -= $local === 'template' ? 1 : 0;
        }
        if ($space === self::HTML || $isSvg) {
            $this->nodes[] = new Node($local, $this->heads > 0 || $local === 'head' ? 'head' : 'body', $this->templates > 0 ? 'template' : null, $offset, $attributes, $text, true, $isSvg);
        }
    }

    private function characters(\XMLParser $parser, string $text): void
    {
        $last = count($this->open) - 1;
        if ($last < 0) {
            return;
        }
        if (in_array($this->open[$last][0], ['script', 'style', 'title', 'textarea', 'iframe', 'noembed', 'noframes', 'xmp'], true)) {
            $this->open[$last][4] .= $text;
        } elseif (trim($text) !== '') {
            $this->nodes[] = new Node('#text', $this->heads > 0 ? 'head' : 'body', $this->templates > 0 ? 'template' : null, $this->offset($parser), [], $text);
        }
    }

    private function other(\XMLParser $parser, string $text): void
    {
        if (str_starts_with($text, '<!--')) {
            $this->nodes[] = new Node('#comment', $this->heads > 0 ? 'head' : 'body', $this->templates > 0 ? 'template' : null, $this->offset($parser), [], $text);
        }
    }

    /** Where the tag begins that the parser is at. */
    private function offset(\XMLParser $parser): int
    {
        $at = min(max(0, xml_get_current_byte_index($parser)), strlen($this->text));
        $begin = strrpos(substr($this->text, max(0, $at - 4096), min($at, 4096)), '<');

        return ($this->text[$at] ?? '') === '<' || $begin === false ? min($at, max(0, strlen($this->text) - 1)) : max(0, $at - 4096) + $begin;
    }
}
