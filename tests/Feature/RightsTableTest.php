<?php

use App\Models\User;
use Illuminate\Support\Facades\Route;

const RIGHTS_IN_ORDER = ['look', 'work', 'publish', 'own'];

/** @return list<array{method: string, route: string, who: string, token: bool, again: bool, two: bool}> the table of docs/security.md */
function rightsTable(): array
{
    preg_match_all('~^\| ([A-Z]+) \| `([^`]+)` \| ([a-z ]+) \| (yes|no) \| (yes)? *\| (yes)? *\|$~m', (string) file_get_contents(dirname(__DIR__, 2).'/docs/security.md'), $rows, PREG_SET_ORDER);

    return array_map(static fn (array $row): array => ['method' => $row[1], 'route' => $row[2], 'who' => $row[3], 'token' => $row[4] === 'yes', 'again' => ($row[5] ?? '') === 'yes', 'two' => ($row[6] ?? '') === 'yes'], $rows);
}

/** A path of a route, where nothing is but the site. */
function pathOf(string $route, string $site): string
{
    $path = str_replace(['{site}', '{experiment}', '{goal}', '{format}', '{event}', '{name}', '{key}', '{token}'], [$site, 'none', 'none', 'json', 'none', 'none', 'none', 'none'], $route);

    return (string) preg_replace('/\{\w+\}/', '999999', $path);
}

it('lists every route of the API, and none that is not there', function () {
    $there = [];
    foreach (Route::getRoutes() as $route) {
        foreach (preg_match('~\A(api|sites)/~', $route->uri()) === 1 ? array_diff($route->methods(), ['HEAD']) : [] as $method) {
            $there[] = "{$method} /{$route->uri()}";
        }
    }
    $listed = array_map(static fn (array $row): string => "{$row['method']} {$row['route']}", rightsTable());
    expect($listed)->toEqualCanonicalizing($there)->and(count($listed))->toBeGreaterThan(180);
});

it('lets whoever has a right, and nobody with less, do what the table says', function (string $right) {
    $site = $this->makeSite();
    $this->makePerson($site);
    $person = $this->makePersonWho($right, $site);
    $secret = null;
    $wrong = [];
    foreach (rightsTable() as $row) {
        if (! in_array($row['who'], RIGHTS_IN_ORDER, true)) {
            continue;
        }
        $may = array_search($row['who'], RIGHTS_IN_ORDER, true) <= array_search($right, RIGHTS_IN_ORDER, true);
        // Whatever it does is undone: the next one finds the site as it was.
        DB::beginTransaction();
        $this->signedOut();
        $this->as($person->refresh(), 'GET', '/api/session');
        $status = $this->json($row['method'], pathOf($row['route'], $site->key))->getStatusCode();
        DB::rollBack();
        ($may ? ! in_array($status, [401, 403, 423, 500], true) : $status === 403) || $wrong[] = "{$right}: {$row['method']} {$row['route']} answers {$status}";
    }
    expect($wrong)->toBe([]);
})->with(RIGHTS_IN_ORDER);

it('keeps out whoever looks after another site, and strangers, everywhere', function () {
    $foreign = $this->makeSite('plx_featuretests0002');
    $owner = $this->makePerson($this->makeSite());
    $wrong = [];
    foreach (rightsTable() as $row) {
        $path = pathOf($row['route'], $foreign->key);
        $this->signedOut();
        $stranger = $this->json($row['method'], $path)->getStatusCode();
        ($row['who'] === 'everybody' ? $stranger !== 401 : $stranger === 401) || $wrong[] = "nobody: {$row['method']} {$row['route']} answers {$stranger}";
        if (in_array($row['who'], RIGHTS_IN_ORDER, true)) {
            $this->as($owner, 'GET', '/api/session');
            $status = $this->json($row['method'], $path)->getStatusCode();
            $status === 404 || $wrong[] = "owner of another site: {$row['method']} {$row['route']} answers {$status}";
        }
    }
    expect($wrong)->toBe([]);
});

it('takes tokens where the table says, and asks again who somebody is', function () {
    $site = $this->makeSite();
    $owner = $this->makePerson($site);
    $this->makePerson($site);
    $secret = $this->as($owner, 'POST', '/api/tokens', ['name' => 't', 'site' => $site->key, 'right' => 'own', 'days' => 2])->json('secret');
    $wrong = [];
    foreach (rightsTable() as $row) {
        if ($row['who'] === 'everybody' || ! str_starts_with($row['route'], '/api/')) {
            continue;
        }
        DB::beginTransaction();
        $status = $this->signedOut()->withToken($secret)->json($row['method'], pathOf($row['route'], $site->key))->getStatusCode();
        DB::rollBack();
        $this->flushHeaders();
        ($row['token'] ? ! in_array($status, [401, 403, 500], true) : $status === 403) || $wrong[] = "token: {$row['method']} {$row['route']} answers {$status}";
        DB::beginTransaction();
        $this->signedOut();
        $this->as(User::query()->findOrFail($owner->id), 'GET', '/api/session');
        app(App\SignIn\Current::class)->get()?->update(['confirmed_at' => now('UTC')->subHour()]);
        $status = $this->json($row['method'], pathOf($row['route'], $site->key))->getStatusCode();
        DB::rollBack();
        ($row['again'] ? $status === 423 : $status !== 423) || $wrong[] = "late: {$row['method']} {$row['route']} answers {$status}";
    }
    expect($wrong)->toBe([]);
});

it('wants two people where the table says, once the site does', function () {
    $site = $this->makeSite();
    $site->update(['two_people' => true]);
    $owner = $this->makePerson($site);
    $this->as($owner, 'POST', "/api/sites/{$site->key}/experiments", experimentRequest())->assertCreated();
    $wrong = [];
    foreach (rightsTable() as $row) {
        if ($row['two']) {
            $path = str_replace('/none', '/shorter-words', pathOf($row['route'], $site->key));
            $status = $this->as($owner, $row['method'], $path, ['variant' => 'short', 'action' => 'start'])->getStatusCode();
            $status === 403 || $wrong[] = "{$row['method']} {$row['route']} answers {$status}";
        }
    }
    expect($wrong)->toBe([])->and(array_filter(array_column(rightsTable(), 'two')))->not->toBe([]);
});
