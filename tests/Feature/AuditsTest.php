<?php

use App\Audits\Auditor;
use App\Audits\Audits;
use App\Audits\StoredAudit;
use App\Models\Audit;
use App\Models\Experiment;
use App\Models\Site;
use App\Storage\PersonData;
use Carbon\CarbonImmutable;
use Demo\Logs\LogMaker;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Pages\PageKey;
use Pellix\Core\Segments\Segments;
use Tests\Support\AuditLogs;

/** Puts the events of a log among the stored ones, each id once, as the collector does. */
function storeLog(Site $site, iterable $events): void
{
    $rows = $seen = [];
    foreach ($events as $event) {
        if (isset($seen[$event['id']])) {
            continue;
        }
        $seen[$event['id']] = true;
        $segments = Segments::of($event['props'], $event['agent']);
        $moment = fn (int $ms): string => gmdate('Y-m-d H:i:s', intdiv($ms, 1000)).sprintf('.%03d', $ms % 1000);
        $rows[] = [
            'site_id' => $site->id, 'visitor' => $event['visitor'], 'time' => $moment($event['time']), 'event_id' => $event['id'], 'received' => $moment($event['received']), 'name' => $event['name'], 'url' => $event['url'],
            'page' => PageKey::of($event['url'])->id, 'referrer' => $event['referrer'] === '' ? null : $event['referrer'], 'agent' => $event['agent'], 'user' => $event['user'], 'unit' => $event['visitor'],
            'device' => $segments->device, 'browser' => $segments->browser, 'source' => $segments->source, 'country' => $segments->country, 'props' => json_encode($event['props']),
        ];
    }
    foreach (array_chunk($rows, 1000) as $chunk) {
        DB::table('events')->insert($chunk);
    }
}

/** A site with an experiment that runs since the log begins. */
function auditedExperiment(Demo\Logs\Settings $settings): Experiment
{
    $file = $settings->experiment();
    $site = Site::query()->create(['key' => 'plx_auditedsite00001', 'name' => 'Audited', 'hosts' => ['larkhollow.localhost', 'desk.larkhollow.localhost'], 'time_zone' => 'UTC', 'currency' => 'EUR', 'cookie_days' => 15, 'srm_alpha' => 0.001, 'fresh_seconds' => 86400]);
    $begin = CarbonImmutable::createFromTimestampUTC(intdiv($settings->begin(), 1000));
    $experiment = $site->experiments()->create([
        'key' => $file['key'], 'name' => $file['name'], 'hypothesis' => 'x', 'kind' => 'in_page', 'unit' => 'visitor', 'salt' => $file['salt'], 'share' => 0.9, 'variants' => array_map(fn (array $one): array => ['name' => $one['key'], 'control' => false, 'changes' => [], ...$one], $file['variants']),
        'pages' => $file['pages'], 'state' => 'running', 'started_at' => $begin, 'changed_at' => $begin,
    ]);
    $experiment->revisions()->create(['number' => 1, 'from' => $begin, 'stage' => 'running', 'declared' => $experiment->declaration(), 'changed' => [], 'author' => 'Ana']);

    return $experiment->refresh();
}

it('says of stored events what it says of the same in a file', function () {
    $settings = AuditLogs::settings(['lose:variant=short:strength=0.3'], 1200, 14);
    $experiment = auditedExperiment($settings);
    $site = $experiment->site;
    storeLog($site, (new LogMaker($settings))->events());
    // The audit reads through connections of its own, which see what was committed.
    DB::commit();
    try {
        $stored = StoredAudit::of($experiment, $experiment->started_at->addDays(14))->toArray();
    } finally {
        DB::table('events')->where('site_id', $site->id)->delete();
        $site->delete();
    }
    $lines = AuditLogs::lines($settings);
    $read = AuditLogs::audit(implode("\n", $lines), AuditLogs::setup([...$settings->experiment(), 'goals' => [], 'end' => null, 'audit' => ['hosts' => $site->hosts]], null, $settings->end()))->toArray();
    expect($stored['counts']['events'])->toBe($read['counts']['events'])->and($stored['counts']['visitors'])->toBe($read['counts']['visitors'])
        ->and($stored['counts']['variants'])->toBe($read['counts']['variants'])->and($stored['srm']['overall'])->toEqual($read['srm']['overall'])->and($stored['verdict'])->toBe('unfit')
        ->and(array_column($stored['findings'], 'code'))->toContain('srm.overall');
});

it('goes on every day from what it has counted, reads what has arrived since alone, and everything where that cannot be', function () {
    $this->travelTo('2026-05-01 12:00:00');
    $settings = AuditLogs::settings(['lose:variant=short:since=8:strength=0.5', 'late:strength=0.2', 'user-split:strength=0.3'], 1200, 14);
    $experiment = auditedExperiment($settings);
    $site = $experiment->site;
    $events = iterator_to_array((new LogMaker($settings))->events(), false);
    $known = 0;
    // One day's watch: what has arrived by then is stored, and looked at.
    $look = function (float $days, string $why = 'daily') use ($experiment, $events, &$known): Audit {
        $now = $experiment->started_at->addMinutes((int) (1440 * $days));
        storeLog($experiment->site, array_filter($events, fn (array $one): bool => $one['received'] > $known && $one['received'] <= $now->getTimestampMs()));
        $known = $now->getTimestampMs();
        DB::transactionLevel() > 0 && DB::commit();
        $this->travelTo($now);
        app(Audits::class)->ofExperiment($experiment->refresh(), 'the daily watch', $why);
        $auditor = app(Auditor::class);
        $audit = $auditor->next('test:1');
        $auditor->make($audit, fn (): bool => false);

        return $audit->refresh();
    };
    $said = fn (Audit $audit): array => array_map(fn (string $part): mixed => json_decode((string) DB::table('audit_results')->where('audit_id', $audit->id)->value($part), true), ['report', 'views']);
    // Everything, as the same audit would read it that has nothing to go on from.
    $whole = function (Audit $audit) use ($experiment, $said): array {
        DB::table('audit_checkpoints')->delete();
        $again = Audit::query()->create([...$audit->only(['site_id', 'experiment_id', 'name', 'why', 'by', 'settings', 'engine', 'asked_at']), 'state' => 'waiting']);
        $auditor = app(Auditor::class);
        $auditor->make($auditor->next('test:1'), fn (): bool => false);
        expect($again->refresh()->went_on_from)->toBeNull();

        return $said($again);
    };
    try {
        $first = $look(5);
        expect($first->state)->toBe('done')->and($first->went_on_from)->toBeNull()->and($first->read_events)->toBeGreaterThan(1000);
        $second = $look(6.5);
        expect($second->went_on_from?->format('c'))->toBe($first->asked_at->subMinute()->format('c'))->and($second->read_events)->toBeGreaterThan(50)->toBeLessThan(0.6 * $said($second)[0]['counts']['lines']);
        $third = $look(10);
        expect($said($third))->toEqual($whole($third))->and($third->read_events)->toBeLessThan($said($third)[0]['counts']['lines']);
        // Nothing new is no trouble; who asks gets everything.
        expect($look(10.01)->went_on_from)->not->toBeNull()->and($look(10.02, 'asked')->read_events)->toBeNull();
        // Other settings, and a person who was erased, have it counted anew; and so has every week.
        $site->update(['session_minutes' => 20]);
        expect($look(11)->went_on_from)->toBeNull()->and($look(11.1)->went_on_from)->not->toBeNull();
        PersonData::ofVisitor($site, $events[0]['visitor'])->erase();
        expect(DB::table('audit_checkpoint_pieces')->count())->toBe(0)->and($look(12)->went_on_from)->toBeNull()->and($look(18.9)->went_on_from)->not->toBeNull()->and($look(19.1)->went_on_from)->toBeNull();
        // With what is left out, and with everything: each goes on by itself.
        $site->exclusions()->create(['experiment_id' => $experiment->id, 'definition' => ['name' => 'Catalogue', 'kind' => 'page', 'rule' => ['fact' => 'url.path', 'op' => 'starts', 'value' => '/catalogue']], 'reason' => 'For a test', 'author' => 'Ana', 'made_at' => '2026-03-01 00:00:00']);
        expect($look(19.2)->went_on_from)->toBeNull()->and(DB::table('audit_checkpoints')->count())->toBe(2)->and($look(19.3)->went_on_from)->not->toBeNull();
    } finally {
        DB::table('events')->where('site_id', $site->id)->delete();
        $site->delete();
    }
});

it('names the experiment that it has not', function () {
    $this->artisan('pellix:audit', ['experiment' => 'nowhere'])->assertExitCode(2);
});
