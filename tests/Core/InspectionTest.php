<?php

use Demo\Library;
use Demo\Repairs;
use Eris\Generator;
use Pellix\Core\Wiring\Guard;
use Pellix\Core\Wiring\Html\Encoding;
use Pellix\Core\Wiring\Html\PageReader;
use Pellix\Core\Wiring\Inspection\Delivery;
use Pellix\Core\Wiring\Inspection\Expectation;
use Pellix\Core\Wiring\Inspection\Inspector;
use Pellix\Core\Wiring\Inspection\PageGroup;
use Pellix\Core\Wiring\Snippet;

const PELLIX = 'https://measure.larkhollow.example';

/** @return list<string> */
function codes(string $html, array $expected = Repairs::EXPECTED): array
{
    return array_column(Inspector::inspect(Encoding::decode($html), Expectation::read(Library::SITE_KEY, $expected))->findings, 'code');
}

it('finds each fault of the demo\'s pages and nothing on the sound ones', function (array $codes, string $html) {
    expect(codes($html))->toBe($codes);
})->with(Repairs::pages(PELLIX));

it('finds the same in other encodings', function (string $encoding, string $mark) {
    foreach (['sound', 'in-body', 'commented-out', 'typographic-quotes'] as $name) {
        [$codes, $html] = Repairs::pages(PELLIX)[$name];
        expect(codes($mark.mb_convert_encoding($html, $encoding, 'UTF-8')))->toBe($codes, $name);
    }
})->with([['UTF-16LE', "\xff\xfe"], ['UTF-16BE', "\xfe\xff"], ['UTF-8', "\xef\xbb\xbf"], ['UTF-8', '']]);

it('reads pages in windows-1252 that say so, say Latin-1, or say nothing', function (string $meta) {
    $html = mb_convert_encoding("<head>{$meta}<title>Café – müde</title>".Snippet::loader(Library::SITE_KEY, PELLIX), 'Windows-1252', 'UTF-8');
    expect(Encoding::decode($html))->toContain('Café – müde')->and(codes($html, []))->toBe([]);
})->with(['<meta charset=windows-1252>', '<meta http-equiv=Content-Type content="text/html; charset=iso-8859-1">', '']);

it('points at line and column, in characters', function () {
    $html = "<head>\n  <title>Größe</title><!-- ž --><script src=/slow.js></script>\n</head><body>\r\n  é ".Snippet::loader(Library::SITE_KEY, PELLIX);
    $finding = Inspector::inspect(Encoding::decode($html), Expectation::of(Library::SITE_KEY))->findings[0];
    expect([$finding->code, $finding->line, $finding->column])->toBe(['snippet.in-body', 4, 5])->and($finding->excerpt)->toStartWith('<script data-pellix=');
});

it('is calm about odd but sound pages', function (string $html) {
    expect(codes($html, []))->toBe([]);
})->with(fn () => [
    '3 MB of HTML' => ['<head>'.Snippet::loader(Library::SITE_KEY, PELLIX).'</head>'.str_repeat("<p class=x>Some words & more <b>words</b>\n", 75_000)],
    'a snippet mentioned by another script' => ['<head>'.Snippet::loader(Library::SITE_KEY, PELLIX).'<script>document.write("<script data-pellix=\"x\"><\/script>")</script>'],
    'the file loaded directly' => ['<head><script async src="'.PELLIX.'/s/'.Library::SITE_KEY.'.js"></script>'],
]);

it('notes a dead copy beside a living one', function () {
    $snippet = Snippet::loader(Library::SITE_KEY, PELLIX);
    $report = Inspector::inspect("<head>{$snippet}<!-- {$snippet} -->", Expectation::of(Library::SITE_KEY));
    expect(array_column($report->findings, 'severity', 'code'))->toBe(['snippet.commented-out' => 'note'])->and($report->verdict())->toBe('sound');
});

it('says that a guard has nothing to do', function () {
    $html = '<head>'.Guard::text().Snippet::loader(Library::SITE_KEY, PELLIX);
    expect(codes($html, ['guard' => false]))->toBe(['guard.with-nothing-to-do'])->and(codes($html, []))->toBe([]);
});

it('never fails, whatever it is given', function () {
    $this->limitTo(400)->forAll(Generator\seq(Generator\elements(['<', '>', '/', '!', '-', '"', "'", '=', ' ', 'script', 'head', 'template', 'svg', 'title', 'x', "\0", 'ž', ']]>', '<!--', '-->', '&amp;', '<![CDATA[', 'plx_'])))
        ->then(function (array $pieces) {
            $html = implode('', $pieces);
            $offsets = array_map(fn ($node) => $node->offset, iterator_to_array(PageReader::nodes($html), false));
            expect(array_filter($offsets, fn (int $offset): bool => $offset < 0 || $offset >= strlen($html)))->toBe([])->and(codes($html))->toBeArray();
        });
});

it('hides for a bounded time only', function () {
    expect(Guard::text(500))->toContain('setTimeout(window.pellixShow, 500)')
        ->and(complaint(fn () => Guard::text(499)))->toStartWith('milliseconds:')
        ->and(complaint(fn () => Guard::text(4001)))->toStartWith('milliseconds:');
});

it('says what is wrong with what is expected', function (mixed $json, string $complaint) {
    expect(complaint(fn () => Expectation::read(Library::SITE_KEY, $json)))->toStartWith($complaint);
})->with([
    [7, ': What is expected is a JSON object.'],
    [['tags' => [['key' => 'A']]], 'tags.0.key:'],
    [['tags' => [['key' => 'a', 'contains' => '']]], 'tags.0.contains:'],
    [['tags' => [['key' => 'a', 'contains' => 'x', 'after' => 'b']]], 'tags.0.after: There is no tag "b".'],
    [['guard' => 'yes'], 'guard:'], [['gaurd' => true], 'gaurd: There is no such member'], [['tags' => [['key' => 'a', 'contains' => 'x', 'befor' => 'b']]], 'tags.0.befor: There is no such member'],
]);

describe('what an inspection says besides', function () {
    it('names the text to paste, where one mends the finding and the origin is known', function (string $page, ?string $wanted) {
        [$codes, $html] = Repairs::pages(PELLIX)[$page];
        $expected = Expectation::read(Library::SITE_KEY, Repairs::EXPECTED)->servedFrom(PELLIX);
        $findings = Inspector::inspect(Encoding::decode($html), $expected)->findings;
        expect(array_column($findings, 'code'))->toBe($codes)
            ->and($findings[0]->paste)->toBe(match ($wanted) {
                'snippet' => Snippet::loader(Library::SITE_KEY, PELLIX),
                'guard' => Guard::text(),
                default => null,
            });
    })->with([
        ['missing', 'snippet'], ['wrong-key', 'snippet'], ['typographic-quotes', 'snippet'], ['commented-out', 'snippet'], ['in-body', 'snippet'],
        ['guard-missing', 'guard'], ['duplicate', null], ['tag-missing', null], ['policy-without-us', null],
    ]);

    it('gives no text to paste where nobody said from where it would be loaded', function () {
        $finding = Inspector::inspect('<head></head>', Expectation::of(Library::SITE_KEY))->findings[0];
        expect($finding->paste)->toBeNull()->and($finding->toArray())->not->toHaveKey('paste');
    });

    it('tells which of the required code is at fault', function (string $page, array $faulty) {
        $report = Inspector::inspect(Encoding::decode(Repairs::pages(PELLIX)[$page][1]), Expectation::read(Library::SITE_KEY, Repairs::EXPECTED));
        expect($report->faulty())->toBe($faulty);
    })->with([
        ['sound', []], ['missing', ['snippet']], ['in-body', []], ['wrong-key', ['snippet']], ['guard-missing', ['guard']], ['tag-missing', ['tag:counter']], ['tag-order', ['tag:counter']], ['policy-without-us', ['snippet']],
        ['not-html', ['page']], ['variant-linked', []],
    ]);

    it('expects no snippet where a group needs none', function () {
        $group = PageGroup::read(['name' => 'Pay', 'pages' => ['all' => []], 'snippet' => false, 'tags' => [['key' => 'a', 'contains' => 'a.js']]]);
        $codes = fn (string $html): array => array_column(Inspector::inspect($html, Expectation::inGroup(Library::SITE_KEY, $group, []))->findings, 'code');
        expect($codes('<p>x<script src=a.js></script>'))->toBe([])
            ->and($codes('<p>x'))->toBe(['tag.missing'])
            // What stands there all the same is looked at.
            ->and($codes('<script src=a.js></script><head>'.Snippet::loader('plx_someoneelse00001', PELLIX)))->toContain('snippet.wrong-key');
    });

    it('follows links from the page\'s own address to pages that nothing may lead to', function (string $html, array $codes) {
        $json = ['unlinked' => [['fact' => 'url.path', 'op' => 'starts', 'value' => '/evening']], 'url' => 'https://a.test/shelf/one', 'snippet' => false];
        expect(array_column(Inspector::inspect($html, Expectation::read(Library::SITE_KEY, $json))->findings, 'code'))->toBe($codes);
    })->with([
        ['<a href="/evening">e</a>', ['variant.linked']],
        ['<a href="../evening/x#y">e</a>', ['variant.linked']],
        ['<base href="/evening/"><a href="x">e</a>', ['variant.linked']],
        ['<a href="/evening"></a><a href="/evening">twice</a>', ['variant.linked']],
        ['<a href="evening">e</a>', []],
        ['<!-- <a href="/evening"> --><template><a href="/evening"></a></template><p>', []],
        ['<a href="/morning">m</a>', []],
    ]);

    it('says how a page came', function (array $change, array $codes) {
        $delivery = new Delivery(...['asked' => 'https://a.test/', 'given' => 'https://a.test/', 'status' => 200, 'contentType' => 'text/html', 'policies' => [], 'body' => '<head>'.Snippet::loader(Library::SITE_KEY, PELLIX), ...$change]);
        expect(array_column(Inspector::inspectDelivery($delivery, Expectation::of(Library::SITE_KEY))->findings, 'code'))->toBe($codes);
    })->with([
        [[], []],
        [['contentType' => 'Text/HTML; charset="utf-8"'], []],
        [['contentType' => 'application/xhtml+xml'], ['page.not-html']],
        [['contentType' => 'application/xhtml+xml', 'body' => '<html xmlns="http://www.w3.org/1999/xhtml"><head>'.Snippet::loader(Library::SITE_KEY, PELLIX).'</head></html>'], []],
        [['contentType' => 'application/json'], ['page.not-html']],
        [['contentType' => ''], ['page.not-html']],
        [['status' => 404], ['page.unreachable']],
        [['status' => 503, 'given' => 'https://a.test/x'], ['page.redirected', 'page.unreachable']],
        [['given' => 'https://a.test/new'], ['page.redirected']],
        [['policies' => ["script-src 'none'"]], ['snippet.csp-blocked']],
        [['policies' => ["script-src 'unsafe-inline' ".PELLIX, "connect-src 'none'"]], ['snippet.csp-blocked']],
        [['body' => ''], ['page.not-html']],
    ]);
});
