<?php

use App\Models\Experiment;
use App\Models\Publication;
use Illuminate\Support\Facades\DB;
use Illuminate\Testing\TestResponse;

beforeEach(function () {
    $this->site = $this->makeSite();
    $this->person = $this->makePerson($this->site);
    $this->as($this->person, 'POST', "/api/sites/{$this->site->key}/experiments", experimentRequest())->assertCreated();
    $this->make = fn (array $asked = [], $person = null): TestResponse => $this->as($person ?? $this->person, 'POST', "/api/sites/{$this->site->key}/loupe-links", ['purpose' => 'change', 'experiment' => 'shorter-words', 'variant' => 'short', 'url' => 'http://shop.test/join', 'hours' => 12, ...$asked]);
    $this->token = fn (array $asked = [], $person = null): string => explode('plx-loupe=', ($this->make)($asked, $person)->assertCreated()->json('address'))[1];
    $this->ask = function (string $what, array $asked): TestResponse {
        auth()->forgetGuards();

        return $this->call('POST', "/loupe/{$what}", server: ['HTTP_ORIGIN' => 'http://shop.test', 'CONTENT_TYPE' => 'text/plain'], content: (string) json_encode($asked));
    };
    $this->kept = fn (): array => Experiment::query()->where('key', 'shorter-words')->first()->variants[1]['changes'];
});

it('lets somebody change a variant of a draft on the page, under their own name, for a day at most', function () {
    ($this->make)(['variant' => null])->assertStatus(422)->assertJsonValidationErrors(['variant']);
    ($this->make)(['variant' => 'control'])->assertStatus(422)->assertJsonValidationErrors(['variant']);
    ($this->make)(['experiment' => null])->assertStatus(422)->assertJsonValidationErrors(['experiment']);
    ($this->make)(['hours' => 25])->assertStatus(422)->assertJsonValidationErrors(['hours']);
    $token = ($this->token)();
    // A link under somebody's name is given to nobody else.
    $this->as($this->makePersonWho('own', $this->site), 'GET', "/api/sites/{$this->site->key}/loupe-links")->assertOk()->assertJsonPath('0.address', null);
    $open = ($this->ask)('open', ['token' => $token])->assertOk();
    $first = ($this->kept)();
    expect($open->json('purpose'))->toBe('change')->and($open->json('draft.changes'))->toBe($first)->and($open->json('draft.may_code'))->toBeTrue();

    $more = ['kind' => 'hide', 'selector' => '#terms'];
    $answer = ($this->ask)('keep', ['token' => $token, 'base' => $first, 'mine' => [...$first, $more]])->assertOk()->assertHeader('Access-Control-Allow-Origin', 'http://shop.test');
    expect(($this->kept)())->toBe([...$first, $more])->and($answer->json('changes'))->toBe([...$first, $more])->and($answer->json('revision'))->toBeGreaterThan($open->json('draft.revision'))->and($answer->json('problems'))->toBe([])
        ->and(DB::table('experiment_revisions')->latest('id')->value('author'))->toBe($this->person->name);
    // What changes nothing is no new revision.
    expect(($this->ask)('keep', ['token' => $token, 'base' => [...$first, $more], 'mine' => [...$first, $more]])->assertOk()->json('revision'))->toBe($answer->json('revision'));
    // Other links change nothing.
    foreach (['look' => ['variant' => null], 'preview' => ['recipient' => 'A client']] as $purpose => $asked) {
        $other = ($this->token)(['purpose' => $purpose, ...$asked]);
        ($this->ask)('draft', ['token' => $other])->assertForbidden();
        ($this->ask)('keep', ['token' => $other, 'base' => $first, 'mine' => []])->assertForbidden();
    }
    expect(($this->kept)())->toBe([...$first, $more]);
});

it('puts together what two people do at the same time, and tells both whose work it is', function () {
    $other = $this->makePersonWho('publish', $this->site);
    [$mine, $theirs] = [($this->token)(), ($this->token)([], $other)];
    $base = ($this->ask)('open', ['token' => $mine])->json('draft.changes');
    [$a, $b] = [['kind' => 'hide', 'selector' => '#a'], ['kind' => 'hide', 'selector' => '#b']];
    ($this->ask)('keep', ['token' => $theirs, 'base' => $base, 'mine' => [...$base, $a]])->assertOk()->assertJsonPath('with', null);
    ($this->ask)('keep', ['token' => $mine, 'base' => $base, 'mine' => [...$base, $b]])->assertOk()->assertJsonPath('changes', [...$base, $a, $b])->assertJsonPath('with', $other->name);
    ($this->ask)('draft', ['token' => $theirs])->assertOk()->assertJsonPath('changes', [...$base, $a, $b])->assertJsonPath('changed_by', $this->person->name);
    // Both write the same one anew: both wordings stay, and it is said which these are.
    $anew = fn (string $words): array => [[...$base[0], 'value' => $words], $a, $b];
    ($this->ask)('keep', ['token' => $theirs, 'base' => [...$base, $a, $b], 'mine' => $anew('One')])->assertOk();
    ($this->ask)('keep', ['token' => $mine, 'base' => [...$base, $a, $b], 'mine' => $anew('Two')])->assertOk()->assertJsonPath('both', [0, 1])->assertJsonPath('changes.0.value', 'One')->assertJsonPath('changes.1.value', 'Two');
    // Who wrote what can be had back from the revisions.
    expect(DB::table('experiment_revisions')->pluck('author_id')->unique()->values()->all())->toEqualCanonicalizing([$this->person->id, $other->id]);
});

it('keeps what cannot be read yet beside the draft, and says at the step what is wrong', function () {
    $token = ($this->token)();
    $base = ($this->kept)();
    $odd = ['kind' => 'style', 'selector' => 'h1', 'property' => 'color', 'value' => 'red; top: 0'];
    $answer = ($this->ask)('keep', ['token' => $token, 'base' => $base, 'mine' => [...$base, $odd]])->assertOk();
    expect($answer->json('changes'))->toBe([...$base, $odd])->and($answer->json('problems'))->toHaveKey((string) count($base))->and(($this->kept)())->toBe($base);
    // The page is shown with what can be read; Pellix shows the same list.
    $open = ($this->ask)('open', ['token' => $token])->assertOk();
    expect($open->json('draft.changes'))->toBe([...$base, $odd])->and($open->json('configuration.experiments.0.variants.1.changes'))->toBe($base);
    $this->as($this->person, 'GET', "/api/sites/{$this->site->key}/experiments/shorter-words")->assertJsonPath('unfinished.variants.1.changes', [...$base, $odd]);
    ($this->ask)('keep', ['token' => $token, 'base' => [...$base, $odd], 'mine' => [...$base, ['value' => 'red'] + $odd]])->assertOk()->assertJsonPath('problems', []);
    expect(($this->kept)())->toHaveCount(count($base) + 1);
    // Code takes the right to publish.
    $worker = $this->makePersonWho('work', $this->site);
    $their = ($this->token)([], $worker);
    $now = ($this->ask)('draft', ['token' => $their])->assertJsonPath('may_code', false)->json('changes');
    $code = ['kind' => 'insert', 'selector' => 'h1', 'place' => 'after', 'value' => '<p>New</p>'];
    $refused = ($this->ask)('keep', ['token' => $their, 'base' => $now, 'mine' => [...$now, $code]])->assertOk();
    expect($refused->json('problems')[count($now)])->toContain('right to publish')->and(($this->kept)())->toBe($now);
});

it('makes a goal of an element, takes one that counts the same, and has browsers watch what is to be seen', function () {
    $token = ($this->token)();
    $mark = fn (array $asked): TestResponse => ($this->ask)('goal', ['token' => $token, 'kind' => 'click', 'selector' => '#go', 'name' => 'Went on', ...$asked]);
    foreach ([['name' => ''], ['name' => [1]], ['kind' => 'page'], ['kind' => 7], ['selector' => ''], ['selector' => 'a[href]'], ['kind' => 'seen', 'selector' => 'p { }']] as $odd) {
        $mark($odd)->assertStatus(422)->assertHeader('Access-Control-Allow-Origin', '*');
    }
    $mark([])->assertOk()->assertJsonPath('key', 'went-on')->assertJsonPath('watched', true);
    $mark(['name' => 'The same by another name'])->assertOk()->assertJsonPath('key', 'went-on');
    $mark(['path' => '/join', 'name' => 'Here alone'])->assertOk()->assertJsonPath('key', 'here-alone');
    expect($this->site->goals()->where('key', 'here-alone')->first()->definition['pages'])->toEqual(['fact' => 'url.path', 'op' => 'is', 'value' => '/join']);
    $mark(['href' => 'http://shop.test/offers', 'name' => 'To the offers'])->assertOk();
    expect($this->site->goals()->where('key', 'to-the-offers')->first()->definition)->toMatchArray(['kind' => 'event', 'event' => 'click', 'when' => ['fact' => 'event.props.href', 'op' => 'is', 'value' => 'http://shop.test/offers']]);
    // A word that addresses of the interface take is no key.
    $mark(['selector' => '#new', 'name' => 'New'])->assertOk()->assertJsonPath('key', 'new-goal');
    $mark(['selector' => '#other'])->assertOk()->assertJsonPath('key', 'went-on-2');
    $mark(['kind' => 'seen', 'selector' => 'main > [data-part="offer"]', 'name' => 'Saw the offer'])->assertOk()->assertJsonPath('watched', true);
    $areas = fn (): ?array => json_decode(Publication::query()->latest('number')->value('configuration'), true)['areas'] ?? null;
    $experiment = Experiment::query()->where('key', 'shorter-words')->first();
    expect($experiment->goals->map(fn ($goal): array => [$goal->key, $goal->pivot->role])->all())->toBe([['joined', 'primary'], ['went-on', 'secondary'], ['here-alone', 'secondary'], ['to-the-offers', 'secondary'], ['new-goal', 'secondary'], ['went-on-2', 'secondary'], ['saw-the-offer', 'secondary']])
        ->and($areas())->toBe(['main > [data-part="offer"]']);
    // Gone with the goal.
    $goal = $this->site->goals()->where('key', 'saw-the-offer')->first();
    DB::table('experiment_goal')->where('goal_id', $goal->id)->delete();
    $this->as($this->person, 'DELETE', "/api/sites/{$this->site->key}/goals/saw-the-offer")->assertNoContent();
    expect($areas())->toBeNull();
    Experiment::query()->where('key', 'shorter-words')->update(['state' => 'running']);
    $mark(['selector' => '#third', 'name' => 'Too late'])->assertStatus(409);
    expect($this->site->goals()->where('key', 'too-late')->exists())->toBeFalse();
});

it('shows a copy of an inspected page, in which nothing runs but the Loupe, and takes changes from there', function () {
    $page = $this->site->pages()->create(['url' => 'http://shop.test/join', 'hash' => 'h', 'source' => 'typed', 'added_at' => now(), 'faulty' => [], 'inspected_at' => now()]);
    $show = fn ($person, string $url = 'http://shop.test/join'): TestResponse => $this->actingAs($person)->get("/sites/{$this->site->key}/loupe-copy?url=".urlencode($url), ['Accept' => 'application/json']);
    auth()->forgetGuards();
    $this->get("/sites/{$this->site->key}/loupe-copy?url=x")->assertRedirect('/sign-in');
    $show($this->person)->assertNotFound();
    DB::table('page_copies')->insert(['page_id' => $page->id, 'site_id' => $this->site->id, 'at' => '2026-11-20 10:00:00.000', 'url' => $page->url, 'bytes' => 1, 'sheets' => json_encode([sha1('x'), sha1('gone')]), 'html' => gzencode('<!doctype html><head><script>theirs</script></head><body><h1>Join</h1></body>')]);
    DB::table('page_sheets')->insert(['site_id' => $this->site->id, 'hash' => sha1('x'), 'url' => 'http://shop.test/a.css', 'at' => now(), 'css' => gzencode('h1 { color: teal }')]);
    $copy = $show($this->person)->assertOk();
    $policy = (string) $copy->headers->get('Content-Security-Policy');
    expect($policy)->toContain('sandbox allow-scripts;')->toContain("default-src 'none'")->not->toContain('allow-same-origin')->and(preg_match("/script-src 'nonce-([A-Za-z0-9]{32})';/", $policy, $m))->toBe(1)
        ->and($copy->getContent())->toContain('h1 { color: teal }')->toContain("nonce=\"{$m[1]}\" src=")->toContain('2026-11-20T10:00:00.000Z')->not->toContain('theirs');
    $show($this->person, '')->assertStatus(422);
    $show($this->person, 'http://shop.test/elsewhere')->assertNotFound();
    $show($this->makePersonWho('look', $this->site))->assertForbidden();
    $show($this->makePerson($this->makeSite('plx_othersite00001')))->assertNotFound();
    // From there, browsers name no origin; a link that shows is for pages of the site alone.
    $from = fn (string $what, array $asked): TestResponse => $this->call('POST', "/loupe/{$what}", server: ['HTTP_ORIGIN' => 'null', 'CONTENT_TYPE' => 'text/plain'], content: (string) json_encode($asked));
    $token = ($this->token)();
    auth()->forgetGuards();
    $from('open', ['token' => $token])->assertOk()->assertHeader('Access-Control-Allow-Origin', 'null');
    $from('keep', ['token' => $token, 'base' => ($this->kept)(), 'mine' => []])->assertOk();
    $look = ($this->token)(['purpose' => 'look', 'variant' => null]);
    auth()->forgetGuards();
    $from('open', ['token' => $look])->assertForbidden();
});

it('changes nothing that has started, for nobody who may no more, and nothing that is no list', function () {
    $token = ($this->token)();
    $base = ($this->kept)();
    foreach ([[], ['base' => $base], ['base' => 'x', 'mine' => $base], ['base' => $base, 'mine' => [1]], ['base' => $base, 'mine' => [['selector' => 'h1']]], ['base' => $base, 'mine' => array_fill(0, 101, $base[0])], ['base' => $base, 'mine' => ['a' => $base[0]]]] as $odd) {
        ($this->ask)('keep', ['token' => $token, ...$odd])->assertStatus(422)->assertHeader('Access-Control-Allow-Origin', '*');
    }
    $this->call('POST', '/loupe/keep', server: ['HTTP_ORIGIN' => 'http://shop.test', 'CONTENT_TYPE' => 'text/plain'], content: str_repeat('x', 1_000_001))->assertForbidden();
    Experiment::query()->where('key', 'shorter-words')->update(['state' => 'running']);
    ($this->ask)('keep', ['token' => $token, 'base' => $base, 'mine' => []])->assertStatus(409);
    ($this->ask)('draft', ['token' => $token])->assertOk()->assertJsonPath('state', 'running');
    ($this->make)()->assertStatus(422)->assertJsonValidationErrors(['experiment']);
    Experiment::query()->where('key', 'shorter-words')->update(['state' => 'draft']);
    DB::table('site_user')->where('user_id', $this->person->id)->update(['right' => 'look']);
    ($this->ask)('keep', ['token' => $token, 'base' => $base, 'mine' => []])->assertForbidden();
    ($this->ask)('open', ['token' => $token])->assertForbidden();
    expect(($this->kept)())->toBe($base);
});
