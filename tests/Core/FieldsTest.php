<?php

declare(strict_types=1);

use Pellix\Core\Formats\Fields;
use Pellix\Core\Goals\InvalidGoal;

/** @param array<string, mixed> $json */
function fields(mixed $json): Fields
{
    return new Fields($json, InvalidGoal::class, 'A goal');
}

it('takes a JSON object, and nothing else for one', function (mixed $json) {
    expect(complaint(fn () => fields($json)))->toBe(': A goal is a JSON object.');
})->with([[[1, 2]], ['text'], [null], [1.5], [true]]);

it('says of each member what it should be, at its name', function (callable $read, string $complaint) {
    expect(complaint(fn () => $read(fields(['text' => '', 'n' => '1', 'flag' => 1, 'list' => ['a' => 1], 'word' => 'no', 'moment' => 'yesterday']))))->toStartWith($complaint);
})->with([
    [fn (Fields $f) => $f->text('text'), 'text: A text of 1 to 200'], [fn (Fields $f) => $f->text('none'), 'none: A text'], [fn (Fields $f) => $f->number('n'), 'n: A number'], [fn (Fields $f) => $f->flag('flag'), 'flag: true or false'],
    [fn (Fields $f) => $f->list('list'), 'list: A list'], [fn (Fields $f) => $f->word('word', ['yes'], 'yes'), 'word: One of yes'], [fn (Fields $f) => $f->moment('moment'), 'moment: A time in RFC 3339'],
    [fn (Fields $f) => $f->pattern('text', '/a/', 'An a is needed.'), 'text: An a is needed.'],
]);

it('takes a default for what is missing or null, and never for what is wrong', function () {
    $fields = fields(['null' => null, 'zero' => 0, 'empty' => '']);
    expect($fields->number('null', 2.5))->toBe(2.5)->and($fields->number('zero', 2.5))->toBe(0.0)->and($fields->text('none', 10, ''))->toBe('')->and($fields->text('empty', 10, ''))->toBe('')
        ->and($fields->list('none'))->toBe([])->and($fields->flag('null'))->toBeFalse()->and($fields->moment('null'))->toBeNull()->and($fields->has('null'))->toBeFalse()->and($fields->has('zero'))->toBeTrue();
});

it('measures a text in characters, not in bytes', function () {
    expect(fields(['t' => str_repeat('é', 10)])->text('t', 10))->toBe(str_repeat('é', 10))->and(complaint(fn () => fields(['t' => str_repeat('é', 11)])->text('t', 10)))->toStartWith('t: ');
});

it('refuses what nobody has asked for, once everything was read', function () {
    $fields = fields(['a' => 1, 'b' => 2, 'gone' => null]);
    $fields->number('a');
    expect(complaint(fn () => $fields->nothingElse()))->toBe('b: There is no such member here, and it would be lost. There may be a.');
    $fields->has('b');
    expect(complaint(fn () => $fields->nothingElse()))->toBe('no complaint');
});

it('puts the way to a member before what is wrong with it', function () {
    $deep = fn () => Fields::within('goals.2', fn () => fields(['value' => ['fixed' => 'x']])->part('value', fn (mixed $json) => (new Fields($json, InvalidGoal::class, 'A value'))->number('fixed')), InvalidGoal::class);
    expect(complaint($deep))->toBe('goals.2.value.fixed: A number is needed.');
});
