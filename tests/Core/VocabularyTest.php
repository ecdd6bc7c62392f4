<?php

declare(strict_types=1);

use Pellix\Core\Rules\Fact;
use Pellix\Core\Rules\Place;
use Pellix\Core\Rules\RuleReader;
use Pellix\Core\Vocabulary\Vocabulary;
use Pellix\Core\Wiring\Findings\FindingCode;
use Symfony\Component\Yaml\Yaml;

it('is exported as the enums have it: if this fails, run bin/pellix vocabulary', function () {
    expect((string) file_get_contents(dirname(__DIR__, 2).'/docs/vocabulary.json'))->toBe(Vocabulary::json());
});

it('is all that the API says of these words', function () {
    $schemas = Yaml::parseFile(dirname(__DIR__, 2).'/docs/openapi.yaml')['components']['schemas'];
    $known = Vocabulary::all();
    expect(array_filter(array_keys($known), fn (string $name): bool => ($schemas[$name] ?? null) !== ['$ref' => "vocabulary.json#/{$name}"]))->toBe([]);
    // Nobody lists such words a second time.
    $lists = [];
    $walk = function (mixed $part, string $at) use (&$walk, &$lists): void {
        foreach (is_array($part) ? $part : [] as $name => $inner) {
            $name === 'enum' && is_array($inner) ? $lists[$at] = $inner : $walk($inner, "{$at}/{$name}");
        }
    };
    $walk($schemas, '');
    foreach ($known as $name => $one) {
        expect(array_search($one['enum'], $lists, true))->toBeFalse("{$name} is listed again");
    }
});

it('finds the fact that a name means, and no other', function (string $name, ?Fact $fact) {
    expect(Fact::named($name))->toBe($fact);
})->with([
    ['url.path', Fact::Path], ['url.query.colour', Fact::Parameter], ['url.query.', null], ['url.query.*', Fact::Parameter], ['cookie.a.b', Fact::Cookie], ['data.*', Fact::Data],
    ['event.props.a', Fact::EventProperty], ['event.props', null], ['moon', null], ['', null], ['URL.path', null],
]);

it('refuses a fact where it can never be known, at the condition', function (string $fact, Place $place, bool $isTaken) {
    $read = fn () => RuleReader::read(['all' => [['fact' => 'url.path', 'op' => 'is', 'value' => '/'], ['not' => ['fact' => $fact, 'op' => 'exists']]]], $place);
    $isTaken ? expect($read()->toArray())->not->toBe([]) : expect(complaint($read))->toStartWith("all.1.not.fact: \"{$fact}\" is not known");
})->with([
    ['visitor.returning', Place::RecordedEvent, false], ['visitor.returning', Place::Browser, true], ['cookie.x', Place::RecordedEvent, false], ['event.name', Place::Browser, false],
    ['event.name', Place::Happening, true], ['event.props.x', Place::RecordedEvent, true], ['device', Place::Page, false], ['url.query.x', Place::Page, true],
]);

it('knows a severity, a link and a title of every finding', function () {
    foreach (FindingCode::cases() as $code) {
        expect($code->value)->toMatch('/\A[a-z]+\.[a-z-]+\z/')->and($code->title())->not->toBe('');
    }
});
