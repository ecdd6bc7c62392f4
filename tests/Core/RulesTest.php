<?php

use Eris\Generator;
use Pellix\Core\Rules\AddressFacts;
use Pellix\Core\Rules\EventFacts;
use Pellix\Core\Rules\InvalidRule;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Rules\Pattern;
use Pellix\Core\Rules\RuleReader;
use Pellix\Core\Segments\Agent;

it('matches as the shared vectors say', function (array $rule, array $addresses) {
    $read = RuleReader::read($rule);
    expect($read->toArray())->toBe($rule);
    foreach ($addresses as $url => $matches) {
        expect($read->matches(AddressFacts::of((string) $url)))->toBe($matches, json_encode($rule)." on {$url}");
    }
})->with(vectors('rules'));

it('matches several hundred rules on events as the independent implementation does', function () {
    $differing = [];
    foreach (vectors('event_rules') as ['rule' => $json, 'events' => $events]) {
        $rule = RuleReader::read($json);
        foreach ($events as $event) {
            if ($rule->matches(new EventFacts($event['name'], $event['url'], $event['props'], $event['referrer'], $event['agent'])) !== $event['matches']) {
                $differing[] = [$json, $event];
            }
        }
    }
    expect($differing)->toBe([]);
});

it('tells device, browser and programs from a user agent', function (string $agent, string $device, string $browser, bool $crawls = false) {
    expect([Agent::device($agent), Agent::browser($agent), Agent::isCrawler($agent)])->toBe([$device, $browser, $crawls]);
})->with(vectors('agents'));

it('takes patterns that end in time, and no others', function (string $pattern, ?string $part) {
    try {
        $compiled = Pattern::compile($pattern);
        // Every text in time: the worst that the pattern can meet.
        foreach (['a', '/', 'a/', 'ab', '-', '1'] as $unit) {
            $text = str_repeat($unit, intdiv(Pattern::LONGEST_TEXT, strlen($unit)) - 1).'!';
            Pattern::matches($compiled, $text);
            expect(preg_last_error())->toBe(PREG_NO_ERROR, "{$pattern} on {$unit}");
        }
        expect($part)->toBeNull();
    } catch (InvalidRule $e) {
        expect($part)->not->toBeNull($e->getMessage())->and($e->getMessage())->toContain((string) $part);
    }
})->with([
    ['^/order/\d+/done$', null], ['^(/[a-z-]+)*/done$', null], ['^.*a.*b', null], ['a.*b', null], ['café+', null], ['[\w-]+', null], ['^/(en|pt)/join/?$', null], ['(ab|cd)+', null], ['~', null], ['[&~]', null],
    ['(a+)+$', '“a+”'], ['(a*)*', '“(a*)*”'], ['(a|a)*b', 'two ways of which begin alike'], ['(a|ab)*c', 'two ways of which begin alike'], ['^.*a.*b.*c', '“.*”'], ['.*a.*b', '“.*”'],
    ['(a?){30}a{30}', '“(a?){30}”'], ['a?a?a?a', '“a?”'], ['^(a{1,50}){1,50}$', '“a{1,50}”'], ['(.*)*', '“(.*)*”'], ['(x+x+)+y', '“x+”'], ['^.*\\d+$', null], ['.*/done/?$', null], ['^[^/]*\\d{2,}\\d{1,3}$', '“\\d{1,3}”'], ['.*\\d+$', '“\\d+”'], ['([a-z]+)*@', '“[a-z]+”'],
    ['^'.str_repeat('(a|ab)', 30).'$', 'too many ways'], ['^(a|ab)(a|ab)$', null], ['^(jobs|join|journal)(/en|/pt|/pl|/es)/(a|b)/(jobs|join)$', null], ['^((/a)(a?)?)*$', '“(a?)?”'], ['^.*.*(a{100}){10}$', 'too many ways'], ['^(x?)?y$', null],
    ['^z|.+a.+bz', '“.+”'], ['^z|^.+a.+b', null], ['(^a|b).*c.*d', '“.*”'], ['((a{100}){100}){100}', 'multiply'], ['^(?:x(?:ab?){1,100}){1,100}$', 'multiply'], ['^(?:ab{1,100}){1,20}$', null],
    ['^/[\w-.]+$', '\w-.'], ['[\d-x]', '\d-x'], ['[\w-]', null], ['[:alpha:]', null], ['[.a.]', null],
    ['x(?=y)', '(?='], ['(?i)x', '(?i'], ['\1', '\1'], ['\s', '\s'], ['(', '“(”'], ['a)', '“)”'], ['[', '“[”'], ['[z-a]', 'z-a'], ['a**', 'a**'], ['a{5,2}', 'a{5,2}'], ['a{999}', 'a{999}'], ['^*', 'edge'], [str_repeat('a', 301), '300 characters'], ['+', '“+”'], ['a{', '“{”'],
]);

it('takes an address apart as RFC 3986, appendix B, shows', function () {
    // The appendix's own example.
    $facts = AddressFacts::of('http://www.ics.uci.edu/pub/ietf/uri/#Related');
    expect($facts->get('url.host'))->toBe('www.ics.uci.edu')
        ->and($facts->get('url.path'))->toBe('/pub/ietf/uri/')
        ->and($facts->get('url.query.any'))->toBeNull()
        ->and($facts->get('url.fragment'))->toBe('Related');
});

it('reads no fact from what is no address, and never fails', function () {
    $this->limitTo(500)->forAll(Generator\string())->then(function (string $text) {
        $facts = AddressFacts::of($text);
        expect($facts->get('url.full'))->toBe($text)->and($facts->get('url.query.a'))->toBeNull();
    });
});

it('obeys De Morgan', function () {
    $paths = ['/', '/a', '/ab', '/b'];
    $this->limitTo(100)->forAll(Generator\elements($paths), Generator\elements($paths), Generator\elements($paths))->then(function ($x, $y, $url) {
        $a = ['fact' => 'url.path', 'op' => 'starts', 'value' => $x];
        $b = ['fact' => 'url.path', 'op' => 'is', 'value' => $y];
        $facts = AddressFacts::of("http://a.test{$url}");
        expect(RuleReader::read(['not' => ['all' => [$a, $b]]])->matches($facts))
            ->toBe(RuleReader::read(['any' => [['not' => $a], ['not' => $b]]])->matches($facts));
    });
});

it('says which part of a rule is wrong', function (mixed $rule, string $complaint) {
    expect(complaint(fn () => RuleReader::read($rule)))->toStartWith($complaint);
})->with([
    [null, ': A rule is an object'],
    [[1], ': A rule is an object'],
    [['all' => 1], 'all: "all" takes a list'],
    [['all' => [], 'any' => []], ': "all" stands alone'],
    [['any' => [['fact' => 'url.path', 'op' => 'is', 'value' => '/'], ['fact' => 'url.paht', 'op' => 'is', 'value' => '/']]], 'any.1.fact: There is no fact "url.paht".'],
    [['not' => ['fact' => 'url.path', 'op' => 'equals', 'value' => '/']], 'not.op: The operator is one of is, is-not'],
    [['fact' => 'url.path', 'op' => 'starts', 'value' => ''], 'value: The operator "starts" takes a text'],
    [['fact' => 'url.path', 'op' => 'lt', 'value' => '7'], 'value: The operator "lt" takes a number'],
    [['fact' => 'url.path', 'op' => 'in', 'value' => []], 'value: The operator "in" takes a list'],
    [['fact' => 'url.path', 'op' => 'exists', 'value' => 1], 'value: The operator "exists" takes no value'],
    [['fact' => 'url.path', 'op' => 'is', 'value' => '/', 'case' => true], 'case: A condition has'],
    [array_reduce(range(1, 20), fn ($rule) => ['not' => $rule], ['all' => []]), 'not.not.not.not.not.not.not.not.not.not: A rule may be nested'],
    [['all' => array_fill(0, 201, ['fact' => 'url.path', 'op' => 'is', 'value' => '/'])], 'all.200: A rule may have 200 conditions'],
]);

it('keeps page rules to what an address can tell', function (array $rule, string $complaint) {
    expect(complaint(fn () => PageRule::read($rule)))->toContain($complaint);
})->with([
    [['fact' => 'device', 'op' => 'is', 'value' => 'mobile'], 'belongs in the audience rule'],
    [['fact' => 'url.path', 'op' => 'matches', 'value' => '(a+)+$'], '“a+”, inside of another repetition, can run away'],
    [['fact' => 'url.path', 'op' => 'is', 'value' => 'http://a.test/join'], 'A path begins with "/"'],
    [['all' => [['fact' => 'url.path', 'op' => 'starts', 'value' => 'join']]], 'A path begins with "/"'],
]);

it('accepts of random patterns only those that end in time', function () {
    $atom = ['a', 'b', '/', '[ab]', '[^/]', '.', '\\d', '\\w', '(a|b)', '(ab)', '(a|ab)', '(/a)', '(a?)'];
    $sign = ['', '', '', '*', '+', '?', '{2}', '{1,3}', '{2,}'];
    $accepted = 0;
    $this->limitTo(600)->forAll(
        Generator\seq(Generator\tuple(Generator\elements($atom), Generator\elements($sign))),
        Generator\elements($sign),
        Generator\bool(),
    )->then(function (array $parts, string $outer, bool $anchored) use (&$accepted) {
        $inner = implode('', array_map(fn (array $part): string => implode('', $part), array_slice($parts, 0, 6)));
        $source = ($anchored ? '^' : '').($outer === '' || $inner === '' ? $inner : "({$inner}){$outer}").'$';
        try {
            $compiled = Pattern::compile($source);
        } catch (InvalidRule) {
            return;
        }
        $accepted++;
        foreach (['a', 'ab', '/a', '1'] as $unit) {
            Pattern::matches($compiled, str_repeat($unit, intdiv(Pattern::LONGEST_TEXT - 1, strlen($unit))).'!');
            expect(preg_last_error())->toBe(PREG_NO_ERROR, $source);
        }
        // What is accepted means what PCRE makes of it as it was written.
        foreach (['', 'a', 'ab', 'aab', '/a/a', 'b1', 'a/b', 'aaaa'] as $text) {
            expect(Pattern::matches($compiled, $text))->toBe(preg_match("~{$source}~sD", $text) === 1, "{$source} on {$text}");
        }
    });
    expect($accepted)->toBeGreaterThan(50);
});
