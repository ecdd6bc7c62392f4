<?php

use App\Collector\Answer;
use App\Collector\Apart;
use App\Collector\Collector;
use App\Models\LoupeLink;
use App\Models\User;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Illuminate\Testing\TestResponse;

beforeEach(function () {
    $this->site = $this->makeSite();
    $this->person = $this->makePerson($this->site);
    $this->links = "/api/sites/{$this->site->key}/loupe-links";
    $this->as($this->person, 'POST', "/api/sites/{$this->site->key}/experiments", experimentRequest())->assertCreated();
    $this->make = fn (array $asked = []): TestResponse => $this->as($this->person, 'POST', $this->links, ['purpose' => 'preview', 'experiment' => 'shorter-words', 'url' => 'http://shop.test/join?plan=1', 'recipient' => 'The client', 'hours' => 24, ...$asked]);
    $this->token = fn (array $asked = []): string => explode('plx-loupe=', ($this->make)($asked)->assertCreated()->json('address'))[1];
    // As a page of the site asks: another origin, no cookie, text.
    $this->ask = function (string $what, array $asked, string $origin = 'http://shop.test'): TestResponse {
        auth()->forgetGuards();

        return $this->call('POST', "/loupe/{$what}", server: ['HTTP_ORIGIN' => $origin, 'CONTENT_TYPE' => 'text/plain'], content: (string) json_encode($asked));
    };
});

it('makes links of either purpose, lists and revokes them, and says what is wrong with one', function () {
    ($this->make)(['recipient' => ''])->assertStatus(422)->assertJsonValidationErrors(['recipient']);
    ($this->make)(['experiment' => null])->assertStatus(422)->assertJsonValidationErrors(['experiment']);
    ($this->make)(['variant' => 'nope'])->assertStatus(422)->assertJsonValidationErrors(['variant']);
    ($this->make)(['url' => 'http://elsewhere.test/'])->assertStatus(422)->assertJsonValidationErrors(['url']);
    ($this->make)(['url' => '/join'])->assertStatus(422)->assertJsonValidationErrors(['url']);
    ($this->make)(['hours' => 721])->assertStatus(422)->assertJsonValidationErrors(['hours']);
    ($this->make)(['hours' => 0])->assertStatus(422);
    ($this->make)(['purpose' => 'change-all'])->assertStatus(422)->assertJsonValidationErrors(['purpose']);
    ($this->make)(['experiment' => 'nowhere'])->assertNotFound();
    $link = ($this->make)(['url' => 'http://shop.test/join#terms'])->assertCreated()->json();
    expect($link['address'])->toMatch('~\Ahttp://shop\.test/join#terms&plx-loupe=[A-Za-z0-9]{43}\z~');
    // The token itself is kept by its hash, and where it is kept to be shown again, encrypted.
    $kept = DB::table('loupe_links')->where('id', $link['link'])->first();
    expect($kept->token_hash)->toBe(hash('sha256', substr($link['address'], -43)))->and($kept->token)->not->toContain(substr($link['address'], -43));
    ($this->make)(['purpose' => 'look', 'experiment' => null, 'recipient' => null])->assertCreated()->assertJsonPath('recipient', $this->person->name);
    $this->as($this->person, 'GET', $this->links)->assertOk()->assertJsonCount(2);
    $this->as($this->person, 'GET', "{$this->links}?experiment=shorter-words")->assertOk()->assertJsonCount(1);
    $this->as($this->person, 'DELETE', "{$this->links}/{$link['link']}")->assertOk()->assertJsonPath('address', null);
    ($this->ask)('open', ['token' => substr($link['address'], -43)])->assertForbidden();
    $other = $this->makeSite('plx_othersite00001');
    $this->as($this->makePerson($other), 'DELETE', "/api/sites/{$other->key}/loupe-links/{$link['link']}")->assertNotFound();
    $this->as($this->makePersonWho('look', $this->site), 'GET', $this->links)->assertForbidden();
});

it('opens on a page of its site with what the page is to run, a draft too, and tells a preview no more than that', function () {
    $token = ($this->token)(['variant' => 'short']);
    $open = ($this->ask)('open', ['token' => $token])->assertOk()->assertHeader('Access-Control-Allow-Origin', 'http://shop.test')->assertHeaderMissing('Set-Cookie')->assertHeaderMissing('Access-Control-Allow-Credentials');
    expect($open->json('purpose'))->toBe('preview')->and($open->json('experiment'))->toBe('shorter-words')->and($open->json('variant'))->toBe('short')->and(array_column($open->json('configuration.experiments'), 'key'))->toBe(['shorter-words'])
        ->and($open->json('experiments.0.variants.1.name'))->not->toBe('')->and($open->json('configuration.collector'))->toContain('/c?preview=');
    expect(LoupeLink::query()->first()->pages)->toBe(1)->and(LoupeLink::query()->first()->used_at)->not->toBeNull();
    ($this->ask)('heard', ['token' => $token, 'visitor' => str_repeat('a', 26)])->assertForbidden();
    // The published file goes on without the draft.
    expect(published($this->site) ?? [])->toBe([]);
});

it('keeps a walk through the site as the script of the rehearsals, and asks before another one is replaced', function () {
    $token = ($this->token)(['purpose' => 'look']);
    $keep = fn (mixed $steps, array $more = [], ?string $by = null): TestResponse => ($this->ask)('script', ['token' => $by ?? $token, 'script' => json_encode(['pellix' => 1, 'steps' => $steps]), ...$more]);
    $steps = [['do' => 'open', 'path' => '/join'], ['do' => 'type', 'element' => '[name=mail]', 'value' => '{mail}'], ['do' => 'submit', 'element' => 'form'], ['do' => 'expect', 'element' => 'h1']];
    foreach ([[], [['do' => 'click', 'element' => 'a']], [['do' => 'open']], 'x', array_fill(0, 81, $steps[0])] as $odd) {
        $keep($odd)->assertStatus(422)->assertHeader('Access-Control-Allow-Origin', '*');
    }
    ($this->ask)('script', ['token' => $token])->assertStatus(422);
    ($this->ask)('script', ['token' => $token, 'script' => ['pellix' => 1]])->assertStatus(422);
    $keep($steps, by: ($this->token)([]))->assertForbidden();
    $keep($steps, by: ($this->token)(['purpose' => 'look', 'experiment' => null]))->assertForbidden();
    $keep($steps)->assertOk()->assertJsonPath('steps', 4);
    $keep([$steps[0]])->assertStatus(409);
    $script = fn () => $this->as($this->person, 'GET', "/api/sites/{$this->site->key}/experiments/shorter-words/rehearsal-script")->assertOk();
    expect($script()->json('script.steps'))->toBe($steps)->and($script()->json('by'))->toBe($this->person->name);
    $keep([$steps[0]], ['replace' => 'yes'])->assertOk();
    expect($script()->json('script.steps'))->toBe([$steps[0]]);
});

it('shows a page at a time to come, with what is scheduled until then', function () {
    $request = fn (string $name, string $path) => experimentRequest(['name' => $name, 'pages' => ['value' => $path], 'goals' => [['name' => "Goal of {$name}"]]]);
    foreach (['Begins soon', 'Runs', 'Ends soon'] as $name) {
        $this->as($this->person, 'POST', "/api/sites/{$this->site->key}/experiments", $request($name, '/'.Str::slug($name)))->assertCreated();
    }
    // The clock of the site is an hour ahead of UTC in that winter.
    $this->site->update(['time_zone' => 'Europe/Berlin']);
    DB::table('experiments')->where('key', 'begins-soon')->update(['state' => 'scheduled', 'start_at' => '2027-01-10 08:00:00']);
    DB::table('experiments')->where('key', 'runs')->update(['state' => 'running']);
    DB::table('experiments')->where('key', 'ends-soon')->update(['state' => 'running', 'end_at' => '2027-01-09 08:00:00']);
    $token = ($this->token)(['purpose' => 'look', 'experiment' => null]);
    $shown = fn (array $asked): array => array_column(($this->ask)('open', ['token' => $token, ...$asked])->assertOk()->json('configuration.experiments'), 'key');
    expect($shown([]))->toEqualCanonicalizing(['runs', 'ends-soon'])
        ->and($shown(['at' => '2027-01-09T08:59']))->toEqualCanonicalizing(['runs', 'ends-soon'])
        ->and($shown(['at' => '2027-01-09T09:00']))->toBe(['runs'])
        ->and($shown(['at' => '2027-01-10T08:59']))->toBe(['runs'])
        ->and($shown(['at' => '2027-01-10T09:00']))->toEqualCanonicalizing(['begins-soon', 'runs']);
    foreach (['soon', '2027-02-30T09:00', ['2027'], 7, null] as $odd) {
        expect($shown(['at' => $odd]))->toEqualCanonicalizing(['runs', 'ends-soon']);
    }
});

it('is not opened by a forged, expired or revoked token, on another site’s page, nor for somebody who may no more', function () {
    $token = ($this->token)();
    foreach ([['token' => str_repeat('a', 43)], ['token' => ''], ['token' => null], ['token' => [$token]], [], ['token' => "{$token} "]] as $forged) {
        ($this->ask)('open', $forged)->assertForbidden()->assertHeader('Access-Control-Allow-Origin', '*')->assertJsonMissingPath('configuration');
    }
    ($this->ask)('open', ['token' => $token], 'http://elsewhere.test')->assertForbidden();
    ($this->ask)('open', ['token' => $token], '')->assertForbidden();
    $this->call('POST', '/loupe/open', server: ['HTTP_ORIGIN' => 'http://shop.test', 'CONTENT_TYPE' => 'text/plain'], content: str_repeat('x', 9000))->assertForbidden();
    $this->travel(25)->hours();
    ($this->ask)('open', ['token' => $token])->assertForbidden();
    // A preview was given away; whoever looks does so as long as they may work on the site.
    [$preview, $look] = [($this->token)(), ($this->token)(['purpose' => 'look'])];
    ($this->ask)('open', ['token' => $look])->assertOk();
    DB::table('site_user')->where('user_id', $this->person->id)->update(['right' => 'look']);
    ($this->ask)('open', ['token' => $look])->assertForbidden();
    ($this->ask)('open', ['token' => $preview])->assertOk();
    User::query()->whereKey($this->person->id)->delete();
    ($this->ask)('open', ['token' => $look])->assertForbidden();
});

it('keeps what a preview sends apart, shows it in the feed as such, and says what arrived and which goals it reached', function () {
    $this->as($this->person, 'POST', "/api/sites/{$this->site->key}/goals", ['key' => 'done', 'name' => 'Done', 'kind' => 'page', 'count' => 'visitor', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/done']])->assertCreated();
    $token = ($this->token)(['purpose' => 'look']);
    $address = ($this->ask)('open', ['token' => $token])->json('configuration.collector');
    parse_str((string) parse_url($address, PHP_URL_QUERY), $query);
    $visitor = str_repeat('v', 26);
    $event = fn (string $id, string $name, string $path = '/join', array $props = []): array => ['id' => $id, 'visitor' => $visitor, 'time' => gmdate('Y-m-d\TH:i:s\Z'), 'name' => $name, 'url' => "http://shop.test{$path}", 'props' => (object) $props];
    $send = fn (?array $claim, array $events): Answer => (new Collector(DB::connection()->getPdo(), key: (string) config('app.key')))->take((string) json_encode(['pellix' => 1, 'site' => $this->site->key, 'events' => $events]), 'test', new DateTimeImmutable('now', new DateTimeZone('UTC')), claim: $claim);
    $events = [];
    for ($i = 0; $i < 200; $i++) {
        array_push($events, $event("v{$i}", 'page_view'), $event("e{$i}", 'exposure', props: ['experiment' => 'shorter-words', 'variant' => 'b']));
    }
    foreach (array_chunk([...$events, $event('g', 'page_view', '/done'), $event('odd', 'surprise')], 50) as $some) {
        expect($send(Apart::claimed($query), $some)->status)->toBe(200);
    }
    $send(Apart::claimed($query), [['id' => 'bad']]);
    expect(DB::table('events')->count() + DB::table('arrivals')->count() + DB::table('event_ids')->count() + DB::table('rejected_events')->count())->toBe(0)
        ->and(DB::table('preview_events')->count())->toBe(403);
    $heard = ($this->ask)('heard', ['token' => $token, 'visitor' => $visitor])->assertOk()->json();
    expect($heard['events'])->toHaveCount(300)->and(array_column($heard['events'], 'verdict', 'id')['odd'])->toBe('unplanned')->and($heard['rejected'])->toHaveCount(1)
        ->and(array_column($heard['goals'], 'hits', 'key')['done'])->toBe([['g']]);
    expect(($this->ask)('heard', ['token' => $token, 'visitor' => str_repeat('w', 26)])->assertOk()->json('events'))->toBe([]);
    $this->as($this->person, 'GET', "/api/sites/{$this->site->key}/feed")->assertOk()->assertJsonCount(0, 'events');
    $this->as($this->person, 'GET', "/api/sites/{$this->site->key}/feed?preview=1&event=surprise")->assertOk()->assertJsonCount(1, 'events');
    expect($send([Apart::Preview, '7.9999999999.'.str_repeat('a', 43)], [$event('x', 'page_view')])->status)->toBe(403);
});
