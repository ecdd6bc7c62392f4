<?php

use Demo\Library;
use Pellix\Core\Wiring\Html\Encoding;
use Pellix\Core\Wiring\Inspection\Expectation;
use Pellix\Core\Wiring\Inspection\Inspector;
use Pellix\Core\Wiring\Snippet;

/** @return list<string> */
function foundAs(string $name, string $bytes): array
{
    return array_column(Inspector::inspectFile($name, $bytes, Expectation::of(Library::SITE_KEY))->findings, 'code');
}

function xhtml(string $head, string $body = '<p>x</p>', string $before = ''): string
{
    return "{$before}<html xmlns=\"http://www.w3.org/1999/xhtml\"><head><title>x</title>{$head}</head><body>{$body}</body></html>";
}

// XML 1.0, 2.7 (CDATA), 4.1 (entities), 4.3.3 (encodings); Namespaces in XML 1.0; WHATWG HTML, 14.2 (parsing XML documents).
it('reads XHTML as XML, where the same text as HTML is another page', function (callable $page, array $asXml, array $asHtml) {
    $html = $page(Snippet::loader(Library::SITE_KEY, 'https://p.test'));
    expect(foundAs('page.xhtml', $html))->toBe($asXml)->and(foundAs('page.html', $html))->toBe($asHtml);
})->with(fn () => [
    'a script that closes itself' => [fn (string $s) => xhtml("<script src=\"a.js\" async=\"\"/>{$s}"), [], ['snippet.missing']],
    'CDATA' => [fn (string $s) => xhtml(preg_replace('~(<script[^>]*>)(.*)(</script>)~s', '$1<![CDATA[$2]]>$3', $s)), [], ['snippet.altered']],
    'a comment' => [fn (string $s) => xhtml("<!-- {$s} -->"), ['snippet.commented-out'], ['snippet.commented-out']],
    'a template' => [fn (string $s) => xhtml('', "<template>{$s}</template>"), ['snippet.inside-template'], ['snippet.inside-template']],
    'the body' => [fn (string $s) => xhtml('', $s), ['snippet.in-body'], ['snippet.in-body']],
    'an element of its own before it' => [fn (string $s) => xhtml("<x/>{$s}"), [], ['snippet.in-body']],
    'a mistake before it' => [fn (string $s) => xhtml("<br>{$s}"), ['page.not-html'], ['snippet.in-body']],
    'a mistake after it' => [fn (string $s) => xhtml($s, '<p>a & b</p>'), ['page.not-html'], []],
    'entities of XHTML' => [fn (string $s) => xhtml($s, '<p>a&nbsp;&eacute;</p>', '<!DOCTYPE html PUBLIC "-//W3C//DTD XHTML 1.0 Strict//EN" "x">'), [], []],
    'no namespace' => [fn (string $s) => str_replace(' xmlns="http://www.w3.org/1999/xhtml"', '', xhtml($s)), ['page.not-html'], []],
    'a style sheet before it' => [fn (string $s) => xhtml("<link rel=\"stylesheet\" href=\"a.css\"/>{$s}"), ['snippet.after-blocking'], ['snippet.after-blocking']],
]);

it('reads the encoding that XML declares', function () {
    $page = mb_convert_encoding(xhtml(Snippet::loader(Library::SITE_KEY, 'https://p.test'), '<p>Größe</p>', '<?xml version="1.0" encoding="ISO-8859-1"?>'), 'ISO-8859-1', 'UTF-8');
    expect(foundAs('page.xhtml', $page))->toBe([])->and(Encoding::decode($page, null, true))->toContain('Größe');
});

it('points at the element, line and column', function () {
    $finding = Inspector::inspectFile('a.xhtml', xhtml("\n  <link rel=\"stylesheet\" href=\"a.css\"/>\n  é".Snippet::loader(Library::SITE_KEY, 'https://p.test')), Expectation::of(Library::SITE_KEY))->findings[0];
    expect([$finding->line, $finding->column])->toBe([3, 4])->and($finding->excerpt)->toStartWith('<script data-pellix=');
});

it('reads XML that was made to be costly with little memory', function (string $xml) {
    $before = memory_get_usage();
    memory_reset_peak_usage();
    foundAs('a.xhtml', $xml);
    expect(memory_get_peak_usage() - $before)->toBeLessThan(64_000_000);
})->with(fn () => [
    'deep' => [xhtml('', str_repeat('<a>', 300_000))], 'many' => [xhtml('', str_repeat('<a x="1">b</a>', 200_000))],
    'entities in entities' => ['<!DOCTYPE x [<!ENTITY a "aaaaaaaaaa">'.implode('', array_map(fn (int $i): string => '<!ENTITY '.chr(97 + $i).' "'.str_repeat('&'.chr(96 + $i).';', 10).'">', range(1, 9))).']><x>&j;</x>'],
]);
