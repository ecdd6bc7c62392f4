<?php

use Demo\Library;
use Pellix\Core\Wiring\Guard;
use Pellix\Core\Wiring\Inspection\Expectation;
use Pellix\Core\Wiring\Inspection\Inspector;
use Pellix\Core\Wiring\Snippet;

const COPY_FILE = 'https://measure.larkhollow.example/s/'.Library::SITE_KEY.'.js';

/** @return list<string> code and severity of what is found on a page with this head */
function found(string $head, array $expected = []): array
{
    return array_map(fn ($finding): string => "{$finding->code} {$finding->severity}", Inspector::inspect("<head>{$head}", Expectation::read(Library::SITE_KEY, $expected))->findings);
}

function copyOf(callable $change): string
{
    return $change(Snippet::loader(Library::SITE_KEY, 'https://measure.larkhollow.example'));
}

it('judges a copy by whether it still does the same', function (callable $change, array $found) {
    expect(found(copyOf($change)))->toBe($found);
})->with(fn () => [
    'no white space to spare' => [fn (string $s) => preg_replace('/\s+/', ' ', $s), []],
    'no-break spaces' => [fn (string $s) => str_replace('  ', "\u{a0}\u{a0}", $s), []],
    'single quotes' => [fn (string $s) => str_replace('"', "'", $s), []],
    'no semicolon where the line ends' => [fn (string $s) => str_replace("true;\n", "true\n", $s), []],
    'no semicolon before a bracket' => [fn (string $s) => str_replace("|| [];\n", "|| []\n", $s), ['snippet.altered blocker']],
    'a guard of CDATA' => [fn (string $s) => preg_replace('~(<script[^>]*>)(.*)(</script>)~s', "$1//<![CDATA[\n$2\n//]]>$3", $s), []],
    'CDATA without comments' => [fn (string $s) => preg_replace('~(<script[^>]*>)(.*)(</script>)~s', "$1<![CDATA[\n$2\n]]>$3", $s), ['snippet.altered blocker']],
    'a guard of comments' => [fn (string $s) => preg_replace('~(<script[^>]*>)(.*)(</script>)~s', "$1<!--\n$2\n//-->$3", $s), []],
    'other local names' => [fn (string $s) => preg_replace('~\bscript\b(?=[).])~', 'el', $s), ['snippet.altered note']],
    'one of two other names' => [fn (string $s) => preg_replace('~\bscript\.src~', 'el.src', $s), ['snippet.altered blocker']],
    'another address of the same file' => [fn (string $s) => str_replace('https://measure.larkhollow.example', '//elsewhere.example/x', $s), []],
    'a lost attribute' => [fn (string $s) => preg_replace('/ data-pellix="[^"]*"/', '', $s), ['snippet.altered note']],
    'among other code' => [fn (string $s) => preg_replace('/>/', '>var a = 1; ', $s, 1), ['snippet.altered note']],
    'curled quotes everywhere' => [fn (string $s) => str_replace('"', '”', $s), ['snippet.altered blocker']],
    'quoted-printable' => [quoted_printable_encode(...), ['snippet.altered blocker']],
    'another key' => [fn (string $s) => str_replace(Library::SITE_KEY, 'plx_0000000000000000', $s), ['snippet.wrong-key blocker']],
    'another file than it is marked with' => [fn (string $s) => str_replace('/'.Library::SITE_KEY, '/plx_0000000000000000', $s), ['snippet.altered blocker']],
    'a placeholder' => [fn () => '<script type="text/plain" data-src="'.COPY_FILE.'"></script>', ['snippet.consent-gated warning']],
    'never closed' => [fn () => '<script src="'.COPY_FILE.'">', ['snippet.altered blocker']],
    'for browsers of yesterday' => [fn () => '<script nomodule src="'.COPY_FILE.'"></script>', ['snippet.never-runs blocker']],
    'async and defer' => [fn () => '<script async defer src="'.COPY_FILE.'"></script>', []],
    'a module that waits for nothing' => [fn () => '<script type=module async src="'.COPY_FILE.'"></script>', []],
    'a module' => [fn () => '<script type=module src="'.COPY_FILE.'"></script>', ['snippet.deferred warning']],
    'a loader of its own' => [fn () => "<script>(function(d){var s=d.createElement('script');s.src='".COPY_FILE."';d.head.appendChild(s)})(document)</script>", ['snippet.altered note']],
    'of math' => [fn (string $s) => "<math>{$s}</math>", ['snippet.never-runs blocker']],
    'a shadow root' => [fn (string $s) => "<div><template shadowrootmode=open>{$s}</template></div>", ['snippet.in-body warning']],
    'a second shadow root' => [fn (string $s) => "<div><template shadowrootmode=open></template><template shadowrootmode=open>{$s}</template></div>", ['snippet.inside-template blocker']],
]);

it('takes no script for a copy that only names the address', function (string $html) {
    expect(found($html))->toBe(['snippet.missing blocker']);
})->with([
    '<script type="application/json">{"a":"'.COPY_FILE.'"}</script>',
    '<script>window.state = {"src": "x", "scripts": ["'.COPY_FILE.'"], "create": "createElement"}</script>',
    '<script type="speculationrules">{"prefetch":[{"urls":["'.COPY_FILE.'"]}]}</script>',
    '<p>'.COPY_FILE.'</p>', '<title>x</title><!-- '.COPY_FILE.' -->', '<script src="'.COPY_FILE.'on"></script>', '<a href="'.COPY_FILE.'">x</a>',
]);

// WHATWG HTML, 4.2.6 and 4.2.7; CSS Cascading 5, 2; Media Queries 4, 2.
it('knows for what a snippet waits', function (string $before, bool $waits) {
    expect(found($before.copyOf(fn (string $s) => $s)))->toBe($waits ? ['snippet.after-blocking warning'] : []);
})->with([
    ['<script src=a.js></script>', true], ['<script nomodule src=a.js></script>', false], ['<script async defer src=a.js></script>', false], ['<script type=module src=a.js></script>', false],
    ['<script type=text/plain src=a.js></script>', false], ['<script defer>var a</script>', false],
    ['<link rel=stylesheet href=a.css>', true], ['<link rel=stylesheet>', false], ['<link rel=stylesheet href="">', false], ['<link rel="alternate stylesheet" title=x href=a.css>', false],
    ['<link rel=stylesheet href=a.css media=print>', false], ['<link rel=stylesheet href=a.css media="print, screen and (min-width: 1px)">', true], ['<link rel=stylesheet href=a.css media="not all">', false],
    ['<link rel=stylesheet href=a.css media="not print">', true], ['<link rel=stylesheet href=a.css media="(max-width: 9em)">', true], ['<link rel=stylesheet href=a.css disabled>', false], ['<link rel=stylesheet href=a.css type=text/less>', false],
    ['<style>@import "a.css";</style>', true], ['<style>/* x */ @layer a; @import url(a.css) screen;</style>', true], ['<style>a { } @import "a.css";</style>', false], ['<style media=print>@import "a.css";</style>', false],
]);

it('finds that a guard is damaged, inert, or kept from working', function (callable $change, array $expected, array $found) {
    expect(found($change(Guard::text(900, ['h1 .title'])).copyOf(fn (string $s) => $s), ['guard' => true, ...$expected]))->toBe($found);
})->with(fn () => [
    [fn (string $g) => $g, [], []],
    [fn (string $g) => preg_replace('/style\b(?=[).])/', 's', $g), [], []],
    [fn (string $g) => str_replace('opacity', 'opacit', $g), [], ['guard.altered warning']],
    [fn (string $g) => str_replace('900', '90000', $g), [], ['guard.altered warning']],
    [fn (string $g) => substr($g, 0, 100).'</script>', [], ['guard.altered warning']],
    [fn (string $g) => "<template>{$g}</template>", [], ['guard.inside-template warning']],
    [fn (string $g) => $g, ['policy' => "style-src 'self'"], ['guard.csp-blocked warning']],
    [fn (string $g) => $g, ['policy' => "style-src 'unsafe-inline'"], []],
]);

it('orders tags by when they run', function (string $tags, array $found) {
    expect(found(copyOf(fn (string $s) => $s).$tags, ['tags' => [['key' => 'a', 'contains' => 'a.js'], ['key' => 'b', 'contains' => 'b()', 'after' => 'a']]]))->toBe($found);
})->with([
    ['<script src=a.js></script><script>b()</script>', []],
    ['<script defer src=a.js></script><script>b()</script>', ['tag.order warning']],
    ['<script type=module>b()</script><script src=a.js></script>', []],
    ['<script type=module>b()</script><script defer src=a.js></script>', ['tag.order warning']],
    ['<script>x <script src=a.js></script><script>b()</script>', ['tag.missing warning']],
    ['<script type="application/json">"a.js"</script><script>b()</script>', ['tag.missing warning']],
    ['<script src=a.js></script><script>b()', ['tag.missing warning']],
]);

it('lists so many findings of a kind, and says how many more there are', function () {
    $findings = Inspector::inspect('<head>'.str_repeat(copyOf(fn (string $s) => $s), 1101), Expectation::of(Library::SITE_KEY))->findings;
    expect($findings)->toHaveCount(100)->and(end($findings)->message)->toEndWith('There are 1,000 more of this kind.')->and(end($findings)->line)->toBeGreaterThan(100);
});

it('reads pages that were made to be costly with little memory', function (string $html) {
    $before = memory_get_usage();
    memory_reset_peak_usage();
    Inspector::inspect($html, Expectation::of(Library::SITE_KEY));
    expect(memory_get_peak_usage() - $before)->toBeLessThan(64_000_000);
})->with(fn () => [
    'open svg' => [str_repeat('<svg><a>', 160_000)], 'open comments' => [str_repeat('<!-- a ', 300_000)], 'comments' => [str_repeat('<!-- a -->', 100_000)], 'nested g' => ['<svg>'.str_repeat('<g>', 500_000)],
    'nothing' => [str_repeat('</>', 1_600_000)], 'scripts' => [str_repeat('<script></script>', 100_000)], 'open scripts of svg' => ['<svg>'.str_repeat('<script>a', 100_000)],
    'formatting' => [str_repeat('<b>', 100_000).str_repeat('<p></b>', 100_000)], 'one long line of copies' => ['<head>'.str_repeat(preg_replace('/\s+/', ' ', Snippet::loader(Library::SITE_KEY, 'https://a.example')), 3000)],
]);
