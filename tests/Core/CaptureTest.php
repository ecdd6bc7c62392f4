<?php

use Eris\Generator;
use Pellix\Core\Events\EventPlan;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Events\SchemaJson;
use Pellix\Core\Events\TrackingPlan;
use Pellix\Core\Rules\EventFacts;
use Pellix\Core\Rules\Explanation;
use Pellix\Core\Rules\RuleReader;
use Pellix\Core\Triggers\Trigger;
use Pellix\Core\Triggers\TriggerTrace;
use Pellix\Core\Wiring\DataEvent;
use Pellix\Core\Wiring\Guard;
use Pellix\Core\Wiring\Inspection\Expectation;
use Pellix\Core\Wiring\Inspection\Inspector;
use Pellix\Core\Wiring\InvalidWiring;
use Pellix\Core\Wiring\RuntimeConfiguration;
use Pellix\Core\Wiring\SiteSettings;
use Pellix\Core\Wiring\SnippetForms;
use Pellix\Core\Wiring\Tags\TagSet;

const CAPTURE_KEY = 'plx_aaaaaaaaaaaaaaaa';

/** @param array<string, mixed> $props */
function recorded(string $name, string $path = '/', array $props = []): LogEvent
{
    return new LogEvent('e', 'v', new DateTimeImmutable('2026-03-02T12:00:00Z'), $name, "https://a.test{$path}", $props);
}

describe('a site\'s settings', function () {
    it('reach the runtime as they are', function () {
        $mapping = DataEvent::read(['push' => 'booked', 'name' => 'bench_booked', 'props' => ['deposit' => 'booking.deposit']]);
        $settings = new SiteSettings(CAPTURE_KEY, ['a.test'], 15, 20, 'shelf', [$mapping], true, true);
        $tags = TagSet::read([['key' => 't', 'kind' => 'script', 'code' => 'x', 'triggers' => [['kind' => 'time', 'seconds' => 5]]]]);
        $compiled = RuntimeConfiguration::compile($settings, 'https://p.test/c', [], $tags, 4);
        expect($compiled)->toMatchArray(['sessionSeconds' => 1200, 'dataLayer' => 'shelf', 'ask' => true, 'gpc' => true, 'wiring' => 4])
            ->and($compiled['tags'][0]['key'])->toBe('t')
            ->and(json_encode($compiled['dataEvents']))->toBe('[{"push":"booked","name":"bench_booked","props":{"deposit":"booking.deposit"}}]');
    });

    it('map pushes to events without properties as objects too', function () {
        expect(json_encode(DataEvent::read(['push' => 'a', 'name' => 'b'])->toArray()))->toBe('{"push":"a","name":"b","props":{}}');
    });

    it('say what is wrong with a mapping', function (array $json, string $complaint) {
        expect(complaint(fn () => DataEvent::read($json)))->toStartWith($complaint);
    })->with([
        [['name' => 'x'], 'push: A text'],
        [['push' => 'x', 'name' => '1'], 'name: A name of letters'],
        [['push' => 'x', 'name' => 'y', 'props' => ['a b' => 'c']], 'props: A property has'],
        [['push' => 'x', 'name' => 'y', 'props' => ['a' => '']], 'props: A property has'],
        [['push' => 'x', 'name' => 'y', 'props' => ['a' => 5]], 'props: A property has'],
        [['push' => 'x', 'name' => 'y', 'props' => array_fill_keys(range('a', 'z'), 'p')], 'props: At most 20'],
    ]);
});

describe('the snippet\'s forms', function () {
    it('are sound where a browser can run them', function (string $form) {
        $text = array_column(SnippetForms::all(CAPTURE_KEY, 'https://p.test/'), 'text', 'key')[$form];
        // A template prints only what stands between its tags; a policy's nonce is filled in by the server.
        $printed = strtr((string) preg_replace('/<\?php.*?\?>/s', '', $text), ['{NONCE}' => 'n1']);
        $policy = "script-src 'nonce-n1' https://p.test; connect-src https://p.test";
        $report = Inspector::inspect("<head>{$printed}</head>", Expectation::read(CAPTURE_KEY, $form === 'policy' ? ['policy' => $policy] : []));
        expect(array_column($report->findings, 'code'))->toBe([]);
    })->with(['html', 'template', 'single-page', 'policy']);

    it('hand everything to the pixel that a page can fill in', function () {
        $pixel = array_column(SnippetForms::all(CAPTURE_KEY, 'https://p.test'), 'text', 'key')['pixel'];
        expect($pixel)->not->toContain('<script');
        preg_match('/src="([^"]+)"/', $pixel, $m);
        parse_str((string) parse_url(html_entity_decode($m[1]), PHP_URL_QUERY), $parameters);
        expect($parameters)->toBe([
            'site' => CAPTURE_KEY, 'name' => 'order', 'visitor' => '{VISITOR}', 'order_id' => '{ORDER}', 'value' => '{VALUE}', 'currency' => '{CURRENCY}',
        ]);
    });

    it('explain each of their lines', function () {
        foreach (SnippetForms::all(CAPTURE_KEY, 'https://p.test') as $form) {
            expect($form['where'])->not->toBe('')->and($form['lines'])->not->toBe([])->and(array_map(count(...), $form['lines']))->each->toBe(2);
        }
    });
});

describe('the flicker guard', function () {
    it('is bounded, and small enough to stand on every page', function () {
        expect(Guard::text(500))->toContain('setTimeout(window.pellixShow, 500)')
            ->and(strlen(Guard::text()))->toBeLessThan(700)
            ->and(fn () => Guard::text(499))->toThrow(InvalidWiring::class)
            ->and(fn () => Guard::text(4001))->toThrow(InvalidWiring::class);
    });

    it('hides only what is changed, where that is known, and cannot be broken out of', function () {
        expect(Guard::text())->toContain('"body { opacity: 0 !important }"')
            ->and(Guard::text(1500, ['h1', '#next', 'h1']))->toContain('"h1, #next { opacity: 0 !important }"')
            ->and(substr_count(Guard::text(1500, ['a[title="</script><b>"]']), '</script>'))->toBe(1);
    });
});

describe('a tracking plan', function () {
    $plan = fn (): TrackingPlan => TrackingPlan::of(['loan' => [
        'type' => 'object',
        'properties' => [
            'months' => ['type' => 'integer', 'minimum' => 1],
            'tags' => ['type' => 'array', 'items' => ['type' => 'string']],
            'place' => ['type' => 'object', 'properties' => ['town' => ['type' => 'string']], 'required' => ['town']],
            'kind' => ['enum' => ['short', 'long']],
            'any' => [],
        ],
        'required' => ['months'],
    ]]);

    it('tells what an event lacks, and what is wrong in it', function (array $props, string $verdict, array $properties) use ($plan) {
        $judged = $plan()->judge('loan', $props);
        expect($judged['verdict'])->toBe($verdict)->and(array_column($judged['mistakes'], 'property'))->toBe($properties);
    })->with([
        [['months' => 2], 'conforms', []],
        [['months' => 2, 'any' => ['thing']], 'conforms', []],
        [['months' => 2, 'me' => 'abc', 'masked' => true, 'view' => 'x', 'via' => 'pixel'], 'conforms', []],
        [[], 'lacks', ['months']],
        [['months' => '2'], 'wrong-type', ['months']],
        [['months' => 0], 'wrong-type', ['months']],
        [['months' => 2, 'kind' => 'medium'], 'wrong-type', ['kind']],
        [['months' => 2, 'tags' => ['a', 5]], 'wrong-type', ['tags.1']],
        [['months' => 2, 'place' => (object) []], 'lacks', ['place.town']],
        [['months' => 'x', 'kind' => 'y'], 'wrong-type', ['months', 'kind']],
    ]);

    it('knows the runtime\'s own events, and no others', function () use ($plan) {
        expect($plan()->judge('page_view', ['storage' => 'none'])['verdict'])->toBe('conforms')
            ->and($plan()->judge('brochure', [])['verdict'])->toBe('unplanned');
    });

    it('says in words what a schema wanted', function () use ($plan) {
        expect($plan()->judge('loan', ['months' => 'x'])['mistakes'][0]['message'])->toBe('The data (string) must match the type: integer.');
    });

    it('judges whatever comes', function () use ($plan) {
        $this->limitTo(150)->forAll(Generator\associative(['months' => Generator\oneOf(Generator\int(), Generator\string(), Generator\bool(), Generator\constant(null)), 'x' => Generator\vector(2, Generator\string())]))
            ->then(function (array $props) use ($plan) {
                $judged = $plan()->judge('loan', $props);
                expect($judged['verdict'] === 'conforms')->toBe(is_int($props['months']) && $props['months'] >= 1)->and($judged['mistakes'] === [])->toBe($judged['verdict'] === 'conforms');
            });
    });

    it('is the same as CSV as it was as JSON', function () {
        $plans = [
            EventPlan::read(['name' => 'loan', 'meaning' => 'A "loan", noted', 'sent_from' => 'desk', 'schema' => ['properties' => ['months' => ['type' => 'integer', 'description' => 'how long'], 'note' => ['type' => 'string']], 'required' => ['months']], 'examples' => [['months' => 3, 'note' => '007']]]),
            EventPlan::read(['name' => 'bare']),
        ];
        $rows = [EventPlan::HEADER, ...array_merge(...array_map(fn (EventPlan $one): array => $one->rows(), $plans))];
        $again = EventPlan::fromRows($rows);
        expect(array_map(fn (EventPlan $one): array => $one->rows(), $again))->toBe(array_map(fn (EventPlan $one): array => $one->rows(), $plans))
            ->and($again[0]->examples)->toBe([['months' => 3, 'note' => '007']])
            ->and($again[0]->schema['required'])->toBe(['months']);
    });

    it('says which row or part is wrong', function (callable $read, string $complaint) {
        expect(complaint($read))->toStartWith($complaint);
    })->with([
        [fn () => EventPlan::fromRows([]), '1: The header row is event,meaning'],
        [fn () => EventPlan::fromRows([EventPlan::HEADER, ['x']]), '2: The row has 1 cells'],
        [fn () => EventPlan::fromRows([EventPlan::HEADER, ['1x', '', '', '', '', '', '', '']]), '2.name: A name of letters'],
        [fn () => EventPlan::fromRows([EventPlan::HEADER, ['x', '', '', 'p', 'date', '', '', '']]), '2: A type is one of'],
        [fn () => EventPlan::read(['name' => 'x', 'schema' => ['type' => 'array']]), 'schema.type: The properties of an event are an object'],
        [fn () => EventPlan::read(['name' => 'x', 'schema' => ['properties' => ['a' => ['type' => 'wish']]]]), 'schema.properties.a.type: This is no JSON Schema'],
        [fn () => EventPlan::read(['name' => 'x', 'schema' => ['patternProperties' => ['(a|a)*' => []]]]), 'schema.patternProperties'],
        [fn () => EventPlan::read(['name' => 'x', 'schema' => [1]]), 'schema: A JSON Schema is an object'],
        [fn () => EventPlan::read(['name' => 'x', 'examples' => [[1]]]), 'examples.0: An example is the object'],
    ]);

    it('loads no schema from elsewhere', function () {
        expect(fn () => EventPlan::read(['name' => 'x', 'schema' => ['$ref' => 'https://elsewhere.test/schema.json']]))->toThrow(Pellix\Core\Events\InvalidPlan::class);
    });

    it('keeps empty objects and empty lists apart', function () {
        $json = '{"type":"object","properties":{"a":{},"b":{"type":"array","items":{},"enum":[[],["x"]],"default":[]}},"required":[],"allOf":[{"not":{}}]}';
        expect(json_encode(SchemaJson::of(json_decode($json, true))))->toBe(str_replace('"enum":[[],["x"]]', '"enum":[{},["x"]]', $json));
    });
});

describe('a trace', function () {
    it('names each condition with what it saw', function () {
        $rule = RuleReader::read(['any' => [['fact' => 'url.path', 'op' => 'is', 'value' => '/a'], ['not' => ['fact' => 'event.props.n', 'op' => 'gt', 'value' => 3]]]]);
        expect(Explanation::of($rule, new EventFacts('x', 'https://a.test/b', ['n' => 5])))->toBe([
            ['fact' => 'url.path', 'op' => 'is', 'value' => '/a', 'seen' => '/b', 'holds' => false],
            ['fact' => 'event.props.n', 'op' => 'gt', 'value' => 3, 'seen' => 5, 'holds' => true],
        ]);
    });

    it('tells whether a recorded event would set a trigger off', function (array $trigger, LogEvent $event, ?bool $matched) {
        expect(TriggerTrace::of(Trigger::read($trigger), $event)['matched'])->toBe($matched);
    })->with(fn () => [
        'a page' => [['kind' => 'page', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/a']], recorded('page_view', '/a'), true],
        'another page' => [['kind' => 'page', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/a']], recorded('page_view', '/b'), false],
        'something else on the page' => [['kind' => 'page', 'pages' => ['all' => []]], recorded('click', '/a'), false],
        'an event' => [['kind' => 'event', 'name' => 'x', 'when' => ['fact' => 'event.props.n', 'op' => 'is', 'value' => 1]], recorded('x', props: ['n' => 1]), true],
        'an event otherwise' => [['kind' => 'event', 'name' => 'x', 'when' => ['fact' => 'event.props.n', 'op' => 'is', 'value' => 1]], recorded('x'), false],
        'a click' => [['kind' => 'click', 'selector' => '#go'], recorded('click', props: ['path' => 'html>body>button#go>b']), true],
        'a click elsewhere' => [['kind' => 'click', 'selector' => '#go'], recorded('click', props: ['path' => 'html>body']), false],
        'a selector that no record can tell' => [['kind' => 'click', 'selector' => 'a:hover'], recorded('click', props: ['path' => 'html>body>a']), null],
        'a form' => [['kind' => 'form', 'selector' => 'form'], recorded('form_submit', props: ['path' => 'html>body>form']), true],
        'scrolling' => [['kind' => 'scroll', 'percent' => 50], recorded('scroll', props: ['percent' => 50]), true],
        'too little of it' => [['kind' => 'scroll', 'percent' => 50], recorded('scroll', props: ['percent' => 25]), false],
        'time' => [['kind' => 'time', 'seconds' => 5], recorded('page_view'), null],
        'the data layer' => [['kind' => 'data', 'when' => ['fact' => 'data.event', 'op' => 'exists']], recorded('page_view'), null],
    ]);
});

describe('what an event tells', function () {
    it('is found at a path, whatever is on the way', function (string $path, mixed $value) {
        $props = ['a' => ['b' => ['x', ['c' => 7]]], 'a.b' => 'flat', 'none' => null, 'list' => [1, 2], 'yes' => false];
        expect(EventFacts::at($props, $path))->toBe($value);
    })->with([['a.b', 'flat'], ['a.b.0', 'x'], ['a.b.1.c', 7], ['a.b.1', null], ['a.b.9', null], ['none', null], ['list', null], ['list.1', 2], ['yes', false], ['', null], ['a.b.0.x', null]]);

    it('goes by a segment in the properties before the user agent', function () {
        $agent = 'Mozilla/5.0 (X11; Linux x86_64; rv:141.0) Gecko/20100101 Firefox/141.0';
        $facts = fn (array $props, ?string $agent): EventFacts => new EventFacts('x', 'https://a.test/', $props, '', $agent);
        expect([$facts([], $agent)->get('device'), $facts(['device' => 'tablet'], $agent)->get('device'), $facts([], null)->get('browser'), $facts([], $agent)->get('browser')])
            ->toBe(['desktop', 'tablet', null, 'firefox'])
            ->and($facts([], null)->get('referrer.host'))->toBeNull()->and($facts([], null)->get('language'))->toBeNull();
    });
});
