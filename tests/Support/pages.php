<?php

/* Serves the pages of a test (PageServer): a path is a page, or a list of headers and a page. */

file_put_contents(getenv('PAGES').'.asked', $_SERVER['REQUEST_URI']."\n", FILE_APPEND | LOCK_EX);
$page = json_decode((string) file_get_contents((string) getenv('PAGES')), true)[parse_url($_SERVER['REQUEST_URI'], PHP_URL_PATH)] ?? null;
if ($page === null) {
    http_response_code(404);
    $page = 'Not here.';
}
[$headers, $body] = is_array($page) ? $page : [[], "<!DOCTYPE html><html><head><title>Test</title></head><body>{$page}</body></html>"];
array_walk($headers, static fn (string $header) => header($header));
echo $body;
