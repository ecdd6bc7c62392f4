<?php

declare(strict_types=1);

namespace Bench;

use GuzzleHttp\Client;
use GuzzleHttp\Cookie\CookieJar;

/** Asks for what the views of the interface ask for, as somebody who is signed in. */
final readonly class Views
{
    private const ASKED = 60;
    private const MILLISECONDS = 150;

    private Client $client;

    public function __construct(string $origin, string $password, private string $site)
    {
        $jar = new CookieJar();
        $this->client = new Client(['base_uri' => $origin, 'cookies' => $jar, 'headers' => ['Accept' => 'application/json', 'Referer' => "{$origin}/"]]);
        $this->client->get('/sanctum/csrf-cookie');
        $token = urldecode((string) $jar->getCookieByName('XSRF-TOKEN')?->getValue());
        $this->client->post('/api/session', ['json' => ['email' => 'ines@larkhollow.example', 'password' => $password], 'headers' => ['X-XSRF-TOKEN' => $token]]);
    }

    /** @param array<string, string> $views name => path below the site */
    public function measure(Report $report, array $views): void
    {
        foreach ($views as $view => $path) {
            $times = [];
            for ($i = 0; $i < self::ASKED; $i++) {
                $begin = hrtime(true);
                $this->client->get("/api/sites/{$this->site}{$path}")->getBody()->getContents();
                $times[] = (hrtime(true) - $begin) / 1e6;
            }
            sort($times);
            $p95 = $times[(int) ceil(0.95 * self::ASKED) - 1];
            $report->line("view: {$view}, 95th percentile of ".self::ASKED, sprintf('%.0f ms', $p95), 'under '.self::MILLISECONDS.' ms', $p95 < self::MILLISECONDS);
        }
    }
}
