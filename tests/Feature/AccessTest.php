<?php

use Illuminate\Support\Facades\Route;

it('signs in with the right password only, and out again', function () {
    $person = $this->makePerson($this->makeSite());
    $origin = ['Origin' => config('app.url'), 'Referer' => config('app.url').'/'];
    $this->postJson('/api/session', ['email' => $person->email, 'password' => 'wrong'], $origin)->assertStatus(422)->assertJsonValidationErrors('password');
    $this->postJson('/api/session', ['email' => 'nobody', 'password' => ''], $origin)->assertStatus(422)->assertJsonValidationErrors(['email', 'password']);
    $this->postJson('/api/session', ['email' => ['x'], 'password' => ['x']], $origin)->assertStatus(422);
    $this->getJson('/api/session', $origin)->assertStatus(401);
    $this->postJson('/api/session', ['email' => $person->email, 'password' => 'a password'], $origin)->assertOk()->assertJsonPath('sites.0.name', 'Shop');
    $this->getJson('/api/session', $origin)->assertOk()->assertJsonPath('email', $person->email);
    $this->deleteJson('/api/session', [], $origin)->assertNoContent();
    $this->app['auth']->forgetGuards();
    $this->getJson('/api/session', $origin)->assertStatus(401);
});

it('slows guessing down', function () {
    $person = $this->makePerson($this->makeSite());
    $origin = ['Origin' => config('app.url'), 'Referer' => config('app.url').'/'];
    foreach (range(1, 5) as $try) {
        $this->postJson('/api/session', ['email' => $person->email, 'password' => "guess {$try}"], $origin)->assertStatus(422);
    }
    $this->postJson('/api/session', ['email' => strtoupper($person->email), 'password' => 'a password'], $origin)->assertStatus(429);
});

it('lets nobody in without signing in: every route but sign-in', function () {
    $this->makeSite();
    $checked = 0;
    foreach (Route::getRoutes() as $route) {
        $isForStrangers = in_array($route->uri(), ['api/session/code', 'api/password-resets', 'api/password-resets/{token}', 'api/invitations/{token}', 'api/begin', 'api/sign-in-ways'], true) || ($route->uri() === 'api/session' && in_array('POST', $route->methods(), true));
        if (! str_starts_with($route->uri(), 'api/') || $isForStrangers) {
            continue;
        }
        $path = '/'.preg_replace('/\{\w+\}/', '1', str_replace(['{site}', '{experiment}', '{format}'], [self::SITE, 'x', 'json'], $route->uri()));
        $this->json($route->methods()[0], $path)->assertStatus(401);
        // Nor does it fail for whoever says nothing of JSON, or wants something else.
        $this->call($route->methods()[0], $path, server: ['HTTP_ACCEPT' => 'text/html'])->assertStatus(401);
        $checked++;
    }
    expect($checked)->toBeGreaterThan(12);
});

it('hides other people\'s sites', function () {
    $own = $this->makeSite();
    $foreign = $this->makeSite('plx_featuretests0002');
    $stranger = $this->makePerson($own);
    $checked = 0;
    foreach (Route::getRoutes() as $route) {
        if (str_starts_with($route->uri(), 'api/sites/')) {
            $path = '/'.str_replace(['{site}', '{experiment}'], [$foreign->key, 'x'], $route->uri());
            $this->as($stranger, $route->methods()[0], $path)->assertStatus(404);
            $checked++;
        }
    }
    expect($checked)->toBeGreaterThan(8);
});

it('gives out the snippet and describes the site', function () {
    $site = $this->makeSite();
    $this->as($this->makePerson($site), 'GET', "/api/sites/{$site->key}")->assertOk()->assertJsonPath('hosts', ['shop.test']);
    expect($site->snippet())->toContain($site->key)->toContain(config('app.url')."/s/{$site->key}.js");
});

it('may not be framed, and loads nothing from elsewhere', function () {
    $this->get('/sites/x/bench')->assertOk()->assertHeader('Content-Security-Policy')->assertSee('root', false);
    expect($this->get('/')->headers->get('Content-Security-Policy'))->toContain("frame-ancestors 'none'")->toContain("default-src 'self'");
});

it('keeps to https where its address is https: cookies, links, and for a year (RFC 6797)', function () {
    expect($this->get('/')->headers->has('Strict-Transport-Security'))->toBeFalse();
    config(['app.url' => 'https://pellix.example']);
    expect($this->get('/')->headers->get('Strict-Transport-Security'))->toBe('max-age=31536000; includeSubDomains');
    $before = $_SERVER['APP_URL'] ?? null;
    foreach (['https://pellix.example' => [true, '__Host-'], 'http://localhost:8900' => [false, 'pellix']] as $address => [$isSecure, $name]) {
        [$_SERVER['APP_URL'], $_ENV['APP_URL']] = [$address, $address];
        $session = require config_path('session.php');
        expect($session['secure'])->toBe($isSecure)->and($session['cookie'])->toStartWith($name)->and($session['http_only'])->toBeTrue()->and($session['same_site'])->toBe('lax');
    }
    [$_SERVER['APP_URL'], $_ENV['APP_URL']] = [$before, $before];
});
