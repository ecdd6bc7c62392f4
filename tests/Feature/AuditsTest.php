<?php

use App\Audits\StoredAudit;
use App\Models\Site;
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

it('says of stored events what it says of the same in a file', function () {
    $settings = AuditLogs::settings(['lose:variant=short:strength=0.3'], 1200, 14);
    $file = $settings->experiment();
    $site = Site::query()->create(['key' => 'plx_auditedsite00001', 'name' => 'Audited', 'hosts' => ['larkhollow.localhost', 'desk.larkhollow.localhost'], 'time_zone' => 'UTC', 'currency' => 'EUR', 'cookie_days' => 15, 'srm_alpha' => 0.001, 'fresh_seconds' => 86400]);
    $begin = CarbonImmutable::createFromTimestampUTC(intdiv($settings->begin(), 1000));
    $experiment = $site->experiments()->create([
        'key' => $file['key'], 'name' => $file['name'], 'hypothesis' => 'x', 'kind' => 'in_page', 'unit' => 'visitor', 'salt' => $file['salt'], 'share' => 0.9, 'variants' => array_map(fn (array $one): array => ['name' => $one['key'], 'control' => false, 'changes' => [], ...$one], $file['variants']),
        'pages' => $file['pages'], 'state' => 'running', 'started_at' => $begin, 'changed_at' => $begin,
    ]);
    $experiment->revisions()->create(['number' => 1, 'from' => $begin, 'stage' => 'running', 'declared' => $experiment->declaration(), 'changed' => [], 'author' => 'Ana']);
    storeLog($site, (new LogMaker($settings))->events());
    // The audit reads through connections of its own, which see what was committed.
    DB::commit();
    try {
        $stored = StoredAudit::of($experiment->refresh(), $begin->addDays(14))->toArray();
    } finally {
        DB::table('events')->where('site_id', $site->id)->delete();
        $site->delete();
    }
    $lines = AuditLogs::lines($settings);
    $read = AuditLogs::audit(implode("\n", $lines), AuditLogs::setup([...$file, 'goals' => [], 'end' => null, 'audit' => ['hosts' => $site->hosts]], null, $settings->end()))->toArray();
    expect($stored['counts']['events'])->toBe($read['counts']['events'])->and($stored['counts']['visitors'])->toBe($read['counts']['visitors'])
        ->and($stored['counts']['variants'])->toBe($read['counts']['variants'])->and($stored['srm']['overall'])->toEqual($read['srm']['overall'])->and($stored['verdict'])->toBe('unfit')
        ->and(array_column($stored['findings'], 'code'))->toContain('srm.overall');
});

it('names the experiment that it has not', function () {
    $this->artisan('pellix:audit', ['experiment' => 'nowhere'])->assertExitCode(2);
});
