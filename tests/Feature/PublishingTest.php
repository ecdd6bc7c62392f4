<?php

use App\Models\Publication;
use App\Publishing\Publisher;
use App\Publishing\SiteCheck;
use App\Publishing\SiteFile;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\Wiring\RuntimeConfiguration;

beforeEach(function () {
    $this->sent = 0;
    $this->site = $this->makeSite();
    $this->person = $this->makePerson($this->site);
    $this->path = "/api/sites/{$this->site->key}";
    $this->as($this->person, 'POST', "{$this->path}/experiments", experimentRequest())->assertStatus(201);
    $this->move = fn (string $action) => $this->as($this->person, 'POST', "{$this->path}/experiments/shorter-words/stage", ['action' => $action, 'reason' => 'For a test'])->assertOk();
    $this->file = fn (): string => (string) file_get_contents(config('pellix.published')."/{$this->site->key}.js");
    $this->published = fn () => $this->as($this->person, 'GET', "{$this->path}/publications")->assertOk();
});

it('never puts a file that cannot be run, or would decide otherwise, in the place of the good one', function (callable $break, string $why) {
    ($this->move)('start');
    $good = ($this->file)();
    $this->app->instance(SiteFile::class, $break(new SiteFile(app('files'))));
    ($this->move)('pause');
    expect(($this->file)())->toBe($good)->and(Publication::query()->count())->toBe(1);
    ($this->published)()->assertJsonPath('now.number', 1)->assertJsonPath('now.trouble.why', fn (?string $said): bool => str_contains((string) $said, $why));
    $this->as($this->person, 'POST', "{$this->path}/publications")->assertStatus(409);

    $this->app->forgetInstance(SiteFile::class);
    $this->as($this->person, 'POST', "{$this->path}/publications")->assertOk()->assertJsonPath('now.number', 2)->assertJsonPath('now.trouble', null);
    expect(published($this->site))->toBe([]);
})->with([
    'a runtime that is cut off' => [fn (SiteFile $file) => brokenFile(static fn (string $text): string => substr($text, 0, -200)), 'It does not run'],
    'no runtime' => [fn (SiteFile $file) => brokenFile(static fn (string $text): string => strtok($text, "\n")."\n"), 'The runtime is not in it'],
    'another site\'s' => [fn (SiteFile $file) => brokenFile(static fn (string $text): string => str_replace('plx_featuretests0001', 'plx_featuretests0002', $text)), 'not the file of this site'],
    'one that runs without end' => [fn (SiteFile $file) => brokenFile(static fn (string $text): string => "while (true) {}\n{$text}"), 'It does not run'],
    'another way to assign' => [fn (SiteFile $file) => brokenFile(static fn (string $text): string => str_replace(':variant:', ':varient:', $text)), 'otherwise than agreed'],
]);

/** A file whose text is spoilt as it is put together. */
function brokenFile(callable $spoil): SiteFile
{
    return new class ($spoil) extends SiteFile {
        public function __construct(private $spoil)
        {
            parent::__construct(app('files'));
        }

        public function text(string $configuration, array $parts): string
        {
            return ($this->spoil)(parent::text($configuration, $parts));
        }
    };
}

it('holds what a file would decide against the core, experiment by experiment', function (callable $change, ?string $wrong) {
    $experiment = Declared::read(['pellix' => 1, 'key' => 'a', 'salt' => 's', 'share' => 0.5, 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/catalogue'], 'variants' => [['key' => 'x', 'weight' => 1, 'control' => true], ['key' => 'y', 'weight' => 3]]]);
    $configuration = ['number' => 7, ...RuntimeConfiguration::compile($this->site->settings(), '/c', [$experiment], Pellix\Core\Wiring\Tags\TagSet::read([]), 0)];
    $said = app(SiteCheck::class)->wrong(app(SiteFile::class)->text((string) json_encode($change($configuration)), []), $this->site->key, 7, [$experiment]);
    $wrong === null ? expect($said)->toBeNull() : expect($said)->toContain($wrong);
})->with([
    'as it is' => [fn (array $all): array => $all, null],
    'other weights' => [fn (array $all): array => array_replace_recursive($all, ['experiments' => [['variants' => [['end' => 0.5]]]]]), 'would give the visitor'],
    'another share' => [fn (array $all): array => array_replace_recursive($all, ['experiments' => [['share' => 1]]]), 'would give the visitor'],
    'another page' => [fn (array $all): array => array_replace_recursive($all, ['experiments' => [['pages' => ['value' => '/x']]]]), 'The page rule of a would not match'],
    'none' => [fn (array $all): array => [...$all, 'experiments' => []], 'The experiment a is not in it'],
]);

it('puts one of the ten before back, under a number of its own, until something is published again', function () {
    ($this->move)('start');
    ($this->move)('pause');
    expect(published($this->site))->toBe([]);
    $back = $this->as($this->person, 'POST', "{$this->path}/publications/1/restore")->assertOk();
    expect(array_column(published($this->site), 'key'))->toBe(['shorter-words'])->and($back->json('now'))->toMatchArray(['number' => 3, 'held' => true])->and($back->json('newest.0.puts_back'))->toBe(1);
    // A start of the servers leaves it; whatever somebody changes does not.
    app(Publisher::class)->renew($this->site->refresh());
    expect(published($this->site))->toHaveCount(1);
    $this->as($this->person, 'POST', "{$this->path}/publications/3/restore")->assertStatus(409);
    $this->as($this->person, 'POST', "{$this->path}/publications/99/restore")->assertNotFound();
    ($this->move)('end');
    expect(published($this->site))->toBe([]);
    ($this->published)()->assertJsonPath('now.held', false);
    foreach (range(5, 15) as $number) {
        DB::table('publications')->insert(['site_id' => $this->site->id, 'number' => $number, 'configuration' => '{}', 'published_at' => now()]);
    }
    $this->as($this->person, 'POST', "{$this->path}/publications/4/restore")->assertStatus(409);
});

it('tells how many visitors have met a published file', function () {
    ($this->move)('start');
    $send = function (string $visitor, int $number): void {
        (new App\Collector\Collector(DB::connection()->getPdo()))->take((string) json_encode(['pellix' => 1, 'site' => $this->site->key, 'configuration' => $number, 'events' => [
            ['id' => 'm'.++$this->sent, 'visitor' => $visitor, 'time' => now()->toIso8601ZuluString('millisecond'), 'name' => 'page_view', 'url' => 'http://shop.test/join', 'props' => []],
        ]]), 'test', Carbon\CarbonImmutable::now('UTC'));
    };
    $send('a', 1);
    $send('b', 1);
    $this->gather($this->site);
    ($this->published)()->assertJsonPath('now.met.visitors', 2);
    ($this->move)('pause');
    $send('a', 2);
    $this->gather($this->site);
    ($this->published)()->assertJsonPath('now.met.visitors', 1)->assertJsonPath('newest.1.met.visitors', 2);
});
