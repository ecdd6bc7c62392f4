<?php

declare(strict_types=1);

/* The demo site's front controller. Its pages carry the snippet exactly as the interface gives it out. */

use Demo\Library;
use Demo\Repairs;
use Pellix\Core\Wiring\Snippet;

require dirname(__DIR__, 2).'/vendor/autoload.php';

$path = (string) parse_url((string) ($_SERVER['REQUEST_URI'] ?? '/'), PHP_URL_PATH);
$instrument = null;
if (preg_match('~\A/catalogue/([a-z-]+)\z~', $path, $m) === 1 && isset(Library::INSTRUMENTS[$m[1]])) {
    [$page, $instrument] = ['instrument', $m[1]];
} else {
    $page = [
        '/' => 'home', '/catalogue' => 'catalogue', '/loan' => 'loan', '/loan/details' => 'loan-details', '/loan/confirm' => 'loan-confirm',
        '/loan/done' => 'loan-done', '/join' => 'join', '/join/done' => 'join-done', '/workshops' => 'workshops', '/donate' => 'donate',
        '/donate/thanks' => 'donate-thanks',
    ][$path] ?? 'missing';
}
/** @var array{app: array{url: string}} $config */
$config = require getenv('PELLIX_DATA').'/cache/config.php';

// Pages with faults in their wiring, to try the inspection on.
$repair = str_starts_with($path, '/repairs/') ? Repairs::pages($config['app']['url'])[substr($path, 9)] ?? null : null;
if ($repair !== null) {
    echo $repair[1];
    exit;
}
http_response_code($page === 'missing' ? 404 : 200);
$snippet = Snippet::loader(Library::SITE_KEY, $config['app']['url']);
$e = static fn (string $text): string => htmlspecialchars($text, ENT_QUOTES);

ob_start();
$title = (require __DIR__."/pages/{$page}.php");
$content = ob_get_clean();
require __DIR__.'/layout.php';
