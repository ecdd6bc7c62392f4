<?php

declare(strict_types=1);

/*
 * What the collector is measured against: a bare script that inserts the same rows, on the same nginx and php-fpm, and does
 * nothing else. Served by `bin/pellix bench` only.
 */

$config = require getenv('PELLIX_DATA').'/cache/config.php';
['unix_socket' => $socket, 'database' => $name, 'username' => $user, 'password' => $password] = $config['database']['connections']['mariadb'];
$db = new PDO("mysql:unix_socket={$socket};dbname={$name};charset=utf8mb4", $user, $password, [PDO::ATTR_ERRMODE => PDO::ERRMODE_EXCEPTION]);
$events = json_decode((string) file_get_contents('php://input'), true)['events'];
$values = [];
foreach ($events as $event) {
    $moment = str_replace(['T', 'Z'], [' ', ''], $event['time']);
    array_push($values, 1, $event['visitor'], $moment, $event['id'], $moment, $event['name'], $event['url'], crc32($event['url']), '', $event['visitor'], json_encode($event['props']));
}
$db->beginTransaction();
$db->prepare('insert into events (site_id, visitor, time, event_id, received, name, url, page, agent, unit, props) values '.implode(',', array_fill(0, count($events), '(?,?,?,?,?,?,?,?,?,?,?)')))->execute($values);
$db->commit();
header('Content-Type: application/json');
echo '{"accepted":'.count($events).'}';
