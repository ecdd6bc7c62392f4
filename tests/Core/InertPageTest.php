<?php

use Pellix\Core\Pages\InertPage;
use Pellix\Core\Pages\PageCopy;

/** A page that tries what a page can try. */
function inert(string $body, string $head = '', array $sheets = []): string
{
    return InertPage::of("<!DOCTYPE html><html lang=\"en\"><head><meta charset=\"utf-8\">{$head}<title>T</title></head><body>{$body}</body></html>", $sheets, '<script nonce="n">ours</script>');
}

it('lets nothing of a page run, load something, or change what addresses mean', function (string $body, string $head = '') {
    $made = inert($body, $head);
    expect($made)->not->toMatch('/theirs|elsewhere/i')->and(substr_count(strtolower($made), '<script'))->toBe(1)->and($made)->toContain('<script nonce="n">ours</script>')->toContain('Stays');
})->with([
    'scripts' => ['Stays<script>theirs</script><SCRIPT src="//elsewhere.test/"></SCRIPT><svg><script>theirs</script></svg>', '<script>theirs</script>'],
    'handlers' => ['<p onclick="theirs()" ONMOUSEOVER=theirs()>Stays</p><body onload="theirs()"><img onerror=theirs src=x>'],
    'code as an address' => ["<a href=\" java\nscript:theirs()\">Stays</a><a href=\"&#106;avascript:theirs\">x</a><form action=javascript:theirs><button formaction=javascript:theirs>x</button></form><svg><a xlink:href=\"javascript:theirs\">x</a></svg>"],
    'frames and other pages' => ['Stays<iframe src="//elsewhere.test/"></iframe><iframe srcdoc="theirs"></iframe><object data="//elsewhere.test/"></object><embed src="//elsewhere.test/">'],
    'headers and addresses' => ['Stays', '<meta http-equiv="refresh" content="0;url=//elsewhere.test/"><meta http-equiv="Content-Security-Policy" content="script-src elsewhere"><base href="//elsewhere.test/"><link rel="stylesheet" href="//elsewhere.test/a.css"><link rel="prefetch" href="//elsewhere.test/">'],
    'what is kept for scripts' => ['Stays<template><p>theirs</p></template><noscript>theirs</noscript>'],
]);

it('keeps what selectors go by, and the style sheets that the page links to, before its own', function () {
    $made = inert('<main class="a b" data-part="offer" id="m"><a href="/loan?x=1">Loan</a><p>Größe &amp; mehr</p></main>', '<style>p { color: red }</style>', ['main { top: 0 }', 'a::after { content: "</style><script>theirs</script>" }']);
    $copy = PageCopy::read($made);
    foreach (['main.a.b[data-part="offer"]', '#m > a[href^="/loan"]', 'p'] as $selector) {
        expect($copy?->find($selector))->toHaveCount(1, $selector);
    }
    expect($made)->toContain('Größe &amp; mehr')->toMatch('/<style>main \{ top: 0 \}<\/style><style>a::after.*<style>p \{ color: red \}<\/style>/s');
    // What would end a style element early does not.
    expect(PageCopy::read($made)?->find('script'))->toHaveCount(1);
});

it('takes a page without a head, an empty one and none at all', function (string $html) {
    $made = InertPage::of($html, ['p { top: 0 }'], '<script nonce="n">ours</script>');
    expect(substr_count($made, 'ours'))->toBe(1);
})->with(['<p>x', '', '<html></html>', 'plain text', '<frameset><frame src="/a"></frameset>']);
