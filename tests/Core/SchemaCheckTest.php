<?php

use Pellix\Core\Events\EventPlan;
use Pellix\Core\Events\InvalidPlan;
use Pellix\Core\Events\TrackingPlan;

function planComplaint(array $schema): ?string
{
    try {
        EventPlan::read(['name' => 'x', 'schema' => $schema]);
    } catch (InvalidPlan $e) {
        return "{$e->field}: {$e->getMessage()}";
    }

    return null;
}

// JSON Schema 2020-12: core, 8.2.3 (references); validation, 6 (assertions).
it('refuses schemas that could never be evaluated, at the part that is wrong', function (array $schema, string $complaint) {
    expect(planComplaint($schema))->toStartWith($complaint);
})->with(fn () => [
    [['properties' => ['a' => ['$ref' => '#/$defs/none']]], 'schema.properties.a.$ref: There is nothing at #/$defs/none.'],
    [['properties' => ['a' => ['$ref' => 'https://elsewhere.test/x.json']]], 'schema.properties.a.$ref: Only references within'],
    [['properties' => ['a' => ['$ref' => 7]]], 'schema.properties.a.$ref: Only references within'],
    [['$ref' => '#'], 'schema.$ref: This schema refers to itself'],
    [['$defs' => ['a' => ['$ref' => '#/$defs/b'], 'b' => ['allOf' => [['$ref' => '#/$defs/a']]]], 'properties' => ['x' => ['$ref' => '#/$defs/a']]], 'schema.properties.x.$ref.$ref.allOf.$ref: This schema refers to itself'],
    [['$defs' => ['a' => [1]]], 'schema.$defs.a: A JSON Schema is an object'],
    [['$defs' => array_combine(array_map(fn (int $i): string => "d{$i}", range(0, 14)), array_map(fn (int $i): array => $i === 14 ? [] : ['allOf' => [['$ref' => '#/$defs/d'.($i + 1)], ['$ref' => '#/$defs/d'.($i + 1)]]], range(0, 14)))], 'schema.$defs.d'],
    [['properties' => ['a' => ['multipleOf' => 0]]], 'schema.properties.a.multipleOf: A number above 0'],
    [['properties' => ['a' => ['items' => ['multipleOf' => -1]]]], 'schema.properties.a.items.multipleOf: A number above 0'],
    [['properties' => ['a' => ['minLength' => -1]]], 'schema.properties.a.minLength: A whole number'],
    [['properties' => ['a' => ['maximum' => '7']]], 'schema.properties.a.maximum: A number is needed'],
    [['properties' => ['a' => ['type' => 'text']]], 'schema.properties.a.type: This is no JSON Schema'],
    [['properties' => ['a' => ['pattern' => '(a+)+$']]], 'schema.properties.a.pattern.value: The part'],
    [['properties' => ['a' => ['patternProperties' => ['(a|a)*' => true]]]], 'schema.properties.a.patternProperties.value: A choice'],
    [['properties' => ['a' => ['enum' => 'x']]], 'schema.properties.a.enum: A list'], [['required' => 'a'], 'schema.required: A list'], [['anyOf' => ['type' => 'object']], 'schema.anyOf: A list'],
    [['properties' => ['a' => 'text']], 'schema.properties.a: A JSON Schema is an object'],
    [array_reduce(range(1, 25), fn (array $inner): array => ['properties' => ['a' => $inner]], []), 'schema'],
]);

it('takes what can be evaluated', function (array $schema) {
    expect(planComplaint($schema))->toBeNull();
})->with([
    [['properties' => ['a' => true, 'b' => ['type' => ['string', 'null']], 'type' => ['type' => 'string'], 'pattern' => ['pattern' => '^a']]]],
    [['$defs' => ['price' => ['type' => 'number', 'multipleOf' => 0.01]], 'properties' => ['a' => ['$ref' => '#/$defs/price'], 'b' => ['type' => 'array', 'items' => ['$ref' => '#/$defs/price']]]]],
    // A tree, which ends where its value does.
    [['properties' => ['child' => ['$ref' => '#']]]], [['$defs' => ['a~b/c' => []], 'properties' => ['x' => ['$ref' => '#/$defs/a~0b~1c']]]], [['if' => ['required' => ['a']], 'then' => ['required' => ['b']]]],
]);

it('says of a schema that was kept before that it cannot be used, and judges the others', function () {
    $plan = TrackingPlan::of(['bad' => ['type' => 'object', 'properties' => ['a' => ['multipleOf' => 0]]], 'lost' => ['$ref' => '#/$defs/none'], 'good' => ['type' => 'object']]);
    expect($plan->judge('bad', ['a' => 1])['mistakes'][0]['message'])->toStartWith('The schema of this event cannot be used')
        ->and($plan->judge('lost', [])['verdict'])->toBe('wrong-type')->and($plan->judge('good', [])['verdict'])->toBe('conforms');
});
