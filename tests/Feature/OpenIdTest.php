<?php

use App\Models\SecurityEvent;
use App\Models\User;
use App\SignIn\OpenId;
use GuzzleHttp\Client;
use Tests\Support\StandInProvider;

beforeEach(function () {
    config(['signing_in.openid' => ['name' => 'Harbour login', 'issuer' => StandInProvider::ISSUER, 'client_id' => StandInProvider::CLIENT, 'client_secret' => StandInProvider::SECRET]]);
    $this->provider = new StandInProvider();
    $this->app->bind(OpenId::class, fn (): OpenId => new OpenId(new Client(['handler' => $this->provider]), app('cache.store')));
    app('cache.store')->clear();
    $this->ana = User::factory()->create(['email' => 'ana@shop.test']);
    $this->begin = fn (string $to = '/sites/x/bench'): string => (string) $this->get('/sign-in/with?to='.urlencode($to))->assertRedirect()->headers->get('Location');
    $this->who = fn (): int => $this->signedOut()->getJson('/api/session', ['Origin' => config('app.url'), 'Referer' => config('app.url').'/'])->getStatusCode();
});

it('lets in whom the provider means, with PKCE, state and nonce, and knows them again by number', function () {
    $address = ($this->begin)();
    parse_str((string) parse_url($address, PHP_URL_QUERY), $asked);
    expect($address)->toStartWith(StandInProvider::ISSUER.'/authorize?')->and($asked['code_challenge_method'])->toBe('S256')->and($asked['scope'])->toBe('openid email profile')->and(strlen($asked['state']))->toBeGreaterThan(20)->and($asked['nonce'])->toHaveLength(32);
    $before = session()->getId();
    $this->get($this->provider->agree($address))->assertRedirect('/sites/x/bench');
    expect(($this->who)())->toBe(200)->and(session()->getId())->not->toBe($before)->and($this->ana->refresh()->openid_subject)->toBe('number-7')
        ->and(SecurityEvent::query()->latest('id')->value('note'))->toBe('single-sign-on');
    // Their address there may change; whoever has that address now is somebody else.
    $this->provider->lies = ['email' => 'new@shop.test'];
    $this->get($this->provider->agree(($this->begin)()))->assertRedirect('/sites/x/bench');
    $this->provider->lies = ['sub' => 'number-8', 'email' => 'ana@shop.test'];
    $this->get($this->provider->agree(($this->begin)()))->assertRedirect('/sign-in?problem=unknown');
    $this->getJson('/api/sign-in-ways')->assertExactJson(['single_sign_on' => 'Harbour login']);
});

it('lets nobody in by a token that does not stand every check', function (array $lies, string $algorithm = 'RS256') {
    $this->provider->lies = $lies;
    $this->provider->algorithm = $algorithm;
    $this->get($this->provider->agree(($this->begin)()))->assertRedirect('/sign-in?problem=provider');
    expect(($this->who)())->toBe(401)->and(SecurityEvent::query()->where('matter', 'sign-in-refused')->count())->toBe(1);
})->with([
    'another issuer' => [['iss' => 'https://evil.example']], 'another client' => [['aud' => 'somebody-else']], 'several, asked for by another' => [['aud' => [StandInProvider::CLIENT, 'b'], 'azp' => 'b']],
    'several, and nobody asked' => [['aud' => [StandInProvider::CLIENT, 'b']]], 'over' => [['exp' => time() - 600]], 'no end' => [['exp' => null]], 'of another sign-in' => [['nonce' => 'another']], 'no nonce' => [['nonce' => null]],
    'nobody' => [['sub' => '']], 'not yet' => [['nbf' => time() + 3600]], 'unsigned' => [[], 'none'], 'signed with what is public' => [[], 'HS256'],
]);

it('lets nobody in by a key that the provider never published', function () {
    $this->get($this->provider->agree(($this->begin)()));
    $this->provider->forge();
    $this->get($this->provider->agree(($this->begin)()))->assertRedirect('/sign-in?problem=provider');
});

it('takes an answer once, in this browser, in time, and of this provider', function () {
    $this->get('/sign-in/back?code=x&state=y')->assertRedirect('/sign-in?problem=expired');
    $answer = $this->provider->agree($first = ($this->begin)());
    $this->get($answer)->assertRedirect('/sites/x/bench');
    $this->signedOut()->get($answer)->assertRedirect('/sign-in?problem=expired');
    ($this->begin)();
    $this->get($this->provider->agree($first))->assertRedirect('/sign-in?problem=expired');
    $this->get($this->provider->agree(($this->begin)(), ['iss' => 'https://evil.example']))->assertRedirect('/sign-in?problem=provider');
    $this->get($this->provider->agree(($this->begin)(), ['error' => 'access_denied']))->assertRedirect('/sign-in?problem=refused');
    $late = $this->provider->agree(($this->begin)());
    $this->travel(11)->minutes();
    $this->get($late)->assertRedirect('/sign-in?problem=expired');
});

it('makes no accounts, trusts no address that is not verified, and sends nobody elsewhere', function () {
    $this->provider->lies = ['email' => 'stranger@shop.test', 'sub' => 'number-9'];
    $this->get($this->provider->agree(($this->begin)()))->assertRedirect('/sign-in?problem=unknown');
    $this->provider->lies = ['email_verified' => false];
    $this->get($this->provider->agree(($this->begin)()))->assertRedirect('/sign-in?problem=unknown');
    $this->provider->lies = [];
    $this->ana->forceFill(['deactivated_at' => now('UTC')])->save();
    $this->get($this->provider->agree(($this->begin)()))->assertRedirect('/sign-in?problem=unknown');
    $this->ana->forceFill(['deactivated_at' => null])->save();
    foreach (['https://evil.example', '//evil.example', '/\\evil.example'] as $to) {
        $this->get($this->provider->agree(($this->begin)($to)))->assertRedirect('/');
    }
    expect(User::query()->count())->toBe(1);
});

it('is not there where nobody has named a provider', function () {
    config(['signing_in.openid.issuer' => null]);
    $this->get('/sign-in/with')->assertNotFound();
    $this->get('/sign-in/back')->assertNotFound();
    $this->getJson('/api/sign-in-ways')->assertExactJson(['single_sign_on' => null]);
});
