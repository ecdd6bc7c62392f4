<?php

use App\Models\AccountLink;
use App\Models\KeptMail;
use App\Models\SecurityEvent;
use App\Models\SignIn;
use App\Models\User;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\Artisan;
use Pellix\Core\SignIn\Base32;
use Pellix\Core\SignIn\TimeCode;

const GOOD_PASSWORD = 'quiet harbour moss lantern';

beforeEach(function () {
    $this->site = $this->makeSite();
    $this->person = $this->makePerson($this->site);
    $this->origin = ['Origin' => config('app.url'), 'Referer' => config('app.url').'/'];
    // Each request finds out anew who asks, as it does in a process of its own.
    $this->ask = function (string $method, string $path, array $body = []): Illuminate\Testing\TestResponse {
        $this->signedOut();
        $response = $this->json($method, $path, $body, $this->origin);
        Tests\Support\OpenApi::check($method, $path, $response->getStatusCode(), (string) $response->getContent());

        return $response;
    };
    $this->signIn = fn (?User $as = null, string $password = 'a password'): Illuminate\Testing\TestResponse => ($this->ask)('POST', '/api/session', ['email' => ($as ?? $this->person)->email, 'password' => $password]);
    $this->logged = fn (): array => SecurityEvent::query()->orderBy('id')->get()->map(fn (SecurityEvent $one): string => $one->matter->value)->all();
    $this->codes = function (): TimeCode {
        $secret = ($this->ask)('POST', '/api/account/codes')->assertCreated()->json('secret');

        return new TimeCode((string) Base32::decode($secret));
    };
    $this->now = fn (TimeCode $code, int $later = 0): string => $code->at(TimeCode::step(CarbonImmutable::now()->getTimestamp()) + $later);
    $this->switchOn = function (): array {
        ($this->signIn)()->assertOk();
        $code = ($this->codes)();
        $recovery = ($this->ask)('PUT', '/api/account/codes', ['code' => ($this->now)($code)])->assertOk()->json('recovery_codes');
        ($this->ask)('DELETE', '/api/session')->assertNoContent();
        $this->travel(2)->minutes();

        return [$code, $recovery];
    };
});

it('compares names as they are written, but for capitals', function () {
    $this->person->update(['email' => 'ines@shop.test']);
    ($this->ask)('POST', '/api/session', ['email' => 'ínes@shop.test', 'password' => 'a password'])->assertStatus(422);
    ($this->ask)('POST', '/api/session', ['email' => ' Ines@Shop.test', 'password' => 'a password'])->assertOk();
    // Both may have an account.
    User::factory()->create(['email' => 'ínes@shop.test']);
    expect(User::query()->where('email', 'ines@shop.test')->count())->toBe(1);
});

it('gives another session to whoever signs in, and none to whoever fails', function () {
    $before = session()->getId();
    ($this->signIn)(null, 'wrong')->assertStatus(422);
    ($this->ask)('GET', '/api/session')->assertStatus(401);
    ($this->signIn)()->assertOk();
    expect(session()->getId())->not->toBe($before)->and(session()->getId())->toHaveLength(40);
    ($this->ask)('GET', '/api/session')->assertOk();
    expect(($this->logged)())->toBe(['sign-in-refused', 'signed-in']);
});

it('answers the same for an account that is not there, stops guessing at both alike, and by the client', function () {
    $answers = [];
    foreach ([$this->person->email, 'nobody@shop.test'] as $email) {
        foreach (range(1, 6) as $try) {
            $answer = ($this->ask)('POST', '/api/session', ['email' => $email, 'password' => "guess {$try}"]);
            $answers[$email][] = [$answer->getStatusCode(), preg_replace('/\d+ s/', 'N s', (string) $answer->getContent())];
        }
    }
    expect($answers[$this->person->email])->toBe($answers['nobody@shop.test'])->and(array_column($answers['nobody@shop.test'], 0))->toBe([422, 422, 422, 422, 422, 429]);
    // Nor is the right password taken now, from wherever.
    ($this->signIn)()->assertStatus(429)->assertHeader('Retry-After');
    $this->travel(61)->seconds();
    ($this->signIn)()->assertOk();
    foreach (range(1, 31) as $one) {
        $last = ($this->ask)('POST', '/api/session', ['email' => "person{$one}@shop.test", 'password' => 'x'])->getStatusCode();
    }
    expect($last)->toBe(429);
    ($this->signIn)()->assertStatus(429);
    expect(($this->logged)())->toContain('sign-in-slowed');
});

it('closes an account for passwords after a hundred wrong ones in a row, until a link by mail opens it', function () {
    foreach (range(1, 100) as $try) {
        $try % 5 === 1 && $this->travel(61)->minutes();
        $this->travel(0)->seconds();
        ($this->signIn)(null, 'wrong');
    }
    $this->travel(2)->hours();
    ($this->signIn)()->assertStatus(429)->assertJsonPath('message', fn (string $m): bool => str_contains($m, 'Ask for a new password'));
    ($this->ask)('POST', '/api/password-resets', ['email' => $this->person->email])->assertStatus(202);
    preg_match('~/reset/(\w{43})~', (string) KeptMail::query()->latest('id')->value('text'), $m);
    ($this->ask)('PUT', "/api/password-resets/{$m[1]}", ['password' => GOOD_PASSWORD])->assertNoContent();
    ($this->signIn)(null, GOOD_PASSWORD)->assertOk();
});

it('asks for a one-time code where the account has them, takes it once, and lets nobody in half-way', function () {
    [$code] = ($this->switchOn)();
    ($this->signIn)()->assertStatus(202)->assertJsonPath('needs', 'code');
    ($this->ask)('GET', '/api/session')->assertStatus(401);
    ($this->ask)('GET', "/api/sites/{$this->site->key}")->assertStatus(401);
    ($this->ask)('POST', '/api/session/code', ['code' => '000000'])->assertStatus(422);
    $now = ($this->now)($code);
    ($this->ask)('POST', '/api/session/code', ['code' => substr($now, 0, 3).' '.substr($now, 3)])->assertOk();
    ($this->ask)('DELETE', '/api/session')->assertNoContent();
    ($this->signIn)()->assertStatus(202);
    // Whoever looked over the shoulder is late.
    ($this->ask)('POST', '/api/session/code', ['code' => $now])->assertStatus(422);
    $this->travel(6)->minutes();
    ($this->ask)('POST', '/api/session/code', ['code' => ($this->now)($code)])->assertStatus(422)->assertJsonPath('message', fn (string $m): bool => str_contains($m, 'too long ago'));
    expect(($this->logged)())->toContain('codes-on', 'code-refused');
});

it('stops guessing at codes', function () {
    ($this->switchOn)();
    $statuses = [];
    foreach (range(1, 6) as $try) {
        ($this->signIn)();
        $statuses[] = ($this->ask)('POST', '/api/session/code', ['code' => "00000{$try}"])->getStatusCode();
    }
    expect($statuses)->toContain(429)->and(SignIn::query()->whereNull('ended_at')->count())->toBe(0);
});

it('takes each recovery code once, and new ones in their place', function () {
    [$code, $recovery] = ($this->switchOn)();
    ($this->signIn)();
    ($this->ask)('POST', '/api/session/code', ['code' => strtoupper($recovery[0])])->assertOk();
    ($this->ask)('GET', '/api/account')->assertJsonPath('recovery_codes_left', 9);
    ($this->ask)('DELETE', '/api/session');
    ($this->signIn)();
    ($this->ask)('POST', '/api/session/code', ['code' => $recovery[0]])->assertStatus(422);
    ($this->ask)('POST', '/api/session/code', ['code' => $recovery[1]])->assertOk();
    $new = ($this->ask)('POST', '/api/account/recovery-codes')->assertCreated()->json('recovery_codes');
    ($this->ask)('DELETE', '/api/session');
    ($this->signIn)();
    ($this->ask)('POST', '/api/session/code', ['code' => $recovery[2]])->assertStatus(422);
    ($this->ask)('POST', '/api/session/code', ['code' => $new[0]])->assertOk();
    expect(SignIn::query()->latest('id')->value('method'))->toBe('recovery-code');
    foreach (User::query()->pluck('recovery_codes')->filter() as $kept) {
        expect((string) json_encode($kept))->not->toContain($new[1])->not->toContain(str_replace('-', '', $new[1]));
    }
});

it('keeps the secret of codes where nobody reads it, and switches codes on only with one of them', function () {
    ($this->signIn)()->assertOk();
    $code = ($this->codes)();
    ($this->ask)('PUT', '/api/account/codes', ['code' => '123456'])->assertStatus(422);
    ($this->ask)('GET', '/api/account')->assertJsonPath('codes_since', null);
    $kept = (string) DB::table('users')->where('id', $this->person->id)->value('codes_secret');
    ($this->ask)('PUT', '/api/account/codes', ['code' => ($this->now)($code)])->assertOk();
    expect(Base32::decode($kept))->toBeNull()->and(SecurityEvent::query()->pluck('note')->implode(' '))->not->toContain(($this->now)($code));
    ($this->ask)('POST', '/api/account/codes')->assertStatus(422);
    ($this->ask)('DELETE', '/api/account/codes')->assertNoContent();
    expect(($this->logged)())->toContain('codes-off')->and(KeptMail::query()->where('recipient', $this->person->email)->pluck('subject')->all())->toBe(['One-time codes were switched on for your Pellix account', 'One-time codes were switched off for your Pellix account']);
});

it('ends a session after an hour without its person, however often views refresh themselves, and after a day', function () {
    ($this->signIn)()->assertOk();
    foreach (range(1, 5) as $ten) {
        $this->travel(10)->minutes();
        ($this->ask)('GET', '/api/session')->assertOk();
    }
    // From here on nobody touches it; something still asks.
    foreach (range(1, 5) as $ten) {
        $this->travel(10)->minutes();
        $this->withHeader('Pellix-Untouched', (string) (600 * $ten));
        ($this->ask)('GET', '/api/session')->assertOk();
    }
    $this->travel(10)->minutes();
    $this->withHeader('Pellix-Untouched', '3601');
    ($this->ask)('GET', '/api/session')->assertStatus(401);
    $this->flushHeaders();
    ($this->ask)('GET', '/api/session')->assertStatus(401);

    ($this->signIn)()->assertOk();
    foreach (range(1, 47) as $half) {
        $this->travel(30)->minutes();
        ($this->ask)('GET', '/api/session')->assertOk();
    }
    $this->travel(30)->minutes();
    ($this->ask)('GET', '/api/session')->assertStatus(401);
});

it('lists sessions, and ends one from another', function () {
    ($this->signIn)()->assertOk();
    $elsewhere = $this->person->signIns()->create(['method' => 'password', 'address' => '192.0.2.7', 'agent' => 'Other', 'at' => now('UTC'), 'seen_at' => now('UTC'), 'confirmed_at' => now('UTC')]);
    $foreign = $this->makePerson($this->site)->signIns()->create(['method' => 'password', 'address' => '192.0.2.8', 'agent' => 'X', 'at' => now('UTC'), 'seen_at' => now('UTC'), 'confirmed_at' => now('UTC')]);
    $list = ($this->ask)('GET', '/api/account/sessions')->assertOk()->json();
    expect(array_column($list, 'is_this', 'address'))->toBe(['192.0.2.7' => false, '127.0.0.1' => true]);
    ($this->ask)('DELETE', "/api/account/sessions/{$foreign->id}")->assertNotFound();
    ($this->ask)('DELETE', "/api/account/sessions/{$elsewhere->id}")->assertNoContent();
    expect($elsewhere->refresh()->ended_at)->not->toBeNull()->and($foreign->refresh()->ended_at)->toBeNull();
    // This one, ended from elsewhere.
    SignIn::query()->where('user_id', $this->person->id)->update(['ended_at' => now('UTC')]);
    ($this->ask)('GET', '/api/session')->assertStatus(401);
});

it('asks again who somebody is, before code is published and before people, keys and tokens change', function () {
    ($this->signIn)()->assertOk();
    $path = "/api/sites/{$this->site->key}";
    ($this->ask)('POST', "{$path}/experiments", experimentRequest())->assertCreated();
    ($this->ask)('POST', "{$path}/experiments/shorter-words/stage", ['action' => 'start', 'reason' => 'For a test'])->assertOk();
    $this->travel(16)->minutes();
    // What runs already, too; a change that no visitor notices is nobody's matter.
    ($this->ask)('PUT', "{$path}/experiments/shorter-words", experimentRequest(['share' => 0.5]))->assertStatus(423);
    ($this->ask)('PUT', "{$path}/capture")->assertStatus(423);
    foreach ([['POST', "{$path}/publications"], ['POST', "{$path}/wiring/versions"], ['POST', "{$path}/experiments/x/stage"], ['POST', "{$path}/invitations"], ['PUT', "{$path}/people/{$this->person->id}"], ['POST', '/api/tokens'], ['POST', '/api/account/codes']] as [$method, $address]) {
        $answer = ($this->ask)($method, $address);
        expect([$address, $answer->getStatusCode()])->toBe([$address, 423]);
    }
    ($this->ask)('POST', '/api/session/confirmed', ['password' => 'not mine'])->assertStatus(422);
    ($this->ask)('POST', "{$path}/publications")->assertStatus(423)->assertJsonPath('confirm', 'password');
    ($this->ask)('POST', '/api/session/confirmed', ['password' => 'a password'])->assertNoContent();
    ($this->ask)('POST', "{$path}/publications")->assertOk();
    expect(($this->logged)())->toContain('confirmation-refused');
});

it('changes a password for whoever knows the old one, by the rules, and ends all other sessions', function () {
    ($this->signIn)()->assertOk();
    $elsewhere = $this->person->signIns()->create(['method' => 'password', 'address' => '192.0.2.7', 'agent' => 'Other', 'at' => now('UTC'), 'seen_at' => now('UTC'), 'confirmed_at' => now('UTC')]);
    ($this->ask)('PUT', '/api/account/password', ['current' => 'wrong', 'password' => GOOD_PASSWORD])->assertStatus(422)->assertJsonValidationErrors('current');
    ($this->ask)('PUT', '/api/account/password', ['current' => 'a password', 'password' => 'passwordpassword'])->assertStatus(422)->assertJsonValidationErrors('password');
    ($this->ask)('PUT', '/api/account/password', ['current' => 'a password', 'password' => GOOD_PASSWORD])->assertNoContent();
    ($this->ask)('GET', '/api/session')->assertOk();
    expect($elsewhere->refresh()->ended_at)->not->toBeNull()->and(KeptMail::query()->latest('id')->value('subject'))->toBe('Your Pellix password was changed')
        ->and((string) DB::table('users')->where('id', $this->person->id)->value('password'))->toStartWith('$argon2id$');
});

it('sets a password by a link once, in half an hour, and says nothing about who has an account', function () {
    $known = ($this->ask)('POST', '/api/password-resets', ['email' => $this->person->email])->assertStatus(202);
    $unknown = ($this->ask)('POST', '/api/password-resets', ['email' => 'nobody@shop.test'])->assertStatus(202);
    expect($known->getContent())->toBe($unknown->getContent())->and(KeptMail::query()->count())->toBe(1);
    $link = fn (): string => preg_match('~/reset/(\w{43})~', (string) KeptMail::query()->latest('id')->value('text'), $m) === 1 ? $m[1] : '';
    $first = $link();
    ($this->ask)('GET', "/api/password-resets/{$first}")->assertOk()->assertJsonPath('email', $this->person->email);
    ($this->ask)('PUT', "/api/password-resets/{$first}", ['password' => 'short'])->assertStatus(422);
    // A new one makes the old one void; a forged one never was any.
    ($this->ask)('POST', '/api/password-resets', ['email' => $this->person->email]);
    $second = $link();
    ($this->ask)('PUT', "/api/password-resets/{$first}", ['password' => GOOD_PASSWORD])->assertNotFound();
    ($this->ask)('PUT', '/api/password-resets/'.str_repeat('a', 43), ['password' => GOOD_PASSWORD])->assertNotFound();
    $this->travel(31)->minutes();
    ($this->ask)('PUT', "/api/password-resets/{$second}", ['password' => GOOD_PASSWORD])->assertNotFound();
    ($this->ask)('POST', '/api/password-resets', ['email' => $this->person->email]);
    $third = $link();
    ($this->signIn)()->assertOk();
    ($this->ask)('PUT', "/api/password-resets/{$third}", ['password' => GOOD_PASSWORD])->assertNoContent();
    ($this->ask)('PUT', "/api/password-resets/{$third}", ['password' => GOOD_PASSWORD.' more'])->assertNotFound();
    // Whoever was in with the old one is out.
    ($this->ask)('GET', '/api/session')->assertStatus(401);
    ($this->signIn)()->assertStatus(422);
    ($this->signIn)(null, GOOD_PASSWORD)->assertOk();
    expect(DB::table('account_links')->pluck('token_hash')->all())->not->toContain($third)->and(($this->logged)())->toContain('link-refused', 'password-reset', 'reset-asked')
        ->and(AccountLink::query()->count())->toBe(3);
    // No mail with a link is shown to anybody who looks after a site.
    $this->as($this->person, 'GET', "/api/sites/{$this->site->key}/mails")->assertOk()->assertExactJson([]);
});

it('sends no more than three links in an hour', function () {
    foreach (range(1, 5) as $time) {
        ($this->ask)('POST', '/api/password-resets', ['email' => $this->person->email])->assertStatus(202);
    }
    expect(KeptMail::query()->count())->toBe(3);
});

it('lets nobody in whose account is deactivated: no password, session, token or link', function () {
    $token = $this->as($this->person, 'POST', '/api/tokens', ['name' => 'x', 'site' => $this->site->key, 'right' => 'look', 'days' => 5])->json('secret');
    ($this->signIn)()->assertOk();
    $this->person->forceFill(['deactivated_at' => now('UTC')])->save();
    ($this->ask)('GET', '/api/session')->assertStatus(401);
    ($this->signIn)()->assertStatus(422);
    ($this->ask)('POST', '/api/password-resets', ['email' => $this->person->email]);
    expect(AccountLink::query()->count())->toBe(0);
    $this->signedOut()->withToken($token)->getJson("/api/sites/{$this->site->key}")->assertStatus(401);
});

it('shows the security log to owners: of their site, their people, and what strangers tried', function () {
    ($this->signIn)(null, 'wrong');
    ($this->ask)('POST', '/api/session', ['email' => 'nobody@shop.test', 'password' => 'secret typed into the wrong field']);
    $other = $this->makePerson($this->makeSite('plx_featuretests0002'));
    ($this->signIn)($other)->assertOk();
    $log = $this->as($this->person, 'GET', "/api/sites/{$this->site->key}/security-log")->assertOk();
    expect(array_column($log->json('entries'), 'matter'))->toBe(['sign-in-refused', 'sign-in-refused'])->and($log->getContent())->not->toContain($other->email)->not->toContain('secret typed')->not->toContain('nobody@');
    $this->as($this->person, 'GET', "/api/sites/{$this->site->key}/security-log?refusals=1&person={$this->person->id}")->assertOk()->assertJsonCount(1, 'entries');
    $this->as($this->makePersonWho('publish', $this->site), 'GET', "/api/sites/{$this->site->key}/security-log")->assertForbidden();
    expect(($this->logged)())->toContain('right-refused');
});

it('bounds what a client can write into the security log', function () {
    foreach (range(1, 80) as $try) {
        $this->signedOut()->withToken("{$try}|pellix_nonsense")->getJson('/api/session')->assertStatus(401);
    }
    expect(SecurityEvent::query()->where('matter', 'token-refused')->count())->toBe(60);
});

it('helps whoever runs a copy to let somebody in, or to keep them out', function () {
    $this->artisan('pellix:account', ['email' => 'nobody@shop.test', '--link' => true])->assertExitCode(2);
    $this->artisan('pellix:account', ['email' => $this->person->email])->assertExitCode(2);
    Artisan::call('pellix:account', ['email' => strtoupper($this->person->email), '--link' => true]);
    preg_match('~/reset/(\w{43})~', Artisan::output(), $m);
    ($this->ask)('PUT', "/api/password-resets/{$m[1]}", ['password' => GOOD_PASSWORD])->assertNoContent();
    $this->artisan('pellix:account', ['email' => $this->person->email, '--makes-sites' => true])->assertExitCode(0);
    expect($this->person->refresh()->makes_sites)->toBeTrue();
    ($this->signIn)(null, GOOD_PASSWORD)->assertOk();
    $this->artisan('pellix:account', ['email' => $this->person->email, '--deactivate' => true])->assertExitCode(0);
    ($this->ask)('GET', '/api/session')->assertStatus(401);
    $this->artisan('pellix:account', ['email' => $this->person->email, '--activate' => true])->assertExitCode(0);
    ($this->signIn)(null, GOOD_PASSWORD)->assertOk();
    Artisan::call('pellix:mails', ['--last' => '3']);
    expect(Artisan::output())->toContain('Your Pellix password was set by a link');
    $this->artisan('pellix:mails', ['--last' => 'many'])->assertExitCode(2);
});

it('forgets what is older than the security log is kept', function () {
    ($this->signIn)(null, 'wrong');
    ($this->signIn)()->assertOk();
    ($this->ask)('POST', '/api/password-resets', ['email' => $this->person->email]);
    $this->artisan('pellix:forget')->assertExitCode(0);
    expect(SecurityEvent::query()->count())->toBe(3);
    $this->travel(401)->days();
    $this->artisan('pellix:forget')->assertExitCode(0);
    expect([SecurityEvent::query()->count(), SignIn::query()->count(), AccountLink::query()->count()])->toBe([0, 0, 0]);
});
