<?php

declare(strict_types=1);

/*
 * Stands in for somebody's system that wants to be told: takes what it is sent, and shows the newest of it, as it came. Asked for with
 * ?answer=503 it refuses it with that state.
 *
 * @var string $kept folder for what was taken
 */

const TOLD_MOST = 50;
const TOLD_BYTES = 100_000;

$file = "{$kept}/told.ndjson";
if (($_SERVER['REQUEST_METHOD'] ?? 'GET') !== 'POST') {
    header('Content-Type: application/x-ndjson; charset=utf-8');
    is_file($file) && readfile($file);
    exit;
}
$answer = (int) ($_GET['answer'] ?? 204);
http_response_code($answer >= 200 && $answer <= 599 ? $answer : 400);
if ($answer > 299) {
    exit;
}
$headers = array_intersect_key(array_change_key_case(getallheaders()), array_flip(['host', 'content-type', 'content-digest', 'signature-input', 'signature', 'user-agent']));
$line = json_encode(['at' => gmdate('Y-m-d\TH:i:s\Z'), 'path' => $_SERVER['REQUEST_URI'] ?? '', 'headers' => $headers, 'body' => (string) file_get_contents('php://input', length: TOLD_BYTES)], JSON_INVALID_UTF8_SUBSTITUTE);
$handle = fopen($file, 'c+');
if ($handle !== false && flock($handle, LOCK_EX)) {
    $lines = array_slice(array_filter(explode("\n", (string) stream_get_contents($handle))), 1 - TOLD_MOST);
    $text = implode("\n", [...$lines, $line])."\n";
    rewind($handle);
    fwrite($handle, $text);
    ftruncate($handle, strlen($text));
}
