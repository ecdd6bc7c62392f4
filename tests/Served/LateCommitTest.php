<?php

use Demo\Library;

it('counts once what a slow transaction commits after thousands of later ones', function () {
    $name = uniqid('late_');
    $this->beacon([$this->event("{$name}-first", ['name' => $name, 'visitor' => $name])]);
    expect($this->counted($name, 1))->toBe(1);

    // What the collector writes, by somebody who takes a minute to commit it; the numbers are given out now.
    $slow = new PDO('mysql:unix_socket='.getenv('PELLIX_TEST_SOCKET').';dbname=pellix;charset=utf8mb4', 'pellix', (string) getenv('PELLIX_TEST_DB_PASSWORD'), [PDO::ATTR_ERRMODE => PDO::ERRMODE_EXCEPTION]);
    $id = "{$name}-slow";
    // Reading what to write must lock nothing, which the collector does not either.
    $slow->exec('set session transaction isolation level read committed');
    $slow->exec('start transaction');
    foreach (['event_ids', 'events'] as $table) {
        $columns = $slow->query("select group_concat(concat('`', column_name, '`') order by ordinal_position) from information_schema.columns where table_schema = database() and table_name = '{$table}' and extra not like '%auto_increment%'")->fetchColumn();
        $slow->exec("insert into {$table} ({$columns}) select ".str_replace('`event_id`', "'{$id}'", $columns)." from {$table} where event_id = '{$name}-first'");
    }
    $slow->exec('insert into arrivals (site_id, visitor, kind, content, received) select id, "'.$name.'", "events", \'["'.$id.'"]\', utc_timestamp(3) from sites where `key` = "'.Library::SITE_KEY.'"');
    $number = (int) $slow->lastInsertId();

    for ($beacon = 0; $beacon < 40; $beacon++) {
        $this->beacon(array_map(fn (int $i): array => $this->event("{$name}-{$beacon}-{$i}", ['name' => $name, 'visitor' => "v{$beacon}"]), range(1, 100)));
    }
    expect($this->counted($name, 4001))->toBe(4001)
        ->and((int) $this->scalar('select coalesce(min(id), ?) from arrivals', $number + 1))->toBeGreaterThan($number);

    $slow->exec('commit');
    expect($this->counted($name, 4002))->toBe(4002)
        ->and((int) $this->scalar('select events from visitors where visitor = ?', $name))->toBe(2);

    // Sent again, it is known.
    $again = json_decode((string) $this->beacon([$this->event($id, ['name' => $name, 'visitor' => $name])])->getBody(), true);
    expect($again)->toBe(['accepted' => 0, 'repeated' => 1, 'rejected' => []]);
    sleep(2);
    expect($this->counted($name, 4002))->toBe(4002);
});
