<?php

use Pellix\Core\Events\LogEvent;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Rehearsal\InvalidScript;
use Pellix\Core\Rehearsal\Proposal;
use Pellix\Core\Rehearsal\Script;
use Pellix\Core\Rehearsal\Step;
use Pellix\Core\Rehearsal\Way;
use Pellix\Core\Rules\PageRule;

/** @param array<string, mixed> $props */
function stepRecorded(string $name, string $path, int $second, array $props = [], string $visitor = 'v'): LogEvent
{
    return new LogEvent("{$name}-{$second}", $visitor, new DateTimeImmutable("2026-03-02T10:00:00Z +{$second} seconds"), $name, "https://shop.test{$path}", $props, null, '', null);
}

function goalAtPath(string $path): Goal
{
    return Goal::read(['key' => 'done', 'name' => 'Done', 'kind' => 'page', 'role' => 'primary', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => $path]]);
}

it('reads every kind of step, and writes it as it was', function (array $step, string $words) {
    $read = Step::read($step);
    expect($read->toArray())->toEqual($step)->and(Step::read($read->toArray()))->toEqual($read)->and($read->words())->toBe($words);
})->with([
    [['do' => 'open', 'path' => '/loan'], 'open /loan'],
    [['do' => 'open', 'path' => 'https://desk.shop.test/a?b=c#d', 'variants' => ['short']], 'open https://desk.shop.test/a?b=c#d (in short)'],
    [['do' => 'follow', 'path' => '/loan/done', 'element' => '#next'], 'go on to /loan/done'],
    [['do' => 'click', 'element' => '#next'], 'click #next'],
    [['do' => 'type', 'element' => '[name=mail]', 'value' => '{mail}'], 'type “{mail}” into [name=mail]'],
    [['do' => 'choose', 'element' => 'select', 'value' => 'Saturday'], 'choose “Saturday” in select'],
    [['do' => 'submit', 'element' => 'form'], 'send the form form'],
    [['do' => 'scroll', 'percent' => 50], 'scroll to 50 %'],
    [['do' => 'scroll', 'element' => '#end'], 'scroll to #end'],
    [['do' => 'hover', 'element' => 'nav'], 'point at nav'],
    [['do' => 'wait', 'seconds' => 2.5], 'wait 2.5 s'],
    [['do' => 'wait', 'element' => '#late'], 'wait for #late'],
    [['do' => 'wait', 'event' => 'order'], 'wait for the event order'],
    [['do' => 'back'], 'go back'],
    [['do' => 'reload'], 'load the page again'],
    [['do' => 'new-tab'], 'open a new tab'],
    [['do' => 'clear-cookies'], 'clear all cookies'],
    [['do' => 'consent', 'categories' => ['statistics']], 'give consent to statistics'],
    [['do' => 'consent', 'categories' => []], 'refuse consent'],
    [['do' => 'expect', 'element' => 'h1', 'text' => 'Take one home'], 'expect h1 with the text “Take one home”'],
    [['do' => 'expect', 'element' => 'h1', 'style' => 'color', 'value' => 'red'], 'expect h1 with color “red”'],
    [['do' => 'expect', 'element' => '.old', 'not' => true], 'expect nothing of .old'],
    [['do' => 'expect', 'address' => '/loan/done'], 'expect the address /loan/done'],
    [['do' => 'expect', 'cookie' => 'plx_visitor'], 'expect the cookie plx_visitor'],
    [['do' => 'expect', 'event' => 'order', 'props' => ['value' => 20], 'times' => 1], 'expect the event order with {"value":20}, once'],
    [['do' => 'expect', 'goal' => 'gave', 'value' => 20], 'expect the goal gave worth 20'],
    [['do' => 'expect', 'tag' => 'chat'], 'expect the tag chat'],
]);

it('refuses a script at the field that is wrong', function (array $steps, string $field) {
    try {
        Script::read(['pellix' => 1, 'steps' => $steps]);
    } catch (InvalidScript $e) {
        expect($e->field)->toBe($field);

        return;
    }
    throw new LogicException('It was taken.');
})->with([
    [[], 'steps'],
    [[['do' => 'click', 'element' => 'a']], 'steps.0.do'],
    [[['do' => 'dance']], 'steps.0.do'],
    [[['do' => 'open', 'path' => 'javascript:alert(1)']], 'steps.0.path'],
    [[['do' => 'open', 'path' => '//elsewhere.test/']], 'steps.0.path'],
    [[['do' => 'open', 'path' => '/'], ['do' => 'click']], 'steps.1.element'],
    [[['do' => 'open', 'path' => '/'], ['do' => 'click', 'element' => 'a { b']], 'steps.1.element'],
    [[['do' => 'open', 'path' => '/'], ['do' => 'wait', 'seconds' => 3000]], 'steps.1.seconds'],
    [[['do' => 'open', 'path' => '/'], ['do' => 'wait', 'cookie' => 'a']], 'steps.1.do'],
    [[['do' => 'open', 'path' => '/'], ['do' => 'expect', 'goal' => 'a', 'event' => 'b']], 'steps.1.goal'],
    [[['do' => 'open', 'path' => '/'], ['do' => 'expect', 'event' => 'b', 'props' => [1, 2]]], 'steps.1.props'],
    [[['do' => 'open', 'path' => '/'], ['do' => 'consent', 'categories' => ['everything']]], 'steps.1.categories.0'],
    [[['do' => 'open', 'path' => '/', 'speed' => 3]], 'steps.0.speed'],
    [array_fill(0, 81, ['do' => 'open', 'path' => '/']), 'steps'],
]);

it('takes the shortest way that recorded visits took from the page to the goal', function () {
    $pages = PageRule::read(['fact' => 'url.path', 'op' => 'is', 'value' => '/loan']);
    $long = [stepRecorded('page_view', '/', 0), stepRecorded('page_view', '/loan', 5), stepRecorded('page_view', '/loan/help', 9), stepRecorded('page_view', '/loan/details', 20), stepRecorded('page_view', '/loan/done', 60)];
    $short = [
        stepRecorded('page_view', '/loan', 0, visitor: 'w'), stepRecorded('click', '/loan', 3, ['path' => 'html>body>main>button#next.button'], 'w'), stepRecorded('form_submit', '/loan', 3, ['path' => 'html>body>form'], 'w'),
        stepRecorded('page_view', '/loan/details', 4, visitor: 'w'), stepRecorded('page_view', '/loan/done?n=7', 40, visitor: 'w'),
    ];
    expect(Way::shortest(goalAtPath('/loan/done'), $pages, [$long, $short]))->toBe([
        ['do' => 'follow', 'path' => '/loan/details', 'element' => 'button#next.button'],
        ['do' => 'follow', 'path' => '/loan/done'],
    ])->and(Way::shortest(goalAtPath('/loan/done'), $pages, [[stepRecorded('page_view', '/loan/done', 1)]]))->toBeNull();

    $click = Goal::read(['key' => 'pressed', 'name' => 'Pressed', 'kind' => 'click', 'role' => 'primary', 'selector' => '#next']);
    expect(Way::shortest($click, $pages, [$short]))->toBe([['do' => 'click', 'element' => 'button#next.button']]);
});

it('proposes a script from the experiment: its page, its changes, and a way to each goal', function () {
    $experiment = Experiment::read(['pellix' => 1, 'key' => 'a', 'salt' => 's', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/loan'], 'variants' => [
        ['key' => 'control', 'weight' => 50, 'control' => true],
        ['key' => 'short', 'weight' => 50, 'changes' => [['kind' => 'text', 'selector' => '#next', 'value' => 'Go'], ['kind' => 'hide', 'selector' => '.note']]],
    ], 'goals' => [goalAtPath('/loan/done')->toArray(), ['key' => 'bought', 'name' => 'Bought', 'kind' => 'order', 'role' => 'secondary', 'currency' => 'EUR']]]);
    $script = Proposal::of($experiment, 'https://shop.test/loan', []);
    expect($script->toArray()['steps'])->toBe([
        ['do' => 'open', 'path' => 'https://shop.test/loan'],
        ['do' => 'expect', 'element' => '#next', 'text' => 'Go', 'variants' => ['short']],
        ['do' => 'expect', 'element' => '.note', 'style' => 'display', 'value' => 'none', 'variants' => ['short']],
        ['do' => 'follow', 'path' => '/loan/done'],
        ['do' => 'expect', 'goal' => 'done'],
    ])->and($script->goals())->toBe(['done'])->and(count($script->for('control')))->toBe(3);

    $known = Proposal::of($experiment, 'https://shop.test/loan', ['bought' => [['do' => 'click', 'element' => '#buy']]])->toArray()['steps'];
    expect(array_slice($known, -3))->toBe([['do' => 'open', 'path' => 'https://shop.test/loan'], ['do' => 'click', 'element' => '#buy'], ['do' => 'expect', 'goal' => 'bought']]);
});
