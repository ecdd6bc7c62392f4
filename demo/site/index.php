<?php

declare(strict_types=1);

/* The demo site's front controller. Its pages carry the snippet exactly as the interface gives it out. */

use Demo\Library;
use Demo\Practice\Room;
use Demo\Repairs;
use Pellix\Core\Wiring\Snippet;
use Pellix\Core\Wiring\SnippetForms;

require dirname(__DIR__, 2).'/vendor/autoload.php';

$path = (string) parse_url((string) ($_SERVER['REQUEST_URI'] ?? '/'), PHP_URL_PATH);
/** @var array{app: array{url: string}, pellix: array{demo_origin: string, published: string}} $config */
$config = require getenv('PELLIX_DATA').'/cache/config.php';
$origin = $config['pellix']['demo_origin'];
$payOrigin = str_replace(Library::HOST, Library::PAY_HOST, $origin);
$snippet = Snippet::loader(Library::SITE_KEY, $config['app']['url']);
$e = static fn (string $text): string => htmlspecialchars($text, ENT_QUOTES);

$host = (string) preg_replace('/:\d+\z/', '', strtolower((string) ($_SERVER['HTTP_HOST'] ?? '')));
if ($host === Library::PAY_HOST) {
    $pixel = array_column(SnippetForms::all(Library::SITE_KEY, $config['app']['url']), 'text', 'key')['pixel'];
    require __DIR__.'/pay.php';
    exit;
}
if ($host === Library::DESK_HOST) {
    if ($path === '/told') {
        $kept = dirname($config['pellix']['published']);
        require __DIR__.'/told.php';
        exit;
    }
    require __DIR__.'/desk.php';
    exit;
}
if ($host === Room::HOST || $host === Room::ASKING_HOST) {
    require __DIR__.'/practice.php';
    exit;
}
if ($path === '/robots.txt') {
    header('Content-Type: text/plain; charset=utf-8');
    echo "User-agent: *\nDisallow: /repairs/\nDisallow: /loan/confirm\n\nSitemap: {$origin}/sitemap.xml\n";
    exit;
}
if ($path === '/sitemap.xml') {
    header('Content-Type: application/xml; charset=utf-8');
    echo "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<urlset xmlns=\"http://www.sitemaps.org/schemas/sitemap/0.9\">\n";
    foreach (Library::listed() as $listed) {
        echo "  <url><loc>{$e($origin.$listed)}</loc></url>\n";
    }
    echo "</urlset>\n";
    exit;
}
if ($path === '/press') {
    header("Location: {$origin}/about", true, 302);
    exit;
}

// Pages with faults in their wiring, to try the inspection on.
$repair = str_starts_with($path, '/repairs/') ? [...Repairs::pages($config['app']['url']), ...Repairs::deliveries($config['app']['url'])][substr($path, 9)] ?? null : null;
if ($repair !== null) {
    http_response_code($repair[2]['status'] ?? 200);
    foreach ($repair[2]['headers'] ?? [] as $name => $value) {
        header("{$name}: {$value}");
    }
    echo $repair[1];
    exit;
}
// A page that the browser tests put the snippet onto, as a developer would.
$pasted = dirname($config['pellix']['published']).'/pasted.html';
if ($path === '/workbench' && is_file($pasted)) {
    readfile($pasted);
    exit;
}

$instrument = null;
if (preg_match('~\A/catalogue/([a-z-]+)\z~', $path, $m) === 1 && isset(Library::INSTRUMENTS[$m[1]])) {
    [$page, $instrument] = ['instrument', $m[1]];
} else {
    $page = [
        '/' => 'home', '/catalogue' => 'catalogue', '/catalogue-evening' => 'catalogue-evening', '/loan' => 'loan', '/loan/details' => 'loan-details',
        '/loan/confirm' => 'loan-confirm', '/loan/done' => 'loan-done', '/join' => 'join', '/join/done' => 'join-done', '/workshops' => 'workshops',
        '/donate' => 'donate', '/donate/thanks' => 'donate-thanks', '/about' => 'about', '/hours' => 'hours',
    ][$path] ?? 'missing';
}
http_response_code($page === 'missing' ? 404 : 200);

ob_start();
$title = (require __DIR__."/pages/{$page}.php");
$content = ob_get_clean();
// Two pages were made by other hands: one without the snippet, one with the snippet at the end of the body.
$inHead = ['about' => '', 'hours' => ''][$page] ?? $snippet;
$inBody = $page === 'hours' ? $snippet : '';
require __DIR__.'/layout.php';
