<?php

use Pellix\Core\Pages\PageCopy;
use Pellix\Core\Pages\SelectorParts;

it('takes a selector apart where it is joined, and nowhere else', function (string $selector, ?array $parts) {
    $told = SelectorParts::of($selector);
    expect($told === null ? null : array_map(static fn (array $one): string => implode('|', array_map(static fn (array $part): string => $part['combinator'].$part['compound'], $one)), $told))->toBe($parts);
})->with([
    ['h1', ['h1']], ['a b', ['a| b']], [" a  >\n b ", ['a|>b']], ['a>b+c~d', ['a|>b|+c|~d']], ['a, b c', ['a', 'b| c']],
    ['a[href="x, y > z"] b', ['a[href="x, y > z"]| b']], ['p:not(.a, .b) > q', ['p:not(.a, .b)|>q']], ['.a\\:b c', ['.a\\:b| c']], ['[title=\'it\\\'s\'] b', ['[title=\'it\\\'s\']| b']],
    ['', null], ['> a', null], ['a >', null], ['a > > b', null], ['a,', null], ['a[b', null], ['a(', null], [',', null],
]);

it('finds what is joined as the page has it', function (string $selector, array $ids) {
    $page = PageCopy::read('<!doctype html><body id=a><div id=b class=x><p id=c>1</p><p id=d class=x>2</p><div id=e><p id=f>3</p></div></div><p id=g>4</p><span id=h></span></body>');
    expect(array_map(static fn (DOMElement $one): string => $one->getAttribute('id'), $page->find($selector)))->toBe($ids);
})->with([
    ['.x p', ['c', 'd', 'f']], ['.x > p', ['c', 'd']], ['p + p', ['d']], ['p ~ div', ['e']], ['div ~ p, div p', ['c', 'd', 'f', 'g']], ['body .x .x', ['d']], ['div div p', ['f']], ['#g + span', ['h']],
    ['div > div > p, #a > p', ['f', 'g']], ['.x ~ .x', []], ['* > *', ['a', 'b', 'c', 'd', 'e', 'f', 'g', 'h']],
]);

it('takes no time that grows with the square of the page', function () {
    $deep = '<!doctype html><body>'.str_repeat('<div class="row"><p>text <a href="/x">link</a></p></div>', 3000).str_repeat('<div>', 200).'<b>x</b>';
    $page = PageCopy::read($deep);
    // Each with thousands of elements that it could begin at.
    foreach (['* * * a', '.row p > a', 'div div div div b', '* > * * ~ * *', 'p:nth-child(1) a'] as $selector) {
        $found = $page->find($selector);
        expect($found === null || count($found) > 0)->toBeTrue($selector);
    }
    expect($page->find('p:nth-child(1)'))->toBeNull()->and(count($page->find('.row p > a')))->toBe(3000);
});
