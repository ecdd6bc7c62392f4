<?php

declare(strict_types=1);

/*
 * The collector's front controller: the hot path. It boots no framework: it finds classes, reads the cached configuration,
 * and talks to the database.
 */

use App\Collector\Answer;
use App\Collector\Apart;
use App\Collector\Collector;
use App\Collector\Trouble;
use Pellix\Core\Events\Beacon;

require __DIR__.'/../app/Collector/autoload.php';

ini_set('display_errors', '0');

$answer = match ($_SERVER['REQUEST_METHOD']) {
    'OPTIONS' => Answer::preflight(),
    'POST' => (static function (): Answer {
        try {
            // One byte more than is allowed is enough to know that it is too much.
            $body = (string) file_get_contents('php://input', false, null, 0, Beacon::MOST_BYTES + 1);
            $collector = Collector::open((string) getenv('PELLIX_DATA'));

            return $collector->take($body, (string) ($_SERVER['HTTP_USER_AGENT'] ?? ''), new DateTimeImmutable('now', new DateTimeZone('UTC')), claim: Apart::claimed($_GET), address: (string) ($_SERVER['REMOTE_ADDR'] ?? ''));
        } catch (Throwable $e) {
            Trouble::note('collector', $e);

            return Answer::unavailable();
        }
    })(),
    default => Answer::refused(405, 'method', 'Beacons are sent with POST.'),
};

$answer->send();
