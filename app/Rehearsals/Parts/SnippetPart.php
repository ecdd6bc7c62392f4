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
use Pellix\Core\Rehearsal\SnippetJudge;
use Pellix\Core\Rehearsal\SnippetSeen;
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
        $seen = $this->seen($stage, $tab, $told, $runs);
        $seen->isAtItsPage() && $outcome->proven(Link::Page, 'The page loads in a browser, at its own address.');
        $outcome->figures['configuration'] = $seen->number;
        $outcome->take(...SnippetJudge::judge($seen), ...SnippetJudge::console($seen));
        $this->others($stage, $outcome, $tab);
        $runs || $stage->evidence($tab, 'snippet');
        $visitor->leave();
        if ($runs) {
            $this->failing($stage, $outcome, $told);
        }

        return $outcome;
    }

    /** @param array<string, mixed> $told */
    private function seen(Stage $stage, Tab $tab, array $told, bool $runs): SnippetSeen
    {
        $number = $runs ? $tab->evaluate('window.pellixSite && window.pellixSite.number') : null;

        $files = array_values(array_filter($tab->watch->requests, static fn (array $one): bool => preg_match('~/s/plx_[a-z0-9]+\.js(?:\?|\z)~', $one['url']) === 1));
        // A page may carry an earlier key of the site for a while.
        $own = array_find($stage->files, static fn (string $path): bool => array_any($files, static fn (array $one): bool => str_contains($one['url'], $path))) ?? $stage->files[0];
        $others = array_diff($stage->files, [$own]);

        return new SnippetSeen(
            basename($own, '.js'),
            $stage->pellix,
            $stage->page(),
            $tab->address(),
            array_values(array_filter($files, static fn (array $one): bool => ! array_any($others, static fn (string $path): bool => str_contains($one['url'], $path)))),
            count(array_filter((array) ($told['scripts'] ?? []), static fn (array $one): bool => (bool) $one[1])),
            array_values(array_map(static fn (array $one): array => ['what' => (string) $one['what'], 'by' => (string) $one['by'], 'line' => (int) $one['line'], 'isReport' => (bool) $one['isReport']], (array) ($told['refused'] ?? []))),
            $runs,
            is_int($number) ? $number : null,
            $stage->file === null ? $stage->site->published_number : null,
            $tab->watch->noted('download'),
            $tab->watch->console,
        );
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
