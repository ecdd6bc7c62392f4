<?php

use Pellix\Core\Triggers\Trigger;
use Pellix\Core\Wiring\Tags\Tag;
use Pellix\Core\Wiring\Tags\TagSet;

function tag(array $change = []): array
{
    return ['key' => 'a', 'kind' => 'script', 'code' => 'x()', 'triggers' => [['kind' => 'time', 'seconds' => 5]], ...$change];
}

it('reads every kind of trigger, and writes it as it was', function (array $trigger) {
    expect(Trigger::read($trigger)->toArray())->toEqual($trigger);
})->with([
    [['kind' => 'page', 'pages' => ['all' => []]]],
    [['kind' => 'event', 'name' => 'opened', 'when' => ['fact' => 'event.props.n', 'op' => 'gt', 'value' => 1], 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/']]],
    [['kind' => 'click', 'selector' => '#buy']], [['kind' => 'form', 'selector' => 'form.loan']], [['kind' => 'time', 'seconds' => 30]], [['kind' => 'scroll', 'percent' => 50]],
    [['kind' => 'data', 'when' => ['fact' => 'data.event', 'op' => 'is', 'value' => 'booked']]],
]);

it('says what is wrong with a tag', function (array $change, string $complaint) {
    expect(complaint(fn () => Tag::read(tag($change))))->toStartWith($complaint);
})->with([
    [['key' => 'A b'], 'key: A tag key'], [['kind' => 'style'], 'kind: One of script'], [['code' => ''], 'code: A text'],
    [['code' => '<script>x()</script>'], 'code: JavaScript alone'], [['kind' => 'image', 'code' => 'javascript:x()'], 'code: The address of the image'],
    [['triggers' => []], 'triggers: A tag without a trigger'], [['triggers' => [['kind' => 'page']]], 'triggers.0.pages: Say on which pages'],
    [['triggers' => [['kind' => 'click', 'selector' => 'a{}']]], 'triggers.0.selector: A CSS selector'], [['triggers' => [['kind' => 'time', 'seconds' => 1.5]]], 'triggers.0.seconds: A whole number'],
    [['triggers' => [['kind' => 'scroll', 'percent' => 101]]], 'triggers.0.percent: A whole number from 1 to 100'], [['triggers' => [['kind' => 'data']]], 'triggers.0.when: Say what is pushed'],
    [['triggers' => [['kind' => 'event', 'name' => 'é']]], 'triggers.0.name: The name of an event'], [['consent' => 'maybe'], 'consent: One of'], [['once' => 'often'], 'once: One of'],
]);

it('holds a set of tags together', function (mixed $tags, string $complaint) {
    expect(complaint(fn () => TagSet::read($tags)))->toStartWith($complaint);
})->with([
    ['x', ': A list of at most 200'], [[tag(), tag()], '1.key: The key "a" is taken'], [[tag(['after' => 'b'])], '0.after: There is no tag "b"'],
    [[tag(['after' => 'a'])], '0.after: These tags wait'], [[tag(['after' => 'b']), tag(['key' => 'b', 'after' => 'c']), tag(['key' => 'c', 'after' => 'a'])], '0.after: These tags wait for one another in a circle: a, b, c'],
    [[tag(['key' => 'b', 'after' => 'a']), tag()], 'no complaint'], [[], 'no complaint'],
]);

it('tells two sets apart, field by field', function () {
    $before = TagSet::read([tag(), tag(['key' => 'gone'])]);
    $after = TagSet::read([tag(['code' => 'y()']), tag(['key' => 'new'])]);
    $changes = TagSet::differences($before, $after);
    expect(array_column($changes, 'change', 'key'))->toBe(['a' => 'changed', 'gone' => 'removed', 'new' => 'added'])
        ->and($changes[0]['fields'])->toBe([['field' => 'code', 'before' => 'x()', 'after' => 'y()']])
        ->and(TagSet::differences($after, $after))->toBe([]);
});
