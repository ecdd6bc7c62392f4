<?php

beforeEach(function () {
    $this->site = $this->makeSite();
    $this->person = $this->makePerson($this->site);
    $this->inspect = fn (array $body) => $this->as($this->person, 'POST', "/api/sites/{$this->site->key}/inspections", $body);
});

it('inspects pasted HTML for the site\'s own snippet', function () {
    ($this->inspect)(['html' => "<head>{$this->site->snippet()}"])->assertOk()->assertExactJson(['source' => null, 'verdict' => 'sound', 'findings' => []]);
    $html = "\n\n<p>Ünder way {$this->site->snippet()}";
    ($this->inspect)(['html' => $html])->assertOk()->assertJsonPath('verdict', 'doubt')
        ->assertJsonPath('findings.0.code', 'snippet.in-body')->assertJsonPath('findings.0.line', 3)->assertJsonPath('findings.0.column', 14);
    ($this->inspect)(['html' => '<p>Nothing', 'guard' => true])->assertOk()->assertJsonPath('findings.0.code', 'snippet.missing');
    ($this->inspect)(['html' => "<head>{$this->site->snippet()}", 'policy' => "default-src 'self'"])->assertOk()->assertJsonPath('findings.0.code', 'snippet.csp-blocked');
});

it('complains at the field', function (array $body, string $field) {
    ($this->inspect)($body)->assertStatus(422)->assertJsonValidationErrors($field);
})->with([
    [[], 'html'], [['html' => ''], 'html'], [['html' => ['x']], 'html'], [['html' => 7], 'html'], [['html' => str_repeat('x', 5_000_001)], 'html'],
    [['url' => ['x']], 'url'], [['html' => '<p>', 'guard' => 'perhaps'], 'guard'], [['html' => '<p>', 'policy' => str_repeat('x', 8001)], 'policy'],
]);

/** Has the fetcher meet these answers, one after the other. */
function answers(bool $privateAllowed, mixed ...$queue): void
{
    $client = new GuzzleHttp\Client(['handler' => GuzzleHttp\HandlerStack::create(new GuzzleHttp\Handler\MockHandler($queue))]);
    app()->bind(App\Fetching\PageFetcher::class, fn () => new App\Fetching\PageFetcher($client, $privateAllowed));
}

function page(string $body, array $headers = ['Content-Type' => 'text/html'], int $status = 200): GuzzleHttp\Psr7\Response
{
    return new GuzzleHttp\Psr7\Response($status, $headers, $body);
}

beforeEach(fn () => $this->site->update(['hosts' => ['shop.localhost', '127.0.0.1', '10.0.0.7']]));

it('inspects a page by its address, with what its answer says', function () {
    $snippet = "<head>{$this->site->snippet()}";
    answers(true, page('', ['Location' => '/new'], 301), page($snippet, ['Content-Type' => 'text/html', 'Content-Security-Policy' => "script-src 'self'"]), page('x', status: 404), page('{}', ['Content-Type' => 'application/json']));
    $codes = fn (): array => ($this->inspect)(['url' => 'http://shop.localhost/old'])->assertOk()->json('findings.*.code');
    expect($codes())->toBe(['page.redirected', 'snippet.csp-blocked'])->and($codes())->toBe(['page.unreachable'])->and($codes())->toBe(['page.not-html']);
});

it('fetches nothing that is not the site\'s own, or inside of a private network', function (string $url, bool $privateAllowed, string $why) {
    answers($privateAllowed, page('', ['Location' => 'http://elsewhere.test/'], 302), page('<p>never'));
    $finding = ($this->inspect)(['url' => $url])->assertOk()->json('findings.0');
    expect($finding['code'])->toBe('page.unreachable')->and($finding['message'])->toContain($why);
})->with([
    ['http://elsewhere.test/', true, 'none of this site'],
    ['ftp://shop.localhost/', true, 'only addresses with http or https'],
    ['file:///etc/passwd', true, 'only addresses with http or https'],
    ['http://user@shop.localhost/', true, 'only addresses with http or https'],
    ['http://shop.localhost\\@elsewhere.test/', true, 'only addresses with http or https'],
    ['//shop.localhost/', true, 'only addresses with http or https'],
    ['http://shop.localhost/', false, 'inside of a private network'],
    ['http://127.0.0.1/', false, 'inside of a private network'],
    ['http://10.0.0.7/', false, 'inside of a private network'],
    ['http://shop.localhost/', true, 'none of this site'],
]);

it('takes no more than 5 MB, unpacked', function () {
    $stream = new App\Fetching\CappedStream(GuzzleHttp\Psr7\Utils::streamFor(fopen('php://temp', 'w+')), 10);
    expect($stream->write('12345'))->toBe(5)->and(fn () => $stream->write('678901'))->toThrow(App\Fetching\FetchFailed::class);
});
