<?php

declare(strict_types=1);

/* The practice room: pages with faults that only a browser can find. */

use Demo\Practice\Room;

/** @var string $path @var string $host @var array{app: array{url: string}} $config */
if ($path === '/slow.js') {
    // A script that holds the page up.
    usleep(400_000);
    header('Content-Type: text/javascript');
    echo '/* slow */';
    exit;
}
$to = Room::leads($path, (string) ($_SERVER['QUERY_STRING'] ?? ''));
if ($to !== null) {
    header("Location: {$to}", true, 302);
    exit;
}
$found = Room::page($path, $host === Room::HOST ? Room::SITE_KEY : Room::ASKING_KEY, $config['app']['url']);
if ($found === null) {
    http_response_code(404);
    header('Content-Type: text/html; charset=utf-8');
    echo '<!DOCTYPE html><title>Not here</title><p>There is no such page in the practice room.';
    exit;
}
[$headers, $html] = $found;
array_walk($headers, static fn (string $header) => header($header));
echo $html;
