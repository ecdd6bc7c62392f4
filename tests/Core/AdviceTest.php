<?php

use Pellix\Core\Experiments\Advice\Advice;
use Pellix\Core\Experiments\Advice\ChangeAdvice;
use Pellix\Core\Experiments\Advice\CopiedPage;
use Pellix\Core\Experiments\Advice\DefinitionAdvice;
use Pellix\Core\Experiments\Advice\PlacedChange;
use Pellix\Core\Experiments\Advice\SelectorAdvice;
use Pellix\Core\Experiments\Advice\TargetAdvice;
use Pellix\Core\Experiments\Advice\TargetSeen;
use Pellix\Core\Experiments\Advice\TogetherAdvice;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Experiments\NamingPattern;
use Pellix\Core\Pages\PageCopy;
use Pellix\Core\Pages\SheetRules;

const ADVICE_PAGE = <<<'HTML'
    <!doctype html>
    <html><head><title>Loans</title></head>
    <body>
    <header><nav><a href="/">Home</a></nav></header>
    <main><section id="top">
    <h1 class="title" style="margin: 0">Borrow an instrument</h1>
    <p class="lead">From a <b>week</b> on</p>
    <button class="next" title="Go on">Next</button><button class="next">Later</button>
    </section><form id="loan"><input name="x"></form></main>
    <footer><p>Bye</p></footer><noscript><p class="lead">no</p></noscript>
    </body></html>
    HTML;

const ADVICE_CSS = "p { color: black }\n.lead b, .other { color: green; }\n@media print { .lead b { font-size: 1px } }\n#top h1 { font-size: 30px }\n.title:hover { font-size: 40px }\n.next { background: gold !important }";

function advicePage(): CopiedPage
{
    return new CopiedPage('https://site.test/loan', PageCopy::read(ADVICE_PAGE), SheetRules::read(ADVICE_CSS, '/site.css')->all);
}

/** @param list<array<string, mixed>> $changes */
function placed(array ...$changes): array
{
    return PlacedChange::all([['key' => 'a'], ['key' => 'b', 'name' => 'B', 'changes' => $changes]]);
}

/** @param list<Advice> $advice @return list<string> */
function adviceCodes(array $advice): array
{
    return array_map(static fn (Advice $one): string => "{$one->code->value} at {$one->field}", $advice);
}

it('finds elements as a browser would, with the line that each begins in', function (string $selector, ?array $lines) {
    $found = PageCopy::read(ADVICE_PAGE)->find($selector);
    expect($found === null ? null : array_map(PageCopy::line(...), $found))->toBe($lines);
})->with([
    ['h1', [6]], ['.next', [8, 8]], ['#top > p', [7]], ['.lead', [7]], ['button[title]', [8]], ['h1, footer p', [6, 10]], ['p:nth-child(2)', [7]],
    ['.none', []], ['p:hover', []], ['h1::before', null], ['section:has(h1)', null], ['{', null], ['', null],
]);

it('says what a selector finds, and what it hangs on', function (string $selector, array $codes) {
    expect(array_column(array_map(static fn (Advice $one): array => $one->toArray(), SelectorAdvice::of(placed(['kind' => 'hide', 'selector' => $selector]), advicePage())), 'code'))->toBe($codes);
})->with([
    ['h1', []], ['.next', ['selector.matches-many']], ['.gone', ['selector.matches-none']], ['h1::before', []],
    ['.x-1a2b3c', ['selector.matches-none', 'selector.generated-name']], ['#block12345', ['selector.matches-none', 'selector.generated-name']], ['.bkWdZq', ['selector.matches-none', 'selector.generated-name']],
    ['.col-12', ['selector.matches-none']], ['.step2', ['selector.matches-none']], ['.h1', ['selector.matches-none']], ['.loanForm', ['selector.matches-none']], ['a[href="/x1a2b3"]', ['selector.matches-none']],
    ['section > p:nth-child(2)', ['selector.position']], ['body > main > section > h1', ['selector.position']],
]);

it('notices changes that nobody would see', function (array $change, ?string $code) {
    expect(ChangeAdvice::of(placed($change), advicePage())[0]?->code->value ?? null)->toBe($code);
})->with([
    'the text that is there' => [['kind' => 'text', 'selector' => 'h1', 'value' => ' Borrow  an instrument '], 'change.no-effect'],
    'another text' => [['kind' => 'text', 'selector' => 'h1', 'value' => 'Borrow'], null],
    'a text in the place of elements' => [['kind' => 'text', 'selector' => '.lead', 'value' => 'From a week on'], null],
    'the HTML that is there' => [['kind' => 'html', 'selector' => '.lead', 'value' => 'From a <B>week</B>  on'], 'change.no-effect'],
    'HTML with another text' => [['kind' => 'html', 'selector' => '.lead', 'value' => 'From a <b>day</b> on'], 'change.only-text'],
    'HTML that is a text' => [['kind' => 'html', 'selector' => 'h1', 'value' => 'Borrow'], 'change.only-text'],
    'other HTML' => [['kind' => 'html', 'selector' => '.lead', 'value' => 'From a <i>day</i> on'], null],
    'an attribute as it is' => [['kind' => 'attribute', 'selector' => 'input', 'attribute' => 'name', 'value' => 'x'], 'change.no-effect'],
    'an attribute that is not there' => [['kind' => 'attribute', 'selector' => 'input', 'attribute' => 'title', 'value' => null], 'change.no-effect'],
    'one of two' => [['kind' => 'attribute', 'selector' => '.next', 'attribute' => 'title', 'value' => 'Go on'], null],
    'a class that is there' => [['kind' => 'class', 'selector' => 'h1', 'add' => ['title'], 'remove' => ['gone']], 'change.no-effect'],
    'another class' => [['kind' => 'class', 'selector' => 'h1', 'add' => ['title', 'big']], null],
    'its own style' => [['kind' => 'style', 'selector' => 'h1', 'property' => 'margin', 'value' => '0'], 'change.no-effect'],
    'a colour that the text inside does not take' => [['kind' => 'style', 'selector' => '.lead', 'property' => 'color', 'value' => 'red'], 'change.style-loses'],
    'a size that it does' => [['kind' => 'style', 'selector' => '.lead', 'property' => 'font-size', 'value' => '2em'], null],
    'a background' => [['kind' => 'style', 'selector' => '.next', 'property' => 'background', 'value' => 'red'], null],
    'a rule that is weaker' => [['kind' => 'sheet', 'value' => 'h1 { font-size: 20px }'], 'change.style-loses'],
    'a rule with priority' => [['kind' => 'sheet', 'value' => 'h1 { font-size: 20px !important }'], null],
    'a rule as strong, and later' => [['kind' => 'sheet', 'value' => '#top h1 { font-size: 20px }'], null],
    'a rule against priority' => [['kind' => 'sheet', 'value' => 'button.next#x, button.next { background: red }'], 'change.style-loses'],
    'a longhand against the shorthand' => [['kind' => 'sheet', 'value' => '.next { background-color: red }'], 'change.style-loses'],
    'a rule against the style of the element' => [['kind' => 'sheet', 'value' => 'section#top h1.title { margin: 1em }'], 'change.style-loses'],
]);

it('names the sheet and the line of what wins', function () {
    expect(ChangeAdvice::of(placed(['kind' => 'style', 'selector' => '.lead', 'property' => 'color', 'value' => 'red']), advicePage())[0]->words)->toContain('“.lead b { color: green }” (/site.css, line 2)')
        ->and(ChangeAdvice::of(placed(['kind' => 'sheet', 'value' => "p {}\nh1 { font-size: 20px }"]), advicePage())[0]->words)->toContain('in line 2 loses to “#top h1 { font-size: 30px }” (/site.css, line 4)');
});

it('notices changes that meet, in one variant and in two experiments', function () {
    $meet = static fn (array ...$changes): array => adviceCodes(TogetherAdvice::inVariants(placed(...$changes), ['A', 'B'], advicePage()));
    expect($meet(['kind' => 'text', 'selector' => 'h1', 'value' => 'a'], ['kind' => 'html', 'selector' => '.title', 'value' => '<b>b</b>']))->toBe(['change.overrides at variants.1.changes.1.selector'])
        ->and($meet(['kind' => 'text', 'selector' => 'h1', 'value' => 'a'], ['kind' => 'style', 'selector' => '.title', 'property' => 'color', 'value' => 'red']))->toBe(['change.same-element at variants.1.changes.1.selector'])
        ->and($meet(['kind' => 'remove', 'selector' => 'h1'], ['kind' => 'text', 'selector' => 'h1', 'value' => 'a']))->toBe(['change.overrides at variants.1.changes.1.selector'])
        ->and($meet(['kind' => 'html', 'selector' => '#top', 'value' => '<p>x</p>'], ['kind' => 'text', 'selector' => 'h1', 'value' => 'a']))->toBe(['change.overrides at variants.1.changes.1.selector'])
        ->and($meet(['kind' => 'text', 'selector' => 'h1', 'value' => 'a'], ['kind' => 'text', 'selector' => '.lead', 'value' => 'b']))->toBe([])
        ->and($meet(['kind' => 'text', 'selector' => 'h1', 'value' => 'a'], ['kind' => 'hide', 'selector' => 'footer p'], ['kind' => 'hide', 'selector' => 'nav a']))->toBe(['variant.mixed-ideas at variants.1.changes']);
    $other = Experiment::read(['pellix' => 1, 'key' => 'other', 'name' => 'Other', 'salt' => 's', 'variants' => [['key' => 'a', 'weight' => 1], ['key' => 'b', 'weight' => 1, 'changes' => [['kind' => 'hide', 'selector' => '.title']]]]]);
    $change = placed(['kind' => 'text', 'selector' => 'h1', 'value' => 'a']);
    expect(adviceCodes(TogetherAdvice::withOthers($change, [$other], ['other' => 'https://site.test/loan'], advicePage())))->toBe(['change.other-experiment at variants.1.changes.0.selector'])
        ->and(TogetherAdvice::withOthers($change, [$other], [], advicePage()))->toBe([])
        ->and(TogetherAdvice::withOthers(placed(['kind' => 'hide', 'selector' => 'footer']), [$other], ['other' => 'https://site.test/loan'], advicePage()))->toBe([]);
});

it('notices what an experiment lacks as a whole', function () {
    $whole = ['name' => '2026 loan Shorter', 'hypothesis' => 'x', 'goals' => [['key' => 'g']], 'share' => 0.5];
    $naming = NamingPattern::read('{year} {page} {name}');
    expect(DefinitionAdvice::of($whole, $naming, 90, 3, 5, 0.5))->toBe([])
        ->and(adviceCodes(DefinitionAdvice::of(['name' => 'Shorter', 'goals' => [], 'share' => 0.6, 'group' => ['key' => 'g'], 'planned_days' => 30, 'lifetime_days' => 15], $naming, 20, 0, 5, 0.5)))->toBe([
            'name.unlike-pattern at name', 'hypothesis.missing at hypothesis', 'goals.missing at goals', 'pages.none-known at pages', 'lifetime.short at lifetime_days', 'lifetime.cookie-short at planned_days', 'group.full at share',
        ]);
});

it('notices what may go wrong with the page that a redirect leads to', function () {
    expect(adviceCodes(TargetAdvice::of([
        new TargetSeen('variants.1.target', 'https://site.test/b', true, [], [], null, true),
        new TargetSeen('variants.2.target', 'https://site.test/c', false),
        new TargetSeen('variants.3.target', 'https://site.test/d', true, ['page']),
        new TargetSeen('variants.4.target', 'https://site.test/e', true, ['snippet'], ['https://site.test/'], 'Other', false, false),
    ])))->toBe([
        'target.not-inspected at variants.2.target', 'target.unreachable at variants.3.target', 'target.no-snippet at variants.4.target', 'target.linked at variants.4.target',
        'target.chain at variants.4.target', 'target.canonical at variants.4.target', 'target.other-cookie at variants.4.target',
    ]);
});
