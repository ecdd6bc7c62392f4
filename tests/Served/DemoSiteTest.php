<?php

use Demo\Library;
use GuzzleHttp\Client;
use Pellix\Core\Wiring\Html\Encoding;
use Pellix\Core\Wiring\Inspection\Expectation;
use Pellix\Core\Wiring\Inspection\Inspector;
use Pellix\Core\Wiring\Inventory\Links;
use Pellix\Core\Wiring\Inventory\Robots;
use Pellix\Core\Wiring\Inventory\Sitemap;

beforeEach(fn () => $this->client = new Client(['http_errors' => false, 'timeout' => 20, 'allow_redirects' => false]));

it('serves every page that visitors go to, with a sound snippet', function () {
    foreach (Library::paths() as $path) {
        $answer = $this->client->get($this->demo().$path);
        $codes = array_column(Inspector::inspect(Encoding::decode((string) $answer->getBody()), Expectation::of(Library::SITE_KEY))->findings, 'code');
        expect([$path, $answer->getStatusCode(), $codes])->toBe([$path, 200, []]);
    }
});

it('has the faults that Coverage is to find, and no others', function (string $path, int $status, array $codes) {
    $answer = $this->client->get($this->demo().$path);
    expect($answer->getStatusCode())->toBe($status);
    if ($status === 200) {
        expect(array_column(Inspector::inspect(Encoding::decode((string) $answer->getBody()), Expectation::of(Library::SITE_KEY))->findings, 'code'))->toBe($codes);
    }
})->with([['/about', 200, ['snippet.missing']], ['/hours', 200, ['snippet.in-body']], ['/press', 302, []], ['/old-catalogue', 404, []], ['/catalogue-evening', 200, []], ['/repairs/gone', 410, []]]);

it('links to nothing that is not there', function () {
    $looked = [];
    $queue = [$this->demo().'/'];
    while (($url = array_shift($queue)) !== null && count($looked) < 60) {
        if (isset($looked[$url]) || ! str_starts_with($url, $this->demo())) {
            continue;
        }
        $answer = $this->client->get($url);
        $looked[$url] = $answer->getStatusCode();
        if ($answer->getStatusCode() === 200) {
            array_push($queue, ...array_keys(Links::on(Encoding::decode((string) $answer->getBody()), $url)));
        }
    }
    expect(array_filter($looked, fn (int $status): bool => $status >= 400))->toBe([])->and(count($looked))->toBeGreaterThan(12);
});

it('tells crawlers what it has and what they may look at', function () {
    $robots = Robots::parse((string) $this->client->get($this->demo().'/robots.txt')->getBody(), 'Pellix');
    expect([$robots->allows('/catalogue'), $robots->allows('/repairs/sound'), $robots->allows('/loan/confirm')])->toBe([true, false, false])
        ->and($robots->sitemaps)->toBe([$this->demo().'/sitemap.xml']);
    $sitemap = Sitemap::read((string) $this->client->get($this->demo().'/sitemap.xml')->getBody());
    expect($sitemap->pages)->toContain($this->demo().'/catalogue/fennick-cello')->and($sitemap->sitemaps)->toBe([]);
});

it('hands the visitor over to a payment page that runs no script', function () {
    $pay = str_replace('larkhollow.localhost', 'pay.larkhollow.localhost', $this->demo());
    $answer = $this->client->get("{$pay}/thanks?amount=40&order=G-000017&visitor=abcdefghijklmnopqrstuvwxyz");
    expect($answer->getHeaderLine('Content-Security-Policy'))->toStartWith("default-src 'none'")
        ->and((string) $answer->getBody())->toContain('visitor=abcdefghijklmnopqrstuvwxyz&amp;order_id=G-000017&amp;value=40&amp;currency=EUR')->not->toContain('<script');
    // What is no visitor, no order and no amount is not passed on.
    $odd = (string) $this->client->get("{$pay}/thanks?amount=9&order=G-000018&visitor=".rawurlencode('"><script>'))->getBody();
    expect($odd)->not->toContain('<script')->toContain('value=20');
    expect((string) $this->client->get("{$pay}/thanks?order=x")->getBody())->not->toContain('p.gif');
});

it('gives out one runtime file a site, that is asked for again each time', function () {
    $answer = $this->client->get($this->origin().'/s/'.Library::SITE_KEY.'.js');
    expect($answer->getStatusCode())->toBe(200)->and($answer->getHeaderLine('Cache-Control'))->toBe('no-cache')
        ->and((string) $answer->getBody())->toMatch('/\Awindow\.pellixSite=\{"number":\d+,"site":"'.Library::SITE_KEY.'"/');
    expect($this->client->get($this->origin().'/s/plx_nobodyhasthiskey.js')->getStatusCode())->toBe(404)
        ->and((string) $this->client->get($this->origin().'/s/../.env')->getBody())->not->toContain('APP_KEY');
});
