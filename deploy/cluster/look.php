<?php

declare(strict_types=1);

/*
 * Uses the interface's API through the balancer as somebody who is signed in: reads twice a second, and makes a goal every ten
 * seconds, until a file appears. Makes the first account and a site where there are none. Writes what was made, and at the end
 * how long at most nothing was answered.
 *
 * look.php ADDRESS SETUP-CODE FOLDER STOP
 */

[, $address, $code, $folder, $stop] = $argv;

const EMAIL = 'operator@cluster.test';
const PASSWORD = 'seven boats turn north';
const LONGEST_SECONDS = 3600;

$http = curl_init();
$ask = static function (string $method, string $path, ?array $body = null) use ($http, $address, $folder): array {
    $token = '';
    foreach ((array) curl_getinfo($http, CURLINFO_COOKIELIST) as $cookie) {
        $parts = explode("\t", (string) $cookie);
        $token = ($parts[5] ?? '') === 'XSRF-TOKEN' ? urldecode($parts[6]) : $token;
    }
    curl_setopt_array($http, [
        CURLOPT_URL => $address.$path, CURLOPT_CUSTOMREQUEST => $method, CURLOPT_RETURNTRANSFER => true, CURLOPT_TIMEOUT => 15, CURLOPT_COOKIEFILE => '', CURLOPT_POSTFIELDS => $body === null ? null : (string) json_encode($body),
        CURLOPT_HTTPHEADER => ['Accept: application/json', 'Content-Type: application/json', "Origin: {$address}", "Referer: {$address}/", "X-XSRF-TOKEN: {$token}"],
    ]);
    $text = (string) curl_exec($http);

    return [curl_getinfo($http, CURLINFO_RESPONSE_CODE), json_decode($text, true)];
};

$ask('GET', '/sanctum/csrf-cookie');
[$status] = $ask('POST', '/api/begin', ['code' => $code, 'name' => 'Operator', 'email' => EMAIL, 'password' => PASSWORD]);
if ($status !== 201) {
    [$status, $answer] = $ask('POST', '/api/session', ['email' => EMAIL, 'password' => PASSWORD]);
    $status < 300 || exit("Sign-in answered {$status}: ".json_encode($answer)."\n");
}
[, $session] = $ask('GET', '/api/session');
$key = $session['sites'][0]['key'] ?? $ask('POST', '/api/sites', ['name' => 'Cluster', 'hosts' => ['cluster.test'], 'time_zone' => 'Europe/Lisbon', 'currency' => 'EUR'])[1]['key'] ?? exit("No site could be made.\n");
file_put_contents("{$folder}/key", $key);

$made = fopen("{$folder}/goals", 'a');
$begun = $last = microtime(true);
$longest = 0.0;
$statuses = [];
for ($i = 0; ! file_exists($stop) && microtime(true) - $begun < LONGEST_SECONDS; $i++) {
    [$status, $settings] = $ask('GET', "/api/sites/{$key}/settings");
    $statuses[$status] = ($statuses[$status] ?? 0) + 1;
    if ($status === 200 && ($settings['name'] ?? '') === 'Cluster') {
        $longest = max($longest, microtime(true) - $last);
        $last = microtime(true);
    }
    if ($i % 20 === 0) {
        $name = 'Goal '.bin2hex(random_bytes(6));
        [$status] = $ask('POST', "/api/sites/{$key}/goals", ['name' => $name, 'kind' => 'event', 'event' => 'click']);
        $statuses["made {$status}"] = ($statuses["made {$status}"] ?? 0) + 1;
        $status === 201 && fwrite($made, "{$name}\n");
    }
    usleep(500_000);
}
[$status] = $ask('GET', '/api/session');
ksort($statuses);
file_put_contents("{$folder}/look", sprintf("the same session to the end: %s; longest without an answer %.1f s; answers %s\n", $status === 200 ? 'yes' : "no ({$status})", max($longest, microtime(true) - $last), json_encode($statuses)));
