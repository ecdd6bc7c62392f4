<?php

use Demo\Library;

/** Somebody who writes what the collector writes, from a connection of their own. */
function otherNode(): PDO
{
    $node = new PDO('mysql:unix_socket='.getenv('PELLIX_TEST_SOCKET').';dbname=pellix;charset=utf8mb4', 'pellix', (string) getenv('PELLIX_TEST_DB_PASSWORD'), [PDO::ATTR_ERRMODE => PDO::ERRMODE_EXCEPTION]);
    // Reading what to write must lock nothing, which the collector does not either.
    $node->exec('set session transaction isolation level read committed');

    return $node;
}

/** Stores another event like one that is there, and tells the workers. @return int the number of what they are told by */
function storeAnother(PDO $node, string $like, string $id, ?int $number = null): int
{
    foreach (['event_ids', 'events'] as $table) {
        $columns = $node->query("select group_concat(concat('`', column_name, '`') order by ordinal_position) from information_schema.columns where table_schema = database() and table_name = '{$table}' and extra not like '%auto_increment%'")->fetchColumn();
        $node->exec("insert into {$table} ({$columns}) select ".str_replace('`event_id`', "'{$id}'", $columns)." from {$table} where event_id = '{$like}'");
    }
    $node->exec('insert into arrivals (id, site_id, visitor, kind, content, received)
        select '.($number ?? 'null').", e.site_id, e.visitor, 'events', '[\"{$id}\"]', utc_timestamp(3) from events e join sites s on s.id = e.site_id where s.`key` = '".Library::SITE_KEY."' and e.event_id = '{$id}'");

    return $number ?? (int) $node->lastInsertId();
}

it('counts once what a transaction of a minute commits after thousands of later ones', function () {
    $name = uniqid('late_');
    $this->beacon([$this->event("{$name}-first", ['name' => $name, 'visitor' => $name])]);
    expect($this->counted($name, 1))->toBe(1);

    // The numbers are given out now.
    $slow = otherNode();
    $slow->exec('start transaction');
    $id = "{$name}-slow";
    $number = storeAnother($slow, "{$name}-first", $id);
    $commitAt = microtime(true) + 60;

    $sent = 0;
    while (microtime(true) < $commitAt) {
        for ($beacon = 0; $beacon < 10; $beacon++, $sent += 100) {
            $this->beacon(array_map(fn (int $i): array => $this->event("{$name}-".($sent + $i), ['name' => $name, 'visitor' => "v{$beacon}"]), range(1, 100)));
        }
        sleep(5);
    }
    expect($sent)->toBeGreaterThan(4000)
        ->and($this->counted($name, $sent + 1))->toBe($sent + 1)
        ->and((int) $this->scalar('select coalesce(min(id), ?) from arrivals', $number + 1))->toBeGreaterThan($number);

    $slow->exec('commit');
    expect($this->counted($name, $sent + 2))->toBe($sent + 2)
        ->and((int) $this->scalar('select events from visitors where visitor = ?', $name))->toBe(2);

    // Sent again, it is known.
    $again = json_decode((string) $this->beacon([$this->event($id, ['name' => $name, 'visitor' => $name])])->getBody(), true);
    expect($again)->toBe(['accepted' => 0, 'repeated' => 1, 'rejected' => []]);
    sleep(2);
    expect($this->counted($name, $sent + 2))->toBe($sent + 2);
});

it('counts what other nodes of a cluster number out of order', function () {
    $name = uniqid('cluster_');
    $this->beacon([$this->event("{$name}-first", ['name' => $name, 'visitor' => $name])]);
    expect($this->counted($name, 1))->toBe(1);
    $highest = storeAnother(otherNode(), "{$name}-first", "{$name}-next");
    expect($this->counted($name, 2))->toBe(2);

    // Numbers far below what was taken in already, the higher ones first.
    [$one, $two] = [otherNode(), otherNode()];
    foreach ([3, 1, 2] as $i => $back) {
        storeAnother($i % 2 === 0 ? $one : $two, "{$name}-first", "{$name}-back-{$back}", $highest - 4 + $back);
        expect($this->counted($name, 3 + $i))->toBe(3 + $i);
    }
    expect((int) $this->scalar('select events from visitors where visitor = ?', $name))->toBe(5);
});
