<?php

declare(strict_types=1);

use App\Models\Experiment;
use App\Models\Site;
use App\ReadModel\Counts;
use App\ReadModel\Gatherer;
use App\ReadModel\InspectedPages;
use App\ReadModel\Readings;
use App\ReadModel\Rebuild;
use App\ReadModel\RecentHits;
use App\ReadModel\Round;
use App\ReadModel\Rounds;
use App\ReadModel\Worker;
use Illuminate\Support\Facades\DB;

beforeEach(function () {
    $this->site = $this->makeSite();
    $this->person = $this->makePerson($this->site);
    $this->call = fn (string $method, string $path, array $body = []) => $this->as($this->person, $method, "/api/sites/{$this->site->key}{$path}", $body);
    $this->sent = 0;
});

/** Turns until there is nothing to do. */
function turns(Worker $worker): int
{
    for ($turns = 0; $worker->turn() !== null; $turns++) {
        expect($turns)->toBeLessThan(50);
    }

    return $turns;
}

it('leaves time to the collector while it is not behind, and none when it is', function () {
    $worker = app(Worker::class);
    turns($worker);
    expect($worker->turn())->toBeNull();
    visit($this, 'a', '/join');
    expect($worker->turn())->toBeGreaterThan(0.0)->toBeLessThanOrEqual(1.0);
    visit($this, 'b', '/join');
    DB::table('arrivals')->update(['received' => now('UTC')->subSeconds(30)->format('Y-m-d H:i:s.v')]);
    expect($worker->turn())->toBe(0.0)->and(DB::table('visitors')->count())->toBe(2);
});

it('hurries with a rebuild and a recount, for which somebody waits', function () {
    visit($this, 'a', '/join/done');
    $worker = app(Worker::class);
    turns($worker);
    app(Rebuild::class)->begin($this->site);
    expect($worker->turn())->toBe(0.0);
    turns($worker);
    ($this->call)('POST', '/goals', ['name' => 'Done', 'kind' => 'page', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/join/done']])->assertCreated();
    expect($worker->turn())->toBe(0.0);
    turns($worker);
    expect(($this->call)('GET', '/goals')->json('0.recent.hits'))->toBe(1);
});

it('lets no site keep the others from being counted', function () {
    $other = $this->makeSite('plx_00000000000other');
    foreach (['a', 'b'] as $visitor) {
        visit($this, $visitor, '/join');
    }
    $broken = new class ($this->site->id) implements Round {
        public int $asked = 0;

        public function __construct(private readonly int $site)
        {
        }

        public function make(Site $site): bool
        {
            $this->asked++;

            return $site->id === $this->site ? throw new RuntimeException('This site is broken.') : false;
        }
    };
    $worker = new Worker(app(Gatherer::class), app(Rebuild::class), app(Counts::class), app(Readings::class), new Rounds([$broken], app(InspectedPages::class), app(Counts::class)));
    $worker->turn();
    expect($broken->asked)->toBe(2)->and(DB::table('visitors')->where('site_id', $this->site->id)->count())->toBe(2);
    // It is left alone for a while, the other one is not.
    $this->site = $other;
    visit($this, 'c', '/join');
    $worker->turn();
    expect($broken->asked)->toBe(2)->and(DB::table('visitors')->where('site_id', $other->id)->count())->toBe(1);
});

it('lets hits of a goal pass out of the last seven days, though nothing arrives', function () {
    ($this->call)('POST', '/goals', ['name' => 'Done', 'kind' => 'page', 'count' => 'every', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/done']])->assertCreated();
    visit($this, 'a', '/done', ['page_view'], null, '-6 days');
    visit($this, 'a', '/done', ['page_view'], null, '-1 day');
    $this->gather();
    $recent = fn (): array => ($this->call)('GET', '/goals')->json('0.recent');
    expect($recent())->toMatchArray(['hits' => 2, 'visitors' => 1]);
    $this->travel(2)->days();
    RecentHits::moveOn($this->site->id);
    expect($recent())->toMatchArray(['hits' => 1, 'visitors' => 1]);
    $this->travel(7)->days();
    RecentHits::moveOn($this->site->id);
    expect($recent())->toBe(['hits' => 0, 'visitors' => 0, 'last' => null]);
});

it('says which goal was reached last when, whichever of them a beacon was about', function () {
    foreach (['first', 'second'] as $name) {
        ($this->call)('POST', '/goals', ['name' => $name, 'kind' => 'page', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => "/{$name}"]])->assertCreated();
    }
    $lasts = fn (): array => array_column(array_column(($this->call)('GET', '/goals')->json(), 'recent'), 'last');
    visit($this, 'a', '/first', ['page_view'], null, '-3 hours');
    $this->gather();
    $before = $lasts();
    visit($this, 'b', '/second', ['page_view'], null, '-1 hour');
    $this->gather();
    expect($lasts()[0])->toBe($before[0])->not->toBeNull()->and($before[1])->toBeNull()->and($lasts()[1])->toBeGreaterThan($before[0]);
    // An older one does not move it back.
    visit($this, 'c', '/second', ['page_view'], null, '-2 hours');
    $this->gather();
    expect(($this->call)('GET', '/goals')->json('1.recent.hits'))->toBe(2)->and($lasts()[1])->toBeGreaterThan($before[0]);
});

it('drops a month, and only when it is told to forgets what is old', function () {
    visit($this, 'a', '/join');
    DB::table('event_ids')->update(['received' => now('UTC')->subDays(40)->format('Y-m-d H:i:s.v')]);
    $this->artisan('pellix:months', ['--drop' => '1999-01'])->assertExitCode(2);
    expect(DB::table('event_ids')->count())->toBe(1);
    $this->artisan('pellix:months')->assertExitCode(0);
    expect(DB::table('event_ids')->count())->toBe(0)->and(DB::table('events')->count())->toBe(1)->and(Experiment::query()->count())->toBe(0);
});
