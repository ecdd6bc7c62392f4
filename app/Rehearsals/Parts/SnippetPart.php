<?php

declare(strict_types=1);

namespace App\Rehearsals\Parts;

use App\Rehearsals\Browser\Tab;
use App\Rehearsals\Outcome;
use App\Rehearsals\Probe;
use App\Rehearsals\Stage;
use Pellix\Core\Chain\Link;
use Pellix\Core\Rehearsal\CheckCode;
use Pellix\Core\Rehearsal\Finding;
use Pellix\Core\Rehearsal\FlickerJudge;
use Pellix\Core\Wiring\Findings\Severity;
use Pellix\Core\Wiring\Guard;

/** Whether the snippet loads, once, with the right key; and whether the page is shown in time whatever becomes of our file. */
final readonly class SnippetPart implements Part
{
    /** So long our file is held back, to see when the page is shown all the same. */
    private const HELD_SECONDS = 5.0;

    /** So long a page that hangs is given to end by itself. */
    private const LAST_SECONDS = 5.0;

    public function play(Stage $stage, ?string $variant): Outcome
    {
        $outcome = new Outcome();
        $stage->say('The snippet: an ordinary visit');
        $visitor = $stage->visitors->make($stage->control()->variant->key, $stage->screen());
        $tab = $visitor->tab;
        $tab->prepare(Probe::watch([]));
        $stage->visitors->open($visitor);
        $tab->settle();
        $runs = ! $tab->hangs && $stage->awaitRuntime($tab);
        $told = $tab->hangs ? [] : (array) $tab->evaluate('pellixWatch.told()', true);
        // What takes more memory than it gets hangs first, and ends then.
        $tab->hangs && $tab->attend(self::LAST_SECONDS);
        $outcome->noteAll($tab->watch, null, null);
        $picture = $tab->hangs ? null : $tab->picture('jpeg');
        $picture === null || $stage->keep('now.jpg', 'image/jpeg', $picture);
        if ($tab->hangs && $tab->watch->noted('crash') === null) {
            $outcome->figures['runs'] = false;
            $outcome->found(new Finding(CheckCode::PageHangs, 'The page hangs: it does not answer any more.', 'A script of the page keeps the browser busy for ever.', 'See which script it is; visitors cannot do anything there either.'));
            $visitor->leave();

            return $outcome;
        }
        if (Outcome::isBroken($tab->watch)) {
            // Everything else would only say so again.
            $outcome->figures['runs'] = false;
            $stage->evidence($tab, 'snippet');
            $visitor->leave();

            return $outcome;
        }
        $outcome->figures['runs'] = $runs;
        if (self::page($tab->address()) === self::page($stage->page())) {
            $outcome->proven(Link::Page, 'The page loads in a browser, at its own address.');
        }
        $this->loaded($stage, $outcome, $tab, $told, $runs);
        $this->console($stage, $outcome, $tab);
        $this->others($stage, $outcome, $tab);
        $runs || $stage->evidence($tab, 'snippet');
        $visitor->leave();
        if ($runs) {
            $this->failing($stage, $outcome, $told);
        }

        return $outcome;
    }

    /** @param array<string, mixed> $told */
    private function loaded(Stage $stage, Outcome $outcome, Tab $tab, array $told, bool $runs): void
    {
        $files = array_values(array_filter($tab->watch->requests, static fn (array $one): bool => preg_match('~/s/plx_[a-z0-9]+\.js(?:\?|\z)~', $one['url']) === 1));
        $own = array_values(array_filter($files, static fn (array $one): bool => str_contains($one['url'], "/s/{$stage->site->key}.js")));
        $foreign = array_values(array_filter($files, static fn (array $one): bool => ! str_contains($one['url'], "/s/{$stage->site->key}.js")));
        $isThere = array_filter((array) ($told['scripts'] ?? []), static fn (array $one): bool => (bool) $one[1]) !== [];
        foreach ((array) ($told['refused'] ?? []) as $refused) {
            // Of inline code, and of what code makes of texts, a policy does not tell whose it is: it is ours where ours stands there and does not run.
            $isOurs = str_contains((string) $refused['what'], $stage->site->key) || str_starts_with((string) $refused['what'], $stage->pellix)
                || ($own === [] && $isThere && (($refused['what'] === 'inline' && str_starts_with((string) $refused['by'], 'script-src')) || str_contains((string) $refused['by'], 'trusted-types')));
            if ($isOurs && ! $refused['isReport']) {
                $outcome->found(new Finding(CheckCode::SnippetBlocked, preg_match('/\A(?:connect|img)/', (string) $refused['by']) === 1 ? 'The page’s policy keeps our events from leaving the page.' : 'The page’s policy keeps our code from running.', "Content-Security-Policy: {$refused['by']} refuses {$refused['what']}.", self::allowing((string) $refused['by'], $stage->pellix), evidence: ['directive' => $refused['by'], 'what' => $refused['what'], 'line' => $refused['line']]));
            }
        }
        if ($foreign !== []) {
            $outcome->found(new Finding(CheckCode::SnippetWrongKey, 'The page loads the file of another site.', $foreign[0]['url'], "Put in the snippet of this site, with the key {$stage->site->key}."));
        }
        if ($own === [] && $tab->watch->noted('download') !== null && str_starts_with($tab->address(), 'about:')) {
            $outcome->found(new Finding(CheckCode::PageUnreachable, 'There is no page at the address: a file comes instead.', (string) $tab->watch->noted('download'), 'Correct the page rule, or have the server send a page.'));

            return;
        }
        if ($own === []) {
            // Where the policy keeps it from running, that is told already.
            $isTold = array_filter($outcome->findings, static fn (Finding $one): bool => $one->severity === Severity::Blocker) !== [];
            $isTold || $outcome->found(new Finding(CheckCode::SnippetMissing, 'No snippet ran on the page: our file was not asked for.', 'The page does not have the snippet, or something stops it before it runs.', 'Inspect the page under Wiring, and put the snippet into its head.', evidence: ['page' => $stage->page()]));

            return;
        }
        $there = $tab->address();
        if (! $runs && self::page($there) !== self::page($stage->page())) {
            $outcome->found(new Finding(CheckCode::PageLeadsAway, 'The page sends its visitors on before anything else: to '.mb_substr($there, 0, 200).'.', 'By a script of its own, or by the server.', 'Name the page that visitors end on in the page rule.', evidence: ['page' => $stage->page(), 'landed' => $there]));

            return;
        }
        foreach ($own as $file) {
            if ($file['failed'] !== null || ($file['status'] ?? 200) >= 400) {
                $outcome->found(new Finding(CheckCode::SnippetUnreachable, 'Our file was not loaded.', $file['blocked'] ?? $file['failed'] ?? "The server answered {$file['status']}.", 'See whether something between the visitor and Pellix refuses it.', evidence: ['file' => $file['url']]));
            }
        }
        $loaders = count(array_filter((array) ($told['scripts'] ?? []), static fn (array $one): bool => (bool) $one[1]));
        if (count($own) > 1 || $loaders > 1) {
            $outcome->found(new Finding(CheckCode::SnippetTwice, 'The snippet stands on the page '.max(count($own), $loaders).' times.', 'It counts once, and its file is asked for more often than needed.', 'Take all but the first one out.'));
        }
        if (! $runs) {
            if (array_filter($outcome->findings, static fn (Finding $one): bool => $one->code->link() === Link::Snippet) === []) {
                $outcome->found(new Finding(CheckCode::SnippetMissing, 'Our file was loaded, and its runtime did not begin.', 'Something on the page stops it.', 'See what the console says.', evidence: ['console' => array_slice(array_column($tab->watch->console, 'text'), 0, 3)]));
            }

            return;
        }
        $number = $tab->evaluate('window.pellixSite && window.pellixSite.number');
        $outcome->figures['configuration'] = $number;
        if ($stage->file === null && is_int($number) && $number < $stage->site->published_number) {
            $outcome->found(new Finding(CheckCode::SnippetOld, "The page got number {$number} of the published file; the newest is {$stage->site->published_number}.", 'Something on the way keeps an older copy.', 'Have the copy dropped there, or wait until it has run out.'));
        }
        if ($outcome->findings === []) {
            $outcome->proven(Link::Snippet, 'The snippet loads, once, with the key of this site, and runs.');
        }
    }

    private static function allowing(string $directive, string $pellix): string
    {
        return match (true) {
            str_contains($directive, 'trusted-types') => 'Take require-trusted-types-for out of the policy of this page, or have a policy named “default” that lets our file through.',
            str_starts_with($directive, 'style') => 'Allow it in the policy: a nonce for the flicker guard and for style sheets that variants add, in style-src.',
            default => "Allow it in the policy: a nonce for the inline code, and {$pellix} for ".(str_starts_with($directive, 'connect') || str_starts_with($directive, 'img') ? 'connect-src and img-src' : 'script-src').'.',
        };
    }

    /** Errors that our code caused are told apart from the page's own, by the file that they came from. */
    private function console(Stage $stage, Outcome $outcome, Tab $tab): void
    {
        $ours = $theirs = [];
        foreach ($tab->watch->console as $line) {
            if ($line['level'] === 'error' || str_starts_with($line['text'], 'pellix:')) {
                // What a policy or the network refused is told by itself.
                if ($line['kind'] === 'security' || $line['kind'] === 'network') {
                    continue;
                }
                $isOurs = str_contains($line['url'], "/s/{$stage->site->key}.js") || str_starts_with($line['text'], 'pellix:');
                $isOurs ? $ours[] = $line : $theirs[] = $line;
            }
        }
        if ($ours !== []) {
            $outcome->found(new Finding(CheckCode::SnippetErrors, 'Our code caused '.count($ours).(count($ours) === 1 ? ' error' : ' errors').' in the console.', $ours[0]['text'], 'See what it says; the page’s own errors are told apart from these.', evidence: ['lines' => array_slice(array_map(static fn (array $one): string => "{$one['text']} ({$one['url']}:{$one['line']})", $ours), 0, 5)]));
        } else {
            $outcome->proven(Link::Snippet, 'Our code causes no error in the console.');
        }
        if ($theirs !== []) {
            $outcome->found(new Finding(CheckCode::PageErrors, 'The page itself has '.count($theirs).(count($theirs) === 1 ? ' error' : ' errors').' in the console.', $theirs[0]['text'], 'Not ours; tell the developers.', evidence: ['lines' => array_slice(array_map(static fn (array $one): string => "{$one['text']} ({$one['url']}:{$one['line']})", $theirs), 0, 5)]));
        }
    }

    private static function page(string $url): string
    {
        return rtrim((string) preg_replace('~[?#].*\z~s', '', $url), '/');
    }

    private function others(Stage $stage, Outcome $outcome, Tab $tab): void
    {
        $hosts = $stage->otherHosts($tab);
        if ($hosts !== []) {
            $outcome->found(new Finding(CheckCode::PageOtherHosts, 'Requests to other hosts were held back: '.implode(', ', array_slice($hosts, 0, 8)).(count($hosts) > 8 ? ' and '.(count($hosts) - 8).' more' : '').'.', 'A rehearsal calls the site’s own hosts only; what the page gets from elsewhere is missing here.', 'Where the page needs them, name them as hosts of the site.'));
        }
    }

    /**
     * Our file slow, blocked, and answered with an error: all at the same time, since each waits.
     *
     * @param array<string, mixed> $ordinary
     */
    private function failing(Stage $stage, Outcome $outcome, array $ordinary): void
    {
        $stage->say('The snippet: our file slow, blocked, and with an error');
        $held = [];
        $ways = [
            'takes very long' => static function (string $request) use (&$held): array {
                $held[] = $request;

                return ['', []];
            },
            'is blocked' => static fn (): array => ['Fetch.failRequest', ['errorReason' => 'BlockedByClient']],
            'answers with an error' => static fn (): array => ['Fetch.fulfillRequest', ['responseCode' => 503, 'responseHeaders' => [['name' => 'Content-Type', 'value' => 'text/plain']], 'body' => base64_encode('no')]],
        ];
        $visitors = [];
        foreach ($ways as $way => $gate) {
            $visitors[$way] = $stage->visitors->make($stage->control()->variant->key, $stage->screen(), $gate);
            $visitors[$way]->tab->prepare(Probe::watch([]));
            $stage->visitors->open($visitors[$way]);
        }
        $hasGuard = array_filter((array) ($ordinary['scripts'] ?? []), static fn (array $one): bool => (bool) $one[2]) !== [];
        $usual = FlickerJudge::shownAfter($ordinary['frames'] ?? []) ?? 0.0;
        $until = microtime(true) + self::HELD_SECONDS;
        foreach ($visitors as $way => $visitor) {
            $isShown = $visitor->tab->await('pellixWatch.asked.isVisible(document.body)', max(0.5, $until - microtime(true)), true);
            $told = (array) $visitor->tab->evaluate('pellixWatch.told()', true);
            // A busy browser may not have made the frame yet that shows it.
            $shown = FlickerJudge::shownAfter($told['frames'] ?? []) ?? ($isShown ? (float) ($told['now'] ?? 0) : null);
            $outcome->figures['shown'][$way] = $shown;
            // A busy machine is not what is judged: the guard's own time, and half of it again.
            if ($shown === null || $shown > $usual + 1.5 * Guard::LONGEST_MILLISECONDS) {
                $outcome->found(new Finding(CheckCode::GuardLate, "When our file {$way}, the page is hidden ".($shown === null ? 'for more than '.self::HELD_SECONDS.' s' : 'until '.round($shown).' ms after it began').'.', 'The flicker guard does not let the page go.', 'Put in the guard as Pellix gives it out: it shows the page after its time, whatever happens.', evidence: ['step' => $way]));
            } else {
                $outcome->proven(Link::Snippet, "When our file {$way}, the page is shown after ".round($shown).' ms.');
            }
        }
        foreach ($held as $request) {
            $visitors['takes very long']->tab->send('Fetch.continueRequest', ['requestId' => $request]);
        }
        array_walk($visitors, static fn ($visitor) => $visitor->leave());
        if (! $hasGuard && $stage->experiment->kind !== 'redirect') {
            $outcome->found(new Finding(CheckCode::GuardMissing, 'The page has no flicker guard.', 'While our file is under way, visitors see the page unchanged.', 'Put the flicker guard into the head, before the snippet, or see below whether anything flickers.'));
        }
    }
}
