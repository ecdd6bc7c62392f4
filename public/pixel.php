<?php

declare(strict_types=1);

/*
 * The image pixel, for pages where no script may run: one event in the address, an image in answer. Boots no framework,
 * like collect.php.
 */

use App\Collector\Apart;
use App\Collector\Collector;
use App\Collector\Pixel;
use App\Collector\Trouble;
use Pellix\Core\Events\Origin;

require __DIR__.'/../app/Collector/autoload.php';

ini_set('display_errors', '0');

$status = 200;
try {
    $received = new DateTimeImmutable('now', new DateTimeZone('UTC'));
    $body = Pixel::beacon($_GET, (string) ($_SERVER['HTTP_REFERER'] ?? ''), $received, bin2hex(random_bytes(13)));
    $answer = Collector::open((string) getenv('PELLIX_DATA'))->take($body, (string) ($_SERVER['HTTP_USER_AGENT'] ?? ''), $received, Origin::Pixel, Apart::claimed($_GET), (string) ($_SERVER['REMOTE_ADDR'] ?? ''));
    $status = $answer->status;
} catch (Throwable $e) {
    Trouble::note('pixel', $e);
    $status = 503;
}
// A browser shows the image whatever happened; the status is for whoever checks.
http_response_code($status);
header('Content-Type: image/gif');
header('Cache-Control: no-store');
header('X-Content-Type-Options: nosniff');
echo base64_decode('R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7');
