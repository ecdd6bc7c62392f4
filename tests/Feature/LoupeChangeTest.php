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
    $mark(['selector' => '#other'])->assertOk()->assertJsonPath('key', 'went-on-2');
    $mark(['kind' => 'seen', 'selector' => 'main > [data-part="offer"]', 'name' => 'Saw the offer'])->assertOk()->assertJsonPath('watched', true);
    $areas = fn (): ?array => json_decode(Publication::query()->latest('number')->value('configuration'), true)['areas'] ?? null;
    $experiment = Experiment::query()->where('key', 'shorter-words')->first();
    expect($experiment->goals->map(fn ($goal): array => [$goal->key, $goal->pivot->role])->all())->toBe([['joined', 'primary'], ['went-on', 'secondary'], ['here-alone', 'secondary'], ['to-the-offers', 'secondary'], ['went-on-2', 'secondary'], ['saw-the-offer', 'secondary']])
        ->and($areas())->toBe(['main > [data-part="offer"]']);
    // Gone with the goal.
    $goal = $this->site->goals()->where('key', 'saw-the-offer')->first();
    DB::table('experiment_goal')->where('goal_id', $goal->id)->delete();
    $this->as($this->person, 'DELETE', "/api/sites/{$this->site->key}/goals/saw-the-offer")->assertNoContent();
    expect($areas())->toBeNull();
    Experiment::query()->where('key', 'shorter-words')->update(['state' => 'running']);
    $mark(['selector' => '#third'])->assertStatus(409);
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
