<?php

use App\Collector\Answer;
use App\Collector\Apart;
use App\Collector\Collector;
use App\Collector\Mark;
use App\Inventory\Outlines;
use App\Models\Rehearsal;
use App\Rehearsals\Rehearsals;
use App\Rehearsals\Rehearser;
use App\Rehearsals\Report;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Wiring\Inspection\Delivery;

beforeEach(function () {
    $this->site = $this->makeSite();
    $this->person = $this->makePerson($this->site);
    $this->path = "/api/sites/{$this->site->key}";
    $this->as($this->person, 'POST', "{$this->path}/experiments", experimentRequest())->assertStatus(201);
    $this->own = "{$this->path}/experiments/shorter-words";
    $this->marks = new Mark(Apart::Rehearsal, (string) config('app.key'));
    $this->send = fn (?string $mark, array $events): Answer => (new Collector(DB::connection()->getPdo(), key: (string) config('app.key')))->take((string) json_encode(['pellix' => 1, 'site' => $this->site->key, 'events' => $events]), 'test', new DateTimeImmutable('now', new DateTimeZone('UTC')), claim: $mark === null ? null : [Apart::Rehearsal, $mark]);
    $this->event = fn (string $id, string $name = 'page_view'): array => ['id' => $id, 'visitor' => 'rehearsing', 'time' => gmdate('Y-m-d\TH:i:s\Z'), 'name' => $name, 'url' => 'http://shop.test/join', 'props' => (object) []];
});

function askedToRehearse(mixed $test): Rehearsal
{
    $test->as($test->person, 'POST', "{$test->own}/rehearsals", [])->assertStatus(202)->assertJsonPath('state', 'waiting');

    return Rehearsal::query()->latest('id')->firstOrFail();
}

it('keeps what a rehearsal sends apart from everything that is counted', function () {
    $rehearsal = askedToRehearse($this);
    $mark = $this->marks->give($this->site->id, $rehearsal->id, time());
    $answer = ($this->send)($mark, [($this->event)('r1'), ($this->event)('r2', 'order'), ($this->event)('r1'), ['id' => 'r3']]);
    expect([$answer->status, $answer->json['accepted'], count($answer->json['rejected'])])->toBe([200, 2, 1]);
    ($this->send)($mark, [($this->event)('r2', 'order')]);
    expect(DB::table('events')->count())->toBe(0)->and(DB::table('rejected_events')->count())->toBe(0)->and(DB::table('arrivals')->count())->toBe(0)
        ->and(DB::table('rehearsal_events')->where('rehearsal_id', $rehearsal->id)->whereNull('rejected')->pluck('times', 'event_id')->all())->toBe(['r1' => 1, 'r2' => 2]);
    // It shows in the feed as what it is, and not among visitors.
    $this->as($this->person, 'GET', "{$this->path}/feed")->assertOk()->assertJsonCount(0, 'events')->assertJsonCount(0, 'rejected');
    $this->as($this->person, 'GET', "{$this->path}/feed?rehearsal=1")->assertOk()->assertJsonCount(2, 'events')->assertJsonCount(1, 'rejected');
    $this->as($this->person, 'GET', "{$this->path}/feed?rehearsal=1&event=order")->assertOk()->assertJsonCount(1, 'events');
});

it('lets nobody claim the mark of a rehearsal', function (Closure $mark) {
    $answer = ($this->send)($mark($this->marks, $this->site->id), [($this->event)('r1')]);
    expect($answer->status)->toBe(403)->and(DB::table('rehearsal_events')->count() + DB::table('events')->count())->toBe(0);
})->with([
    'made up' => [fn (): string => '7.9999999999.'.str_repeat('a', 43)],
    'of another site' => [fn (Mark $marks): string => $marks->give(999999, 7, time())],
    'of another server' => [fn (Mark $marks, int $site): string => (new Mark(Apart::Rehearsal, 'base64:another'))->give($site, 7, time())],
    'too old' => [fn (Mark $marks, int $site): string => $marks->give($site, 7, time() - 7200)],
    'for another rehearsal' => [fn (Mark $marks, int $site): string => '8'.substr($marks->give($site, 7, time()), 1)],
    'of a preview' => [fn (Mark $marks, int $site): string => (new Mark(Apart::Preview, (string) config('app.key')))->give($site, 7, time())],
    'nothing' => [fn (): string => ''],
]);

it('is asked for once at a time, cancelled, and read by whoever may look', function () {
    $rehearsal = askedToRehearse($this);
    $this->as($this->person, 'POST', "{$this->own}/rehearsals", [])->assertStatus(422)->assertJsonValidationErrors('experiment');
    expect($rehearsal->variants)->toBe(['control', 'short'])->and($rehearsal->screens)->toBe(['desktop', 'tablet', 'mobile'])->and($rehearsal->parts()->pluck('kind')->all())->toBe(['snippet', 'entry', 'assignment', 'look', 'look', 'walk', 'walk', 'speed', 'screens']);
    $looker = $this->makePersonWho('look', $this->site);
    $this->as($looker, 'GET', "{$this->path}/rehearsals/{$rehearsal->id}")->assertOk()->assertJsonPath('verdict', 'unseen')->assertJsonPath('words', '0 of 9 parts are done.');
    $this->as($looker, 'POST', "{$this->own}/rehearsals", [])->assertForbidden();
    $this->as($looker, 'DELETE', "{$this->path}/rehearsals/{$rehearsal->id}")->assertForbidden();
    $this->as($this->person, 'DELETE', "{$this->path}/rehearsals/{$rehearsal->id}")->assertOk()->assertJsonPath('state', 'cancelled');
    foreach ([['variants' => ['nobody']], ['screens' => ['watch']], ['variants' => 'short'], ['screens' => [[1]]]] as $body) {
        $this->as($this->person, 'POST', "{$this->own}/rehearsals", $body)->assertStatus(422);
    }
    $this->as($this->person, 'POST', "{$this->own}/rehearsals", ['variants' => ['short'], 'screens' => ['mobile']])->assertStatus(202)->assertJsonPath('variants', ['control', 'short'])->assertJsonPath('screens', ['mobile']);
    $this->as($this->person, 'GET', "{$this->own}/rehearsals")->assertOk()->assertJsonCount(2);
    $other = $this->makeSite('plx_anothersite00001');
    $this->as($this->makePerson($other), 'GET', "/api/sites/{$other->key}/rehearsals/{$rehearsal->id}")->assertNotFound();
});

it('is worked on by one worker, and by another when the first has gone', function () {
    $rehearsal = askedToRehearse($this);
    $rehearser = app(Rehearser::class);
    expect($rehearser->next('a')?->id)->toBe($rehearsal->id)->and($rehearser->next('b'))->toBeNull();
    DB::table('rehearsals')->update(['lease' => now('UTC')->subSecond()->format('Y-m-d H:i:s.v')]);
    expect($rehearser->next('b')?->worker)->toBe('b');
    // Whoever is not told to go on any more leaves it alone.
    app(Rehearsals::class)->cancel($rehearsal);
    expect($rehearser->next('c'))->toBeNull();
});

it('is given back when its worker on this machine was killed', function (string $worker, bool $isGivenBack) {
    $rehearsal = askedToRehearse($this);
    app(Rehearser::class)->next($worker);
    app(Rehearser::class)->takeBack('here');
    expect($rehearsal->refresh()->state)->toBe($isGivenBack ? 'waiting' : 'running');
})->with([
    'one that has gone' => ['here:99999999', true],
    'a number that something else has now' => [fn (): string => 'here:'.getmypid(), true],
    'one of another machine' => ['elsewhere:99999999', false],
    'one of a machine whose name begins alike' => ['here2:99999999', false],
]);

it('keeps the script that somebody writes, refuses at its step what is none, and goes back to what follows from the experiment', function () {
    $proposed = $this->as($this->person, 'GET', "{$this->own}/rehearsal-script")->assertOk()->assertJsonPath('written', false)->json('script');
    $script = ['pellix' => 1, 'steps' => [['do' => 'open', 'path' => '/join'], ['do' => 'click', 'element' => '#go'], ['do' => 'expect', 'goal' => 'joined', 'variants' => ['short']]]];
    $this->as($this->person, 'PUT', "{$this->own}/rehearsal-script", $script)->assertOk()->assertJsonPath('written', true)->assertJsonPath('by', $this->person->name)->assertJsonPath('steps.2', 'expect the goal joined (in short)');
    $script['steps'][1] = ['do' => 'click'];
    $this->as($this->person, 'PUT', "{$this->own}/rehearsal-script", $script)->assertStatus(422)->assertJsonValidationErrors('steps.1.element');
    $this->as($this->person, 'PUT', "{$this->own}/rehearsal-script", ['steps' => 'x'])->assertStatus(422);
    expect(askedToRehearse($this)->script['steps'][1])->toBe(['do' => 'click', 'element' => '#go']);
    $this->as($this->person, 'DELETE', "{$this->own}/rehearsal-script")->assertOk()->assertJsonPath('written', false)->assertJsonPath('script', $proposed);
});

/** A rehearsal that is over, with one finding and one proof. @param list<string> $codes */
function rehearsedWith(mixed $test, array $codes, array $about = []): Rehearsal
{
    $rehearsal = askedToRehearse($test);
    // Some of its parts are done, so that its pages are not looked at again.
    $rehearsal->update(['done' => 1, 'about' => [...$rehearsal->about, ...$about]]);
    $finding = static fn (string $code): array => ['code' => $code, 'severity' => 'blocker', 'link' => 'exposure', 'words' => "It is <b>{$code}</b>.", 'cause' => "\x07 & more", 'next' => 'Mend it.', 'variant' => 'short', 'screen' => 'desktop', 'goal' => null, 'identity' => $code, 'evidence' => (object) []];
    $rehearsal->parts()->where('kind', 'look')->where('variant', 'short')->first()->update(['state' => 'done', 'seconds' => 1.5, 'result' => ['findings' => array_map($finding, $codes), 'proofs' => [['link' => 'snippet', 'words' => 'It runs.', 'variant' => null, 'screen' => null, 'goal' => null]], 'figures' => []]]);
    $rehearsal->parts()->update(['state' => 'done']);
    $rehearsal->update(['state' => 'running', 'started_at' => now('UTC'), 'blockers' => count($codes)]);
    // Nothing is left to be played: it only comes to its end.
    app(Rehearser::class)->play($rehearsal, sys_get_temp_dir().'/none', static fn (): bool => false);

    return $rehearsal->refresh();
}

it('feeds the chain, and goes stale with what it vouches for', function () {
    rehearsedWith($this, ['change.covered']);
    $links = fn (): array => array_column($this->as($this->person, 'GET', "{$this->own}/observations")->assertOk()->json('chain.links'), null, 'link');
    expect($links()['exposure'])->toMatchArray(['state' => 'broken', 'words' => 'In a rehearsal: It is <b>change.covered</b>.'])
        ->and($links()['snippet']['state'])->toBe('holds')->and(end($links()['snippet']['evidence'])['by'])->toBe('rehearsal')
        ->and($links()['goals']['state'])->toBe('unseen');
    $this->as($this->person, 'PUT', $this->own, experimentRequest(['variants' => [1 => ['changes' => [['kind' => 'text', 'selector' => 'h1', 'value' => 'Other']]]]]))->assertOk();
    expect($links()['exposure'])->toMatchArray(['state' => 'stale', 'words' => 'It was rehearsed before this changed: variant short.']);
});

it('goes stale when a page of its way is built otherwise, and is current again when the page is', function () {
    app(App\Inventory\Inventory::class)->add($this->site, ['http://shop.test/join'], 'typed');
    $page = $this->site->pages()->firstOrFail();
    $sent = static fn (string $html): Delivery => new Delivery($page->url, $page->url, 200, 'text/html; charset=utf-8', [], $html);
    Outlines::keep($page, $sent('<p id="offer">Four chairs</p>'));
    $about = ['pages' => [$page->id => ['path' => '/join', 'outline' => $page->outline]]];
    rehearsedWith($this, ['change.covered'], $about);
    $words = fn (): string => array_column($this->as($this->person, 'GET', "{$this->own}/observations")->assertOk()->json('chain.links'), 'words', 'link')['exposure'];
    Outlines::keep($page, $sent('<p id="offer">No chair is left</p>'));
    expect($words())->toContain('In a rehearsal');
    Outlines::keep($page, $sent('<p id="deal">Four chairs</p>'));
    expect($words())->toBe('It was rehearsed before this changed: the page /join.');
    Outlines::keep($page, $sent('<p id="offer">Four chairs</p>'));
    expect($words())->toContain('In a rehearsal');
    // One that changed while it was rehearsed is another one, too.
    rehearsedWith($this, ['change.covered'], ['pages' => [$page->id => ['path' => '/join', 'outline' => str_repeat('0', 16)]]]);
    expect($words())->toContain('the page /join');
});

it('says what broke and what was mended since another one', function () {
    $before = rehearsedWith($this, ['change.covered', 'goal.missing']);
    $after = rehearsedWith($this, ['goal.missing', 'goal.value']);
    $told = $this->as($this->person, 'GET', "{$this->path}/rehearsals/{$after->id}/since/{$before->id}")->assertOk()->json();
    expect([array_column($told['broke'], 'code'), array_column($told['mended'], 'code'), array_column($told['stayed'], 'code')])->toBe([['goal.value'], ['change.covered'], ['goal.missing']]);
});

it('gives its results out as JUnit XML and as one page, whatever was found', function () {
    $rehearsal = rehearsedWith($this, ['change.covered']);
    DB::table('rehearsal_files')->insert(['rehearsal_id' => $rehearsal->id, 'name' => 'look-short-desktop.png', 'media' => 'image/png', 'content' => 'picture', 'at' => now('UTC')]);
    $xml = simplexml_load_string(Report::of($rehearsal)->junit());
    expect((string) $xml['failures'])->toBe('1')->and((string) $xml->testsuite[4]->testcase[0]->failure['type'])->toBe('change.covered')->and((string) $xml->testsuite[4]->testcase[1]['name'])->toBe('It runs.');
    $html = $this->actingAs($this->person, 'sanctum')->get("{$this->path}/rehearsals/{$rehearsal->id}/report.html")->assertOk()->getContent();
    expect($html)->toContain('It is &lt;b&gt;change.covered&lt;/b&gt;.')->toContain('data:image/png;base64,'.base64_encode('picture'))->not->toContain('src="http');
    $this->get("{$this->path}/rehearsals/{$rehearsal->id}/files/look-short-desktop.png")->assertOk()->assertHeader('X-Content-Type-Options', 'nosniff')->assertHeader('Content-Security-Policy', "sandbox; default-src 'none'");
    $this->get("{$this->path}/rehearsals/{$rehearsal->id}/files/nothing.png")->assertNotFound();
});

it('is held again by itself, at a time of the day and after a publication, and what breaks becomes a finding', function () {
    $again = app(App\Rehearsals\Again::class);
    $this->as($this->person, 'GET', "{$this->own}/rehearsal-plan")->assertOk()->assertExactJson(['daily_at' => null, 'after_publication' => false]);
    $this->as($this->person, 'PUT', "{$this->own}/rehearsal-plan", ['daily_at' => '6 o’clock', 'after_publication' => true])->assertStatus(422)->assertJsonValidationErrors('daily_at');
    $this->as($this->person, 'PUT', "{$this->own}/rehearsal-plan", ['daily_at' => '06:30', 'after_publication' => true])->assertOk();
    $number = fn (): int => Rehearsal::query()->count();
    $zone = $this->site->time_zone;
    $at = static fn (string $time): Carbon\CarbonImmutable => Carbon\CarbonImmutable::now($zone)->addDay()->setTimeFromTimeString($time)->setTimezone('UTC');
    // Nobody meets a draft.
    $again->due($at('07:00'));
    expect($number())->toBe(0);
    $this->as($this->person, 'POST', "{$this->own}/stage", ['action' => 'start', 'reason' => 'For a test'])->assertOk();
    $again->due($at('06:29'));
    expect($number())->toBe(0);
    $again->due($at('06:30'));
    $again->due($at('06:31'));
    expect(Rehearsal::query()->pluck('why')->all())->toBe(['planned']);
    Rehearsal::query()->delete();

    rehearsedWith($this, ['change.covered']);
    $findings = fn (): array => array_column($this->as($this->person, 'GET', "{$this->path}/findings")->assertOk()->json(), 'state', 'code');
    expect($findings())->toBe(['rehearsal.change.covered' => 'open']);
    rehearsedWith($this, ['change.covered', 'goal.missing']);
    expect($findings())->toEqual(['rehearsal.change.covered' => 'open', 'rehearsal.goal.missing' => 'open']);
    rehearsedWith($this, ['goal.missing']);
    expect($findings())->toEqual(['rehearsal.change.covered' => 'mended', 'rehearsal.goal.missing' => 'open']);

    // After the next publication, once it has settled.
    $before = $number();
    DB::table('sites')->update(['published_number' => 9]);
    DB::table('publications')->insert(['site_id' => $this->site->id, 'number' => 9, 'published_at' => now('UTC')->format('Y-m-d H:i:s.v'), 'configuration' => '{}', 'author' => '']);
    $again->due(Carbon\CarbonImmutable::now('UTC')->addSeconds(10));
    expect($number())->toBe($before);
    $again->due(Carbon\CarbonImmutable::now('UTC')->addSeconds(70));
    expect($number())->toBe($before + 1)->and(Rehearsal::query()->latest('id')->value('why'))->toBe('published');
});

it('rehearses the installation of a site, without an experiment', function () {
    $this->as($this->person, 'POST', "{$this->path}/rehearsals")->assertStatus(422)->assertJsonValidationErrors('site');
    $this->as($this->person, 'POST', "{$this->path}/pages", ['addresses' => "http://shop.test/\nhttp://shop.test/join"])->assertSuccessful();
    $this->as($this->person, 'POST', "{$this->path}/rehearsals")->assertStatus(202)->assertJsonPath('experiment', null)->assertJsonPath('total', 2);
    $this->as($this->person, 'POST', "{$this->path}/rehearsals")->assertStatus(422);
    $run = $this->as($this->person, 'GET', "{$this->path}/rehearsals")->assertOk()->assertJsonCount(1)->json('0.rehearsal');
    $this->as($this->person, 'GET', "{$this->path}/rehearsals/{$run}")->assertOk()->assertJsonPath('steps', ['open http://shop.test/', 'open http://shop.test/join']);
    $this->as($this->person, 'GET', "{$this->own}/rehearsals")->assertOk()->assertJsonCount(0);
    $this->as($this->makePersonWho('look', $this->site), 'POST', "{$this->path}/rehearsals")->assertForbidden();
});
