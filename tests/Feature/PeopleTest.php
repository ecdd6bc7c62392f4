<?php

use App\Models\AccessToken;
use App\Models\KeptMail;
use App\Models\User;

beforeEach(function () {
    $this->site = $this->makeSite();
    $this->path = "/api/sites/{$this->site->key}";
    $this->owner = $this->makePerson($this->site);
    $this->origin = ['Origin' => config('app.url'), 'Referer' => config('app.url').'/'];
    $this->invite = fn (string $email, string $right = 'work'): Illuminate\Testing\TestResponse => $this->as($this->owner, 'POST', "{$this->path}/invitations", ['email' => $email, 'right' => $right]);
    $this->tokenOf = fn (Illuminate\Testing\TestResponse $made): string => basename((string) $made->assertCreated()->json('address'));
});

it('invites somebody by a link, who makes an account with it and may what was said', function () {
    $token = ($this->tokenOf)(($this->invite)('Tom@Shop.test'));
    expect(KeptMail::query()->where('recipient', 'tom@shop.test')->value('text'))->toContain("/invitation/{$token}");
    $this->as(null, 'GET', "{$this->path}/invitations")->assertOk()->assertJsonPath('0.email', 'tom@shop.test')->assertJsonMissingPath('0.address');
    $this->signedOut()->getJson("/api/invitations/{$token}")->assertOk()->assertJson(['email' => 'tom@shop.test', 'site' => 'Shop', 'right' => 'work', 'has_account' => false]);
    $accept = fn (string $password): Illuminate\Testing\TestResponse => $this->signedOut()->postJson("/api/invitations/{$token}", ['name' => 'Tom Reed', 'password' => $password], $this->origin);
    $accept('shop tom reed 1')->assertStatus(422)->assertJsonValidationErrors('password');
    $accept('seven boats turn north')->assertOk()->assertJsonPath('sites.0.right', 'work');
    $accept('seven boats turn north')->assertNotFound();
    $tom = User::query()->where('email', 'tom@shop.test')->firstOrFail();
    $this->as($tom, 'POST', "{$this->path}/goals", ['name' => 'G', 'kind' => 'order'])->assertCreated();
    $this->as($tom, 'POST', "{$this->path}/invitations", ['email' => 'x@shop.test', 'right' => 'own'])->assertForbidden();
    $this->as($this->owner, 'GET', "{$this->path}/invitations")->assertExactJson([]);
});

it('lets whoever has an account accept, and nobody for somebody else', function () {
    $known = User::factory()->create(['email' => 'ana@shop.test']);
    $token = ($this->tokenOf)(($this->invite)('ana@shop.test', 'publish'));
    $this->signedOut()->postJson("/api/invitations/{$token}", ['name' => 'Not Ana', 'password' => 'seven boats turn north'], $this->origin)->assertStatus(422)->assertJsonValidationErrors('email');
    $this->actingAs($known, 'web');
    $this->as($this->makePerson(), 'POST', "/api/invitations/{$token}", headers: $this->origin)->assertStatus(422)->assertJsonValidationErrors('email');
    $this->as($known, 'POST', "/api/invitations/{$token}", headers: $this->origin)->assertOk()->assertJsonPath('sites.0.right', 'publish');
    ($this->invite)('ANA@shop.test')->assertStatus(422)->assertJsonValidationErrors('email');
});

it('takes no invitation that is forged, revoked, old, or for another site', function () {
    $this->signedOut()->getJson('/api/invitations/'.str_repeat('a', 43))->assertNotFound();
    $made = ($this->invite)('tom@shop.test');
    $stranger = $this->makePerson($other = $this->makeSite('plx_featuretests0002'));
    $this->as($stranger, 'DELETE', "/api/sites/{$other->key}/invitations/{$made->json('id')}")->assertNotFound();
    $this->as($this->owner, 'DELETE', "{$this->path}/invitations/{$made->json('id')}")->assertNoContent();
    $this->signedOut()->getJson('/api/invitations/'.($this->tokenOf)($made))->assertNotFound();
    $again = ($this->tokenOf)(($this->invite)('tom@shop.test'));
    $this->travel(8)->days();
    $this->signedOut()->getJson("/api/invitations/{$again}")->assertNotFound();
    $this->signedOut()->postJson("/api/invitations/{$again}", ['name' => 'Tom', 'password' => 'seven boats turn north'], $this->origin)->assertNotFound();
    $log = $this->as($this->owner, 'GET', "{$this->path}/security-log")->json('entries');
    expect(array_count_values(array_column($log, 'matter')))->toMatchArray(['link-refused' => 4, 'invited' => 2, 'invitation-revoked' => 1]);
});

it('changes rights, closes access and opens it again, and keeps an owner', function () {
    $tom = $this->makePersonWho('work', $this->site);
    $secret = $this->as($tom, 'POST', '/api/tokens', ['name' => 'pipeline', 'site' => $this->site->key, 'right' => 'work', 'days' => 9])->assertCreated()->json('secret');
    $this->as($this->owner, 'PUT', "{$this->path}/people/{$this->owner->id}", ['right' => 'look'])->assertStatus(422)->assertJsonValidationErrors('right');
    $this->as($this->owner, 'DELETE', "{$this->path}/people/me")->assertStatus(422)->assertJsonValidationErrors('person');
    $this->as($this->owner, 'PUT', "{$this->path}/people/{$tom->id}", ['right' => 'everything'])->assertStatus(422);
    $this->as($this->owner, 'PUT', "{$this->path}/people/{$tom->id}", ['right' => 'publish'])->assertNoContent();
    $this->as($tom, 'PUT', "{$this->path}/people/{$this->owner->id}", ['right' => 'look'])->assertForbidden();
    $this->as($this->owner, 'DELETE', "{$this->path}/people/{$tom->id}")->assertNoContent();
    $this->as($tom, 'GET', "{$this->path}/goals")->assertNotFound();
    $this->signedOut()->withToken($secret)->getJson("{$this->path}/goals")->assertStatus(401);
    $this->flushHeaders();
    $this->as($this->owner, 'GET', "{$this->path}/people")->assertOk()->assertJson(fn ($json) => $json->where('0.closed', fn () => true)->etc(), false);
    expect(array_column($this->as($this->owner, 'GET', "{$this->path}/people")->json(), 'closed', 'id'))->toBe([$this->owner->id => false, $tom->id => true]);
    $this->as($this->owner, 'POST', "{$this->path}/people/{$tom->id}/opened")->assertNoContent();
    $this->as($tom, 'GET', "{$this->path}/goals")->assertOk();
    $this->as($this->owner, 'PUT', "{$this->path}/people/{$tom->id}", ['right' => 'own'])->assertNoContent();
    $this->as($this->owner, 'DELETE', "{$this->path}/people/me")->assertNoContent();
    $this->as($this->owner, 'GET', "{$this->path}/people")->assertNotFound();
    $this->as($tom, 'PUT', "{$this->path}/people/".$this->makePerson()->id, ['right' => 'own'])->assertNotFound();
    $what = array_column($this->as($tom, 'GET', "{$this->path}/logbook?thing=person")->json('entries'), 'what');
    expect($what)->toContain('left', 'access opened', 'access closed', 'right changed', 'token made');
});

it('hands over what somebody owns, when they leave or before', function () {
    [$tom, $ana] = [$this->makePersonWho('work', $this->site), $this->makePersonWho('work', $this->site)];
    $tom->update(['name' => 'Tom']);
    $ana->update(['name' => 'Ana']);
    $this->as($tom, 'POST', "{$this->path}/experiments", experimentRequest(['owner' => 'Tom']))->assertCreated();
    $this->as($this->owner, 'POST', "{$this->path}/people/{$tom->id}/handed-over", ['hand_to' => null])->assertStatus(422);
    $this->as($this->owner, 'POST', "{$this->path}/people/{$tom->id}/handed-over", ['hand_to' => $this->makePerson()->id])->assertStatus(422)->assertJsonValidationErrors('hand_to');
    $this->as($tom, 'DELETE', "{$this->path}/people/me", ['hand_to' => $ana->id])->assertNoContent();
    expect($this->site->experiments()->value('owner'))->toBe('Ana');
    $this->as($this->owner, 'POST', "{$this->path}/people/{$ana->id}/handed-over", ['hand_to' => $this->owner->id])->assertOk()->assertExactJson(['experiments' => 1]);
});

it('makes tokens for one site, one right and some days, that can do no more', function () {
    $other = $this->makeSite('plx_featuretests0002');
    $this->owner->sites()->attach($other, ['right' => 'own']);
    $make = fn (array $of): Illuminate\Testing\TestResponse => $this->as($this->owner, 'POST', '/api/tokens', ['name' => 'pipeline', 'site' => $this->site->key, 'right' => 'look', 'days' => 30, ...$of]);
    foreach ([['name' => ''], ['site' => 'plx_none'], ['right' => 'all'], ['days' => 0], ['days' => 400]] as $bad) {
        $make($bad)->assertStatus(422);
    }
    $made = $make([])->assertCreated();
    // What secret scanners look for: the prefix, 40 characters, and their CRC-32 in hexadecimal.
    expect(preg_match('/\A\d+\|pellix_([A-Za-z0-9]{40})([0-9a-f]{8})\z/', $made->json('secret'), $m))->toBe(1)->and(hash('crc32b', $m[1]))->toBe($m[2]);
    $with = fn (string $secret, string $method, string $path, array $body = []): Illuminate\Testing\TestResponse => $this->signedOut()->withToken($secret)->json($method, $path, $body);
    $look = $made->json('secret');
    $with($look, 'GET', $this->path)->assertOk();
    $with($look, 'GET', '/api/session')->assertOk()->assertJsonCount(1, 'sites')->assertJsonPath('sites.0.right', 'look');
    $with($look, 'GET', "/api/sites/{$other->key}")->assertNotFound();
    $with($look, 'POST', "{$this->path}/goals", ['name' => 'G', 'kind' => 'order'])->assertForbidden();
    // A token makes no tokens, opens no account, and changes no people, whatever its right.
    $own = $make(['right' => 'own'])->json('secret');
    foreach ([['GET', '/api/tokens'], ['POST', '/api/tokens'], ['GET', '/api/account'], ['PUT', '/api/account/password'], ['POST', "{$this->path}/invitations"], ['PUT', "{$this->path}/people/{$this->owner->id}"], ['GET', "{$this->path}/security-log"]] as [$method, $path]) {
        $with($own, $method, $path)->assertForbidden();
    }
    $with($own, 'POST', "{$this->path}/publications")->assertOk();
    $this->flushHeaders();
    // It falls with the right of its person.
    $this->makePerson($this->site);
    $this->as($this->owner, 'PUT', "{$this->path}/people/{$this->owner->id}", ['right' => 'look'])->assertNoContent();
    $with($own, 'POST', "{$this->path}/publications")->assertForbidden();
    $this->travel(31)->days();
    $with($look, 'GET', $this->path)->assertStatus(401);
    $this->flushHeaders();
    $this->as($this->owner, 'DELETE', '/api/tokens/'.$made->json('id'))->assertNoContent();
    $this->as($this->makePerson(), 'DELETE', '/api/tokens/'.AccessToken::query()->value('id'))->assertNotFound();
    expect(DB::table('security_events')->pluck('matter')->all())->toContain('token-made', 'token-revoked', 'token-refused', 'right-refused');
});
