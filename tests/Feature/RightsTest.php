<?php

use Illuminate\Support\Facades\Route;

/** Routes for everybody, or for a person's own account: everything else belongs to a site. */
const OPEN = ['api/session', 'api/session/code', 'api/session/confirmed', 'api/password-resets', 'api/password-resets/{token}', 'api/invitations/{token}', 'api/account', 'api/account/password', 'api/account/codes', 'api/account/recovery-codes', 'api/account/sessions', 'api/account/sessions/{signIn}', 'api/tokens', 'api/tokens/{token}', 'api/begin', 'api/sign-in-ways', 'sign-in/with', 'sign-in/back', 'api/sites', 'api/host-checks', 'sanctum/csrf-cookie', 'brief/{token}{format?}', 'audit/{token}{format?}', 'health', 'metrics', 'loupe/open', 'loupe/heard', 'loupe/draft', 'loupe/keep', 'loupe/goal', 'loupe/script', '{any?}', 'storage/{path}'];

it('guards every route by a right', function () {
    $unguarded = [];
    foreach (Route::getRoutes()->getRoutes() as $route) {
        $rights = array_filter($route->gatherMiddleware(), static fn (mixed $one): bool => is_string($one) && str_starts_with($one, 'right:'));
        $isSite = preg_match('~\A(?:api/)?sites/\{site\}~', $route->uri()) === 1;
        if ($isSite ? count($rights) !== 1 : ! in_array($route->uri(), OPEN, true)) {
            $unguarded[] = implode('|', $route->methods())." {$route->uri()}";
        }
        if ($isSite && ! in_array('auth:sanctum', $route->gatherMiddleware(), true)) {
            $unguarded[] = "{$route->uri()} is open to strangers";
        }
        // Whoever only looks changes nothing, but for what they have seen and want to be told themselves.
        if (! in_array($route->uri(), ['api/sites/{site}/notices/seen', 'api/sites/{site}/notice-settings', 'api/sites/{site}/notice-settings/test'], true) && array_diff($route->methods(), ['GET', 'HEAD']) !== [] && $rights === ['right:look']) {
            $unguarded[] = "{$route->uri()} changes something";
        }
    }
    expect($unguarded)->toBe([]);
});

it('lets each person do what their right says, and no more', function (string $right, array $may) {
    $site = $this->makeSite();
    $owner = $this->makePerson($site);
    $path = "/api/sites/{$site->key}";
    $this->as($owner, 'POST', "{$path}/experiments", experimentRequest())->assertCreated();
    $this->as($owner, 'POST', "{$path}/experiments", experimentRequest(['name' => 'Running']))->assertCreated();
    $this->as($owner, 'POST', "{$path}/experiments/running/stage", ['action' => 'start', 'reason' => 'For a test'])->assertOk();
    $person = $this->makePersonWho($right, $site);
    $this->as($person, 'GET', '/api/session')->assertOk()->assertJsonPath('sites.0.right', $right);
    foreach ([
        'look' => fn () => $this->as($person, 'GET', "{$path}/experiments"),
        'work' => fn () => $this->as($person, 'POST', "{$path}/goals", ['name' => 'G', 'kind' => 'order']),
        'publish' => fn () => $this->as($person, 'POST', "{$path}/experiments/shorter-words/stage", ['action' => 'start', 'reason' => 'For a test']),
    ] as $needed => $try) {
        $status = $try()->getStatusCode();
        in_array($needed, $may, true) ? expect($status)->toBeLessThan(300, $needed) : expect($status)->toBe(403, $needed);
    }
    // A draft is work, what visitors meet is not.
    $change = $this->as($person, 'PUT', "{$path}/experiments/running", experimentRequest(['name' => 'Running', 'share' => 0.5]))->getStatusCode();
    expect($change)->toBe(in_array('publish', $may, true) ? 200 : 403);
})->with([['look', ['look']], ['work', ['look', 'work']], ['publish', ['look', 'work', 'publish']], ['own', ['look', 'work', 'publish']]]);

it('names authors by id, beside the name that they had', function () {
    $site = $this->makeSite();
    $person = $this->makePerson($site);
    $this->as($person, 'POST', "/api/sites/{$site->key}/experiments", experimentRequest())->assertCreated();
    expect($site->experiments()->first()->revisions()->first()->only('author_id', 'author'))->toBe(['author_id' => $person->id, 'author' => 'P'])
        ->and($site->goals()->first()->revisions()->first()->author_id)->toBe($person->id);
});

it('names who may what on a site, to those who look after it, and nobody of another site', function () {
    [$site, $other] = [$this->makeSite(), $this->makeSite('plx_othersite00001')];
    $owner = $this->makePerson($site);
    $this->makePersonWho('look', $site);
    $stranger = $this->makePerson($other);
    $people = $this->as($owner, 'GET', "/api/sites/{$site->key}/people")->assertOk()->json();
    expect(array_column($people, 'right'))->toEqualCanonicalizing(['own', 'look'])->and(array_column($people, 'email'))->not->toContain($stranger->email);
    $this->as($stranger, 'GET', "/api/sites/{$site->key}/people")->assertNotFound();
});
