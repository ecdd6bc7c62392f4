<?php

use App\Experiments\Timetable;
use App\Models\Experiment;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;

beforeEach(function () {
    $this->sent = 0;
    $this->site = $this->makeSite();
    $this->site->update(['time_zone' => 'Europe/Berlin']);
    $this->person = $this->makePerson($this->site);
    $this->path = "/api/sites/{$this->site->key}/experiments";
    $this->made = $this->as($this->person, 'POST', $this->path, experimentRequest())->assertStatus(201);
    $this->move = fn (string $action, array $with = []) => $this->as($this->person, 'POST', "{$this->path}/shorter-words/stage", ['action' => $action, 'reason' => 'For a test', ...$with]);
    $this->times = fn (?string $start, ?string $end = null, ?int $visitors = null) => $this->as($this->person, 'PUT', "{$this->path}/shorter-words/timetable", ['start' => $start, 'end' => $end, 'end_visitors' => $visitors]);
    // A clock of the test: what is due is done when the round is made.
    $this->at = function (string $moment): string {
        CarbonImmutable::setTestNow($moment);
        // Nobody is signed in where workers work.
        app('auth')->forgetGuards();
        app(Timetable::class)->make($this->site->refresh());

        return Experiment::query()->where('key', 'shorter-words')->value('state');
    };
    $this->log = fn (): array => array_map(static fn (array $one): string => trim("{$one['person']}: {$one['what']} {$one['note']}"), $this->as($this->person, 'GET', "/api/sites/{$this->site->key}/logbook?thing=experiment&key=shorter-words")->json('entries'));
});

afterEach(fn () => CarbonImmutable::setTestNow());

it('starts and ends at a time of the site\'s clock', function () {
    CarbonImmutable::setTestNow('2026-03-20T10:00:00Z');
    ($this->times)('2026-03-29T02:30', '2026-04-12T03:00')->assertOk()->assertJsonPath('notes.0', '02:30 does not exist on that day in Europe/Berlin: the clock jumps over it. It is taken as 03:30.')
        ->assertJsonPath('experiment.start_at', '2026-03-29T01:30:00.000000Z');
    ($this->move)('schedule')->assertOk()->assertJsonPath('state', 'scheduled')->assertJsonPath('actions', ['start', 'unschedule']);
    expect(published($this->site) ?? [])->toBe([])
        ->and(($this->at)('2026-03-29T01:29:59Z'))->toBe('scheduled')->and(($this->at)('2026-03-29T01:30:04Z'))->toBe('running')
        ->and(array_column(published($this->site), 'key'))->toBe(['shorter-words'])
        ->and(($this->at)('2026-04-12T00:59:59Z'))->toBe('running')->and(($this->at)('2026-04-12T01:00:01Z'))->toBe('ended')
        ->and(published($this->site))->toBe([])
        ->and(($this->log)())->toContain('Pellix: started At its time.', 'Pellix: ended At its time.', "{$this->person->name}: scheduled Over what spoke against it: For a test");
});

it('makes up for what it slept through, and says so; what nobody counts on any more it does not start', function () {
    CarbonImmutable::setTestNow('2026-05-01T10:00:00Z');
    ($this->times)('2026-05-02T09:00', '2026-05-09T09:00')->assertOk();
    ($this->move)('schedule')->assertOk();
    // Its end, too, went by.
    expect(($this->at)('2026-05-20T07:00:00Z'))->toBe('draft');
    $this->as($this->person, 'GET', "{$this->path}/shorter-words")->assertJsonPath('held_up', 'Its time went by while Pellix did not run: it was to start 2 May 2026 09:00.');
    ($this->times)('2026-05-21T09:00', '2026-05-28T09:00')->assertOk();
    ($this->move)('schedule')->assertOk();
    expect(($this->at)('2026-05-21T12:00:00Z'))->toBe('running')->and(($this->at)('2026-06-02T12:00:00Z'))->toBe('ended')
        ->and(implode(' ', ($this->log)()))->toContain('started Late: Pellix did not run at its time, 21 May 2026 09:00.')->toContain('ended Late');
});

it('goes back to a draft, with the reason, where it cannot start at its time', function () {
    CarbonImmutable::setTestNow('2026-05-01T10:00:00Z');
    ($this->times)('2026-05-02T09:00')->assertOk();
    ($this->move)('schedule')->assertOk();
    // What it needs is taken away behind its back.
    DB::table('experiment_goal')->delete();
    expect(($this->at)('2026-05-02T09:00:00Z'))->toBe('draft')->and(Experiment::query()->value('held_up'))->toContain('Name a goal first');
});

it('ends with the number of visitors that was planned', function () {
    ($this->move)('start')->assertOk();
    ($this->times)(null, null, 2)->assertOk();
    visit($this, 'v1', '/join', ['page_view', 'exposure'], 'short');
    $this->gather($this->site);
    expect(Experiment::query()->value('state'))->toBe('running');
    visit($this, 'v2', '/join', ['page_view', 'exposure'], 'control');
    $this->gather($this->site);
    app(Timetable::class)->make($this->site);
    expect(Experiment::query()->value('state'))->toBe('ended')->and(($this->log)()[0])->toContain('With 2 visitors: 2 were planned.');
});

it('refuses times that make no sense, at their field', function (?string $start, ?string $end, string $field) {
    CarbonImmutable::setTestNow('2026-05-01T10:00:00Z');
    ($this->times)($start, $end)->assertStatus(422)->assertJsonValidationErrors($field);
})->with([['yesterday', null, 'start'], ['2026-04-01T09:00', null, 'start'], [null, '2026-04-01T09:00', 'end'], ['2026-05-03T09:00', '2026-05-02T09:00', 'end'], ['2026-02-30T09:00', null, 'start']]);

it('asks for a reason over what speaks against a start, and keeps it as long as it runs', function () {
    $this->as($this->person, 'POST', "{$this->path}/shorter-words/stage", ['action' => 'start'])->assertStatus(422)->assertJsonValidationErrors('reason');
    $this->as($this->person, 'POST', "{$this->path}/shorter-words/stage", ['action' => 'schedule', 'reason' => 'Why not'])->assertStatus(422)->assertJsonValidationErrors('start');
    $started = $this->as($this->person, 'POST', "{$this->path}/shorter-words/stage", ['action' => 'start', 'reason' => 'The shop opens on Monday'])->assertOk();
    expect($started->json('started_over.reason'))->toBe('The shop opens on Monday')->and($started->json('started_over.by'))->toBe($this->person->name)
        ->and(implode(' ', $started->json('started_over.blockers')))->toContain('“Joined” has never counted');
});

it('serves a variant to everybody after the end, counts nothing of it, and warns after two weeks', function () {
    ($this->move)('start')->assertOk();
    ($this->move)('end', ['keep' => 'nobody'])->assertStatus(422)->assertJsonValidationErrors('keep');
    ($this->move)('end', ['keep' => 'short'])->assertOk()->assertJsonPath('kept.variant', 'short')->assertJsonPath('kept.overdue', false);
    expect(published($this->site))->toHaveCount(1)->and(published($this->site)[0])->toMatchArray(['key' => 'shorter-words', 'serves' => true])->and(published($this->site)[0]['variants'])->toHaveCount(1);
    ($this->move)('archive')->assertStatus(422);
    CarbonImmutable::setTestNow(CarbonImmutable::now()->addDays(15));
    $this->as($this->person, 'GET', "{$this->path}/shorter-words")->assertJsonPath('kept.overdue', true);
    $this->as($this->person, 'PUT', "{$this->path}/shorter-words/kept", ['variant' => null])->assertOk()->assertJsonPath('kept', null);
    expect(published($this->site))->toBe([]);
});

it('copies an experiment, and what it was at a revision, as new drafts; a deleted draft can be had back', function () {
    ($this->move)('start')->assertOk();
    $this->as($this->person, 'PUT', "{$this->path}/shorter-words", experimentRequest(['share' => 0.5]))->assertOk();
    $this->as($this->person, 'POST', "{$this->path}/shorter-words/copies", [])->assertStatus(201)->assertJsonPath('state', 'draft')->assertJsonPath('share', 0.5)->assertJsonPath('key', 'shorter-words-copy');
    $this->as($this->person, 'POST', "{$this->path}/shorter-words/copies", ['revision' => 1])->assertStatus(201)->assertJsonPath('share', 1)->assertJsonPath('name', 'Shorter words (as of revision 1)');
    $this->as($this->person, 'POST', "{$this->path}/shorter-words/copies", ['revision' => 99])->assertNotFound();
    $this->as($this->person, 'DELETE', "{$this->path}/shorter-words-copy")->assertNoContent();
    $this->as($this->person, 'GET', "{$this->path}/shorter-words-copy")->assertNotFound();
    $this->as($this->person, 'POST', "{$this->path}/shorter-words-copy/restored")->assertOk()->assertJsonPath('share', 0.5);
    $this->as($this->person, 'GET', "{$this->path}/shorter-words-copy")->assertOk();
});

it('lets those who work change names and notes of one that runs, and nothing that visitors meet', function () {
    ($this->move)('start')->assertOk();
    $worker = $this->makePersonWho('work', $this->site);
    $from = $this->as($worker, 'GET', "{$this->path}/shorter-words/revisions")->json();
    $this->as($worker, 'PUT', "{$this->path}/shorter-words", experimentRequest(['name' => 'Fewer words', 'notes' => 'As agreed']))->assertOk()->assertJsonPath('name', 'Fewer words');
    $this->as($worker, 'PUT', "{$this->path}/shorter-words", experimentRequest(['share' => 0.2]))->assertForbidden();
    expect(Experiment::query()->first()->file()['epochs'])->toHaveCount(1)->and($from)->toHaveCount(2);
});

it('says before a change what it does, and lets a goal be taken over or not', function () {
    ($this->move)('start')->assertOk();
    $this->as($this->person, 'POST', "{$this->path}/shorter-words/change-preview", experimentRequest(['share' => 0.2]))->assertOk()->assertJsonPath('opens', ['share']);
    $this->as($this->person, 'POST', "{$this->path}/shorter-words/change-preview", experimentRequest(['notes' => 'x']))->assertOk()->assertJsonPath('opens', []);
    $goal = ['name' => 'Joined', 'kind' => 'page', 'count' => 'visitor', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/join/thanks']];
    $this->as($this->person, 'PUT', "/api/sites/{$this->site->key}/goals/joined", [...$goal, 'keep_former' => ['nobody']])->assertStatus(422)->assertJsonValidationErrors('keep_former');
    $this->as($this->person, 'PUT', "/api/sites/{$this->site->key}/goals/joined", [...$goal, 'keep_former' => ['shorter-words']])->assertOk();
    $this->as($this->person, 'GET', "{$this->path}/shorter-words")->assertJsonPath('goals.0.key', 'joined-r1')->assertJsonPath('goals.0.pages.value', '/join/done');
});
