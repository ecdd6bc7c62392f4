<?php

it('tests a sample ratio from the command line', function () {
    $process = $this->pellix(['srm', '821588', '815482', '--weights=50,50', '--json']);
    $json = json_decode($process->getOutput(), true);
    expect($process->getExitCode())->toBe(1)
        ->and(array_keys($json))->toBe(['test', 'statistic', 'df', 'p', 'log_p', 'alpha', 'verdict', 'observed', 'expected'])
        ->and([$json['test'], $json['df'], $json['verdict'], $json['observed'], $json['expected']])->toEqual(['chi-square', 1, 'mismatch', [821588, 815482], [818535, 818535]]);
});

it('exits as a pipeline needs it', function (array $arguments, int $exit, string $output, string $error) {
    $process = $this->pellix($arguments);
    expect($process->getExitCode())->toBe($exit)->and($process->getOutput())->toContain($output)->and($process->getErrorOutput())->toContain($error);
})->with([
    [['srm', '10', '12'], 0, 'Balanced: observed 10, 12', ''],
    [['srm', '100', '900'], 1, 'Mismatch', ''],
    [['srm', '100000', '0'], 1, 'p under 1e-300', ''],
    [['srm', '10', '-12'], 2, '', '"-12" is no count'],
    [['srm', '10', '1.5'], 2, '', '"1.5" is no count'],
    [['srm', '10'], 2, '', 'at least two variants'],
    [['srm', '10', '12', '--weights=50'], 2, '', 'There are 2 counts but 1 weights'],
    [['srm', '10', '12', '--weights=0,0'], 2, '', 'positive sum'],
    [['srm', '10', '12', '--weights=50,x'], 2, '', '--weights: "x" is no number'],
    [['srm', '10', '12', '--alpha=2'], 2, '', 'alarm level'],
    [['srm', '10', '12', '--jsn'], 2, '', 'There is no option --jsn'],
    [['srm', '10', '12', '--weights'], 2, '', '--weights takes a value'],
    [['assign', '--json'], 2, '', 'Name the experiment file'],
    [['assign', '--experiment=/nowhere.json'], 2, '', '/nowhere.json: this file cannot be read'],
    [['reconcile', 'a'], 2, '', 'Name an event log and a file of the other source'],
    [['reconcile', '-', '-', '--experiment=/nowhere.json'], 2, '', 'Only one of the two files'],
    [['reconcile', 'a', 'b', '--experiment=/nowhere.json'], 2, '', '/nowhere.json: this file cannot be read'],
    [['reconcile', 'a', 'b', '--tolerance=5'], 2, '', '--tolerance takes a part'],
    [['reconcile', 'a', 'b', '--window=-1'], 2, '', '--window takes whole seconds'],
    [['audit'], 2, '', 'Name one event log'],
    [['audit', '/nowhere.ndjson'], 2, '', 'Say which experiment'],
    [['audit', '--counts=/nowhere.csv'], 2, '', '/nowhere.csv: this file cannot be read'],
    [['audit', 'a', '--experiment=/nowhere.json'], 2, '', '/nowhere.json: this file cannot be read'],
    [['audit', '/nowhere.ndjson', '--propose-map'], 2, '', '/nowhere.ndjson: this file cannot be read'],
    [['readout'], 2, '', 'Name one event log'],
    [['readout', '/nowhere.ndjson'], 2, '', 'Say which experiment'],
    [['readout', 'a', '--experiment=/nowhere.json'], 2, '', '/nowhere.json: this file cannot be read'],
    [['readout', '--counts=/nowhere.csv'], 2, '', '/nowhere.csv: this file cannot be read'],
    [['readout', '--counts=a', '--at=2026-03-02T00:00:00Z'], 2, '', 'no --at'],
    [['simulate', '--list-faults'], 0, 'lose-exposures', ''],
    [['simulate', '--to=-', '--visitors=0'], 2, '', '--visitors takes a whole number'],
    [['simulate', '--to=-', '--fault=quake'], 2, '', 'There is no fault "quake"'],
    [['simulate', '--to=-', '--fault=lose:colour=red'], 2, '', 'is no parameter of a fault'],
    [['fly'], 2, '', 'There is no command "fly"'],
    [['help'], 0, 'bin/pellix COMMAND', ''],
]);

/** @param array<string, mixed>|string $content */
function experimentOnDisk(array|string $content): string
{
    $file = tempnam(sys_get_temp_dir(), 'experiment');
    file_put_contents($file, is_array($content) ? json_encode($content, JSON_PRETTY_PRINT) : $content);

    return $file;
}

it('assigns units from standard input', function () {
    $case = vectors('assignment')[4];
    $file = experimentOnDisk([
        'pellix' => 1, 'key' => 'x', 'salt' => $case['salt'], 'share' => $case['share'],
        'variants' => array_map(fn (array $v): array => ['key' => $v[0], 'weight' => $v[1]], $case['variants']),
    ]);
    $units = array_values(array_filter($case['units'], fn (array $unit): bool => $unit['unit'] !== ''));
    $process = $this->pellix(['assign', "--experiment={$file}", '--json'], implode("\n", array_column($units, 'unit'))."\r\n");
    expect($process->getExitCode())->toBe(0)
        ->and(array_map(fn (string $line): array => json_decode($line, true), explode("\n", trim($process->getOutput()))))->toBe($units);
});

it('names file, line and field of a bad experiment', function () {
    $file = experimentOnDisk("{\"pellix\": 1, \"key\": \"x\", \"salt\": \"s\",\n\"variants\": [\n  {\"key\": \"a\", \"weight\": 1},\n  {\"key\": \"b\", \"weight\": -1}\n]}");
    $process = $this->pellix(['assign', "--experiment={$file}"], "a\n");
    expect($process->getExitCode())->toBe(2)->and($process->getErrorOutput())->toContain("{$file}: line 4: field variants.1.weight: A weight is a number");

    $process = $this->pellix(['assign', '--experiment='.experimentOnDisk("{\"pellix\": 1,\n \"key\": x}")], "a\n");
    expect($process->getExitCode())->toBe(2)->and($process->getErrorOutput())->toContain('line 2, column 9: a value was expected');
});

it('assigns what can be assigned and names the lines that cannot', function () {
    $file = experimentOnDisk(['pellix' => 1, 'key' => 'x', 'salt' => 's', 'variants' => [['key' => 'a', 'weight' => 1], ['key' => 'b', 'weight' => 1]]]);
    $process = $this->pellix(['assign', "--experiment={$file}"], "one\n\nthr\xffee\nfour\n");
    expect($process->getExitCode())->toBe(2)->and(substr_count($process->getOutput(), "\n"))->toBe(2)
        ->and($process->getErrorOutput())->toContain('line 2: the line is empty')->toContain('line 3: the unit id is not UTF-8');
});

it('simulates visitors through the collector, the same for the same seed', function () {
    $run = fn (string ...$more) => $this->pellix(['simulate', '--experiment=loan-steps', '--visitors=60', ...$more]);
    $exposed = fn (): int => (int) $this->scalar('select count(distinct visitor) from events where experiment = "loan-steps" and name = "exposure"');
    $before = $exposed();
    $process = $run('--seed=11');
    expect($process->getExitCode())->toBe(0, $process->getErrorOutput())->and($process->getOutput())->toContain('60 visitors with seed 11')->toContain(' 0 rejected')
        ->and($exposed())->toBe($before + 60);
    expect($run('--seed=11')->getOutput())->toContain(': 0 events accepted')->and($exposed())->toBe($before + 60);
});

it('says what is wrong with a simulation', function (array $arguments, string $error) {
    $process = $this->pellix(['simulate', ...$arguments]);
    expect($process->getExitCode())->toBe(2)->and($process->getErrorOutput())->toContain($error);
})->with([
    [['--visitors=5'], 'Say which experiment: --experiment=KEY. Running are: '],
    [['--experiment=none', '--visitors=5'], 'There is no experiment "none"'],
    [['--experiment=workshop-invite', '--visitors=5'], 'is draft; visitors meet only running ones'],
    [['--experiment=loan-steps'], 'Say how many visitors'],
    [['--experiment=loan-steps', '--visitors=5', '--lose=long:10'], 'The variants are: control, short'],
    [['--experiment=loan-steps', '--visitors=5', '--lose=short:101'], 'name a variant and a percentage'],
    [['--experiment=donate-amounts', '--visitors=5'], 'No page of the demo site matches the page rule of "donate-amounts"'],
]);

it('inspects a folder of pages, an object a line', function () {
    $folder = sys_get_temp_dir().'/'.uniqid('repairs');
    mkdir($folder);
    $pages = Demo\Repairs::pages('https://measure.larkhollow.example');
    foreach ($pages as $name => [, $html]) {
        file_put_contents("{$folder}/{$name}.html", $html);
    }
    file_put_contents("{$folder}/expect.json", json_encode(Demo\Repairs::EXPECTED));
    $process = $this->pellix(['inspect', $folder, '--key='.Demo\Library::SITE_KEY, "--expect={$folder}/expect.json", '--json']);
    $found = [];
    foreach (explode("\n", trim($process->getOutput())) as $line) {
        $object = json_decode($line, true);
        expect(array_keys($object))->toBe(['source', 'findings', 'verdict']);
        $found[basename($object['source'], '.html')] = array_column($object['findings'], 'code');
    }
    $wanted = array_map(fn (array $page): array => $page[0], $pages);
    ksort($wanted);
    ksort($found);
    expect($found)->toBe($wanted)->and($process->getExitCode())->toBe(1);

    $sound = $this->pellix(['inspect', "{$folder}/sound.html", '--key='.Demo\Library::SITE_KEY]);
    expect([$sound->getExitCode(), $sound->getOutput()])->toBe([0, "{$folder}/sound.html: sound\n"]);
});

it('says what is wrong with an inspection', function (array $arguments, string $error) {
    $process = $this->pellix(['inspect', ...$arguments]);
    expect($process->getExitCode())->toBe(2)->and($process->getErrorOutput())->toContain($error);
})->with([
    [['x.html'], 'Say whose snippet is looked for'],
    [['x.html', '--key=plx_1'], '--key: A site key is'],
    [['/nowhere.html', '--key='.Demo\Library::SITE_KEY], '/nowhere.html: this file cannot be read'],
    [['--key='.Demo\Library::SITE_KEY], 'Name one file or one folder'],
    [[__DIR__, '--key='.Demo\Library::SITE_KEY], 'this folder has no .html'],
    [['x.har', '--key='.Demo\Library::SITE_KEY], 'x.har: this file cannot be read'],
    [['x.html', '--key='.Demo\Library::SITE_KEY, '--expect='.__FILE__], 'Not valid JSON at line 1'],
]);

it('finds by its address what is wrong with each page of the demo', function () {
    $site = App\Models\Site::class;
    $jar = new GuzzleHttp\Cookie\CookieJar();
    $client = new GuzzleHttp\Client(['base_uri' => $this->origin(), 'cookies' => $jar, 'http_errors' => false, 'headers' => ['Accept' => 'application/json', 'Referer' => $this->origin().'/']]);
    $client->get('/sanctum/csrf-cookie');
    $token = fn (): array => ['X-XSRF-TOKEN' => urldecode((string) $jar->getCookieByName('XSRF-TOKEN')?->getValue())];
    $client->post('/api/session', ['json' => ['email' => 'ines@larkhollow.example', 'password' => getenv('PELLIX_TEST_PASSWORD')], 'headers' => $token()]);
    $differing = [];
    foreach ([...Demo\Repairs::pages($this->origin()), ...Demo\Repairs::deliveries($this->origin())] as $name => [$codes]) {
        // What only a group of pages can expect is left to the core's own test.
        $wanted = array_values(array_filter($codes, fn (string $code): bool => ! preg_match('/^(tag|variant)\./', $code)));
        $answer = $client->post('/api/sites/plx_larkhollowdemo01/inspections', ['json' => ['url' => $this->demo()."/repairs/{$name}", 'guard' => true], 'headers' => $token()]);
        $found = array_column(json_decode((string) $answer->getBody(), true)['findings'] ?? [], 'code');
        if ($found !== $wanted) {
            $differing[$name] = [$wanted, $found];
        }
    }
    expect($differing)->toBe([]);
});

it('inspects a capture from the command line, and names the line of a broken one', function () {
    $folder = sys_get_temp_dir().'/pellix-har-'.getmypid();
    mkdir($folder);
    $entry = fn (int $status): array => ['startedDateTime' => '2026-03-02T10:00:00Z', 'request' => ['method' => 'GET', 'url' => 'https://p.test/s/plx_larkhollowdemo01.js'], 'response' => ['status' => $status, 'content' => ['mimeType' => 'text/javascript']]];
    $page = ['startedDateTime' => '2026-03-02T10:00:00Z', 'request' => ['method' => 'GET', 'url' => 'https://a.test/'], 'response' => ['status' => 200, 'content' => ['mimeType' => 'text/html']]];
    file_put_contents("{$folder}/a.har", json_encode(['log' => ['version' => '1.2', 'entries' => [$page, $entry(500)]]], JSON_PRETTY_PRINT));
    file_put_contents("{$folder}/b.har", "{\"log\": {\"version\": \"1.2\",\n\"entries\": [\n{}]}}");
    $run = $this->pellix(['inspect', $folder, '--key=plx_larkhollowdemo01', '--json']);
    $report = json_decode(strtok($run->getOutput(), "\n"), true);
    expect($run->getExitCode())->toBe(2)->and($report['findings'][0]['code'])->toBe('runtime.failed')->and($report['findings'][0]['line'])->toBe(18)
        ->and($report['calls'][0]['status'])->toBe(500)->and($run->getErrorOutput())->toContain('b.har: line 3: field log.entries.0.request');
    array_map(unlink(...), glob("{$folder}/*"));
    rmdir($folder);
});

it('makes a backup of a running copy, and another copy of it', function () {
    $folder = sys_get_temp_dir().'/'.uniqid('backup');
    mkdir($folder);
    $run = $this->pellix(['backup', "{$folder}/a.tar.gz"]);
    expect($run->getExitCode())->toBe(0, $run->getErrorOutput().$run->getOutput())->and(fileperms("{$folder}/a.tar.gz") & 0o777)->toBe(0o600);
    expect($this->pellix(['backup', "{$folder}/a.tar.gz"])->getErrorOutput())->toContain('is there already');
    file_put_contents("{$folder}/none.tar.gz", 'nonsense');
    $into = fn (array $arguments): Symfony\Component\Process\Process => tap(new Symfony\Component\Process\Process([dirname(__DIR__, 2).'/bin/pellix', 'restore', ...$arguments], env: ['PELLIX_DATA' => "{$folder}/data"], timeout: 120))->run();
    $bad = $into(["{$folder}/none.tar.gz"]);
    expect($bad->getExitCode())->toBe(1)->and($bad->getErrorOutput())->toContain('no backup of Pellix')->and(is_dir("{$folder}/data/mysql"))->toBeFalse();
    $good = $into(["{$folder}/a.tar.gz"]);
    expect($good->getExitCode())->toBe(0, $good->getErrorOutput().$good->getOutput())->and($into(["{$folder}/a.tar.gz"])->getErrorOutput())->toContain('There is data in')
        ->and(file_get_contents("{$folder}/data/secret-app"))->toBe(file_get_contents(getenv('PELLIX_TEST_DATA').'/secret-app'))
        ->and(glob("{$folder}/data/published/*.js"))->not->toBe([]);
    // The same rows, as far as nothing came meanwhile.
    $copy = copyThatMayDie("{$folder}/data", $port = random_int(20000, 30000), $port + 1);
    try {
        preg_match('/^DB_SOCKET=(.+)$/m', (string) file_get_contents("{$folder}/data/.env"), $m);
        $db = new PDO("mysql:unix_socket={$m[1]};dbname=pellix", 'pellix', trim((string) file_get_contents("{$folder}/data/secret-database")));
        foreach (['experiments', 'goals', 'wiring_versions', 'users', 'sites'] as $table) {
            expect((int) $db->query("select count(*) from {$table}")->fetchColumn())->toBe((int) $this->scalar("select count(*) from {$table}"), $table);
        }
        expect((int) $db->query('select count(*) from events')->fetchColumn())->toBeGreaterThan(1000);
    } finally {
        $copy->stop(60);
        (new Symfony\Component\Process\Process(['rm', '-rf', $folder]))->run();
    }
});

/** @return array{string, string} an event log and a file of goals */
function goalFiles(string $log, string $goals, string $suffix = '.ndjson'): array
{
    $files = [tempnam(sys_get_temp_dir(), 'log').$suffix, tempnam(sys_get_temp_dir(), 'goals').'.json'];
    file_put_contents($files[0], $log);
    file_put_contents($files[1], $goals);

    return $files;
}

it('counts goals in an event log, NDJSON or CSV or standard input alike', function () {
    $event = fn (string $id, string $visitor, string $time, string $name, string $url, array $props = []): array => [
        'id' => $id, 'visitor' => $visitor, 'user' => null, 'time' => "2026-03-02T{$time}Z", 'name' => $name, 'url' => "https://a.test{$url}", 'props' => (object) $props,
    ];
    $events = [
        $event('1', 'v', '23:50:00', 'page_view', '/done'),
        $event('2', 'v', '23:59:59', 'order', '/thanks', ['order_id' => 'A', 'value' => 10, 'currency' => 'EUR']),
        $event('2', 'v', '23:59:59', 'order', '/thanks', ['order_id' => 'A', 'value' => 10, 'currency' => 'EUR']),
        $event('3', 'w', '12:00:00', 'order', '/thanks', ['order_id' => 'A', 'value' => 10, 'currency' => 'EUR']),
        $event('4', 'w', '12:40:00', 'page_view', '/done/'),
    ];
    $goals = json_encode(['goals' => [
        ['key' => 'done', 'kind' => 'page', 'count' => 'visitor', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/done', 'ignore' => ['slash']]],
        ['key' => 'money', 'kind' => 'order', 'currency' => 'EUR'],
    ]]);
    $ndjson = implode("\n", array_map(json_encode(...), $events));
    [$log, $file] = goalFiles($ndjson, (string) $goals);
    $run = $this->pellix(['goals', $log, "--goals={$file}", '--json']);
    $totals = json_decode($run->getOutput(), true);
    expect($run->getExitCode())->toBe(0, $run->getErrorOutput())
        ->and($totals)->toMatchArray(['events' => 5, 'repeated' => 1, 'visitors' => 2])
        ->and($totals['goals'][0])->toMatchArray(['key' => 'done', 'hits' => 2, 'visitors' => 2, 'sessions' => 2, 'value' => null])
        ->and($totals['goals'][1])->toMatchArray(['key' => 'money', 'hits' => 1, 'value' => 10, 'currency' => 'EUR', 'values' => ['EUR' => 10]]);

    $csv = "id,visitor,time,name,url,props.order_id,props.value,props.currency\r\n";
    foreach ($events as $one) {
        $props = (array) $one['props'];
        $csv .= implode(',', [$one['id'], $one['visitor'], $one['time'], $one['name'], $one['url'], $props['order_id'] ?? '', $props['value'] ?? '', $props['currency'] ?? ''])."\r\n";
    }
    [$table] = goalFiles($csv, '', '.csv');
    expect(json_decode($this->pellix(['goals', $table, "--goals={$file}", '--json'])->getOutput(), true)['goals'])->toBe($totals['goals'])
        ->and(json_decode($this->pellix(['goals', '-', "--goals={$file}", '--json'], $ndjson)->getOutput(), true)['goals'])->toBe($totals['goals'])
        ->and($this->pellix(['goals', $log, "--goals={$file}"])->getOutput())->toContain('10.00 EUR');
});

it('says what is wrong with an event log or its goals', function (string $log, string $goals, array $more, string $error) {
    [$logFile, $goalFile] = goalFiles($log, $goals);
    $run = $this->pellix(['goals', $logFile, "--goals={$goalFile}", ...$more]);
    expect($run->getExitCode())->toBe(2)->and($run->getErrorOutput())->toContain($error)->and($run->getOutput())->toBe('');
})->with([
    ['', '[]', [], 'At least one goal is needed'],
    ['', "{\n\"goals\": [\n{\"key\":\"x\",\n\"kind\":\"wish\"}]}", [], 'line 4: field goals.0.kind: One of page'],
    ['', '[{"key":"a","kind":"order"},{"key":"a","kind":"order"}]', [], 'field 1.key: The key "a" is taken'],
    ["{}\n", '[{"key":"a","kind":"order"}]', [], 'line 1: field id: A text of 1 to 200 characters is needed'],
    ["\n\n{", '[{"key":"a","kind":"order"}]', [], 'line 3: This line is not JSON'],
    ['', '[{"key":"a","kind":"order"}]', ['--session-minutes=0'], '--session-minutes takes a whole number'],
    ['', '[{"key":"a","kind":"order"}]', ['second.ndjson'], 'Name one event log'],
    ['', '[{"key":"a","kind":"order"}]', ['--speed=9'], 'There is no option'],
]);

it('holds another source against what the simulator writes', function () {
    $folder = sys_get_temp_dir().'/reconcile-'.getmypid();
    mkdir($folder);
    $this->pellix(['simulate', "--to={$folder}/log.ndjson", '--visitors=800', '--days=14', "--experiment-to={$folder}/experiment.json"]);
    $orders = [];
    foreach (file("{$folder}/log.ndjson") as $line) {
        $event = json_decode($line, true);
        isset($event['props']['order_id']) && $orders[$event['props']['order_id']] ??= "{$event['props']['order_id']},{$event['time']},{$event['props']['value']},{$event['props']['currency']}";
    }
    file_put_contents("{$folder}/orders.csv", "order_id,time,value,currency\n".implode("\n", $orders)."\n");
    file_put_contents("{$folder}/few.csv", "order_id,time,value,currency\n".implode("\n", array_filter($orders, fn (string $key) => crc32((string) $key) % 3 > 0, ARRAY_FILTER_USE_KEY))."\n");
    $run = fn (array $words) => $this->pellix(['reconcile', "{$folder}/log.ndjson", ...$words, "--experiment={$folder}/experiment.json"]);
    $same = $run(["{$folder}/orders.csv", '--json']);
    $few = $run(["{$folder}/few.csv"]);
    expect($same->getExitCode())->toBe(0)->and(json_decode($same->getOutput(), true)['orders']['matched'])->toBe(count($orders))
        ->and($few->getExitCode())->toBe(1)->and($few->getOutput())->toStartWith("DIFFER\n")->toContain('Missing there (')
        ->and($run(["{$folder}/nowhere.csv"])->getErrorOutput())->toContain('nowhere.csv: this file cannot be read');
    array_map(unlink(...), glob("{$folder}/*"));
    rmdir($folder);
});

it('audits what the simulator writes, in each form that is asked for', function () {
    $folder = sys_get_temp_dir().'/audit-'.getmypid();
    mkdir($folder);
    $made = $this->pellix(['simulate', "--to={$folder}/log.csv.gz", '--visitors=1500', '--seed=4', '--fault=lose:variant=short:strength=0.6', "--experiment-to={$folder}/experiment.json"]);
    expect($made->getExitCode())->toBe(0);
    $audit = fn (array $more) => $this->pellix(['audit', "{$folder}/log.csv.gz", "--experiment={$folder}/experiment.json", ...$more]);
    $json = json_decode($audit(['--json'])->getOutput(), true);
    expect(array_keys($json))->toBe(['pellix', 'engine', 'fingerprint', 'experiment', 'verdict', 'sentence', 'period', 'counts', 'exclusions', 'srm', 'findings', 'checks', 'skipped'])
        ->and($json['verdict'])->toBe('unfit')->and($json['findings'][0]['code'])->toBe('srm.overall')->and($json['findings'][0]['variant'])->toBe('short')
        ->and(array_keys($json['findings'][0]))->toBe(['identity', 'code', 'severity', 'link', 'variant', 'goal', 'event', 'page', 'segment', 'since', 'until', 'numbers', 'message', 'causes', 'next', 'consequences'])
        ->and(array_keys($json['srm']))->toBe(['overall', 'epochs', 'sequential', 'stages', 'segments']);
    $written = $audit(["--html={$folder}/report.html", "--csv={$folder}/findings.csv"]);
    expect($written->getExitCode())->toBe(1)->and(file_get_contents("{$folder}/report.html"))->toContain('<code>srm.overall</code>')->not->toContain('<script')
        ->and(file_get_contents("{$folder}/findings.csv"))->toStartWith('code,severity,link,follows_from,variant')->toContain('srm.sequential,blocker,split,srm.overall,short');
    expect($audit([])->getOutput())->toContain('UNFIT')->toContain('Do not decide on this data')->toContain('It follows: [blocker] srm.sequential')
        ->and($audit(['--until=monday'])->getErrorOutput())->toContain('--until takes a time')->and($audit(['--alpha=2'])->getExitCode())->toBe(2);
    // A log of other columns says what to do.
    file_put_contents("{$folder}/other.csv", "when;who;what;where\n1772500000;v1;pageview;https://larkhollow.localhost/loan\n");
    $other = $this->pellix(['audit', "{$folder}/other.csv", "--experiment={$folder}/experiment.json"]);
    expect($other->getExitCode())->toBe(2)->and($other->getErrorOutput())->toContain('--propose-map');
    array_map(unlink(...), glob("{$folder}/*"));
    rmdir($folder);
});
