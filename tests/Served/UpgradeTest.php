<?php

use Symfony\Component\Process\Process;

/** Runs a command of the application on the database of these tests. */
function onTheOldData(string ...$command): string
{
    $process = new Process(['php', dirname(__DIR__, 2).'/artisan', ...$command], env: ['PELLIX_DATA' => getenv('PELLIX_FEATURE_DATA'), 'DB_DATABASE' => 'pellix_upgrade'], timeout: 120);
    $process->mustRun();

    return $process->getOutput();
}

it('takes over what was kept before events lay by month, and before experiments had revisions', function () {
    $before = array_map(static fn (string $file): string => '--path=database/migrations/'.basename($file), array_filter(
        glob(dirname(__DIR__, 2).'/database/migrations/*.php'),
        static fn (string $file): bool => basename($file) < '2026_11_26',
    ));
    onTheOldData('migrate:fresh', '--force', ...$before);
    $db = new PDO('mysql:unix_socket='.getenv('PELLIX_TEST_SOCKET').';dbname=pellix_upgrade;charset=utf8mb4', 'pellix', (string) getenv('PELLIX_TEST_DB_PASSWORD'), [PDO::ATTR_ERRMODE => PDO::ERRMODE_EXCEPTION]);
    $all = static fn (string $sql): array => $db->query($sql)->fetchAll(PDO::FETCH_NUM);
    $db->exec("insert into users (id, name, email, password) values (1, 'Ada', 'ada@shop.test', 'x')");
    $db->exec("insert into sites (id, `key`, name, hosts, time_zone, currency, cookie_days, srm_alpha, fresh_seconds) values (1, 'plx_aaaaaaaaaaaaaaaa', 'Shop', '[\"shop.test\"]', 'UTC', 'EUR', 30, 0.01, 3600)");
    $db->exec('insert into site_user values (1, 1)');
    $pages = '{"fact":"url.path","op":"is","value":"/join"}';
    $variants = '[{"key":"a","name":"A","weight":50,"control":true,"changes":[]},{"key":"b","name":"B","weight":50,"control":false,"changes":[]}]';
    $db->exec("insert into experiments (id, site_id, `key`, name, hypothesis, state, salt, share, variants, pages, stretches, started_at, ended_at, changed_at)
        values (1, 1, 'words', 'Words', '', 'ended', 's', 1, '{$variants}', '{$pages}', '[[\"2026-03-01T00:00:00Z\",\"2026-03-05T00:00:00Z\"],[\"2026-03-10T00:00:00Z\",\"2026-04-20T00:00:00Z\"]]', '2026-03-01', '2026-04-20', '2026-02-01')");
    $insert = $db->prepare('insert into events (site_id, event_id, visitor, user, time, received, name, url, page, referrer, agent, props, experiment, variant) values (1, ?, ?, ?, ?, ?, ?, ?, "", "", "Mozilla/5.0 (iPhone) Mobile Safari/604.1", ?, ?, ?)');
    for ($i = 0; $i < 2500; $i++) {
        // From January to April; ids that are digits, and one that came twice in different case.
        $time = gmdate('Y-m-d H:i:s', (int) strtotime('2026-01-15T00:00:00Z') + $i * 3600);
        $exposed = $i % 5 === 0;
        $insert->execute([(string) (10_000 + $i), 'v'.intdiv($i, 10), $i % 7 === 0 ? 'Užka' : null, $time, $time, $exposed ? 'exposure' : 'page_view', "http://shop.test/join?utm={$i}",
            $exposed ? '{"experiment":"words","variant":"'.($i % 2 ? 'a' : 'b').'","bucket":1}' : '{"note":"ž \"q\"","n":9007199254740993}', $exposed ? 'words' : null, $exposed ? ($i % 2 ? 'a' : 'b') : null]);
    }
    $columns = 'event_id, visitor, user, time, received, clock_shift, name, url, referrer, agent, props, experiment, variant';
    $kept = $all("select {$columns} from events order by event_id");

    onTheOldData('migrate', '--force');

    expect($all("select {$columns} from events order by event_id"))->toEqual($kept)
        ->and($all('select distinct device, browser from events'))->toBe([['mobile', 'safari']])
        ->and($all('select count(distinct page) from events')[0][0])->toEqual(1)
        ->and($all('select count(*) from event_ids')[0][0])->toEqual(2500)
        ->and(count($all("select 1 from information_schema.partitions where table_schema = database() and table_name = 'events' and table_rows > 0")))->toBeGreaterThan(3)
        ->and($all("show tables like 'events_before'"))->toBe([])
        ->and($all('select number, stage, `from` from experiment_revisions where number > 1 order by number'))->toEqual([
            [2, 'running', '2026-03-01 00:00:00.000'], [3, 'paused', '2026-03-05 00:00:00.000'], [4, 'running', '2026-03-10 00:00:00.000'], [5, 'ended', '2026-04-20 00:00:00.000'],
        ]);

    onTheOldData('pellix:rebuild');
    $shown = (int) $all("select count(distinct visitor) from events where experiment = 'words' and (time between '2026-03-01' and '2026-03-05' or time between '2026-03-10' and '2026-04-20')")[0][0];
    expect((int) $all('select coalesce(sum(n), 0) from page_volumes')[0][0])->toBe(2000)
        ->and((int) $all('select count(*) from participations where variant is not null')[0][0])->toBe($shown)
        ->and($shown)->toBeGreaterThan(50);
    // A second upgrade finds nothing to do.
    expect(onTheOldData('migrate', '--force'))->toContain('Nothing to migrate');
});

it('takes over what was kept before people had accounts of their own, to the last column', function () {
    $before = array_map(static fn (string $file): string => '--path=database/migrations/'.basename($file), array_filter(
        glob(dirname(__DIR__, 2).'/database/migrations/*.php'),
        static fn (string $file): bool => basename($file) < '2026_12_08',
    ));
    onTheOldData('migrate:fresh', '--force', ...$before);
    $db = new PDO('mysql:unix_socket='.getenv('PELLIX_TEST_SOCKET').';dbname=pellix_upgrade;charset=utf8mb4', 'pellix', (string) getenv('PELLIX_TEST_DB_PASSWORD'), [PDO::ATTR_ERRMODE => PDO::ERRMODE_EXCEPTION]);
    $all = static fn (string $sql): array => $db->query($sql)->fetchAll(PDO::FETCH_NUM);
    // What the demo of this release has, as far as the old tables have a place for it.
    $db->exec('set foreign_key_checks = 0, group_concat_max_len = 100000');
    $columns = [];
    foreach ($all("select table_name, group_concat(concat('`', column_name, '`') order by ordinal_position) from information_schema.columns where table_schema = database() and table_name <> 'migrations' and coalesce(generation_expression, '') = '' group by table_name") as [$table, $names]) {
        $columns[$table] = $names;
    }
    $demo = new PDO('mysql:unix_socket='.getenv('PELLIX_TEST_SOCKET').';dbname=pellix;charset=utf8mb4', 'pellix', (string) getenv('PELLIX_TEST_DB_PASSWORD'), [PDO::ATTR_ERRMODE => PDO::ERRMODE_EXCEPTION]);
    foreach ($columns as $table => $names) {
        $there = $demo->query("select group_concat(concat('`', column_name, '`')) from information_schema.columns where table_schema = database() and table_name = '{$table}'")->fetchColumn();
        $shared = implode(', ', array_intersect(explode(',', $names), explode(',', (string) $there)));
        $rows = $demo->query("select {$shared} from `{$table}` limit 3000")->fetchAll(PDO::FETCH_NUM);
        foreach (array_chunk($rows, 100) as $some) {
            $one = '('.implode(', ', array_fill(0, count($some[0]), '?')).')';
            $db->prepare("insert ignore into `{$table}` ({$shared}) values ".implode(', ', array_fill(0, count($some), $one)))->execute(array_merge(...$some));
        }
    }
    $sums = static fn (): array => array_map(static function (string $table, string $names) use ($all): string {
        $bytes = implode(', ', array_map(static fn (string $name): string => "coalesce(hex({$name}), '-')", explode(',', $names)));

        return "{$table} ".implode(' ', $all("select count(*), coalesce(sum(crc32(concat_ws('|', {$bytes}))), 0) from `{$table}`")[0]);
    }, array_keys($columns), $columns);
    $kept = $sums();
    expect((int) $all('select count(*) from events')[0][0])->toBeGreaterThan(2000)->and(count($kept))->toBeGreaterThan(60);

    onTheOldData('migrate', '--force');

    // Sessions end with that upgrade, and tokens that had no end get one.
    $changed = array_diff($kept, $sums());
    expect(array_values(array_filter($changed, static fn (string $line): bool => preg_match('/\A(?:sessions|personal_access_tokens) /', $line) !== 1)))->toBe([])
        ->and($all('select count(*) from users where makes_sites = 1')[0][0])->toBeGreaterThan(0)->and(onTheOldData('migrate', '--force'))->toContain('Nothing to migrate');
});
