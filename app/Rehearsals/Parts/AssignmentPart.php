<?php

declare(strict_types=1);

namespace App\Rehearsals\Parts;

use App\Rehearsals\Browser\Tab;
use App\Rehearsals\Outcome;
use App\Rehearsals\Probe;
use App\Rehearsals\Stage;
use App\Rehearsals\Visitor;
use Pellix\Core\Chain\Link;
use Pellix\Core\Experiments\DeclaredVariant;
use Pellix\Core\Rehearsal\AssignmentJudge;
use Pellix\Core\Rehearsal\CheckCode;
use Pellix\Core\Rehearsal\Finding;
use Pellix\Core\Wiring\Findings\Severity;

/** Whether visitors get the variant that the core computes, keep it, and are split as weighted. */
final readonly class AssignmentPart implements Part
{
    private const RELOADS = 5;

    private const QUICK = 200;

    public function play(Stage $stage, ?string $variant): Outcome
    {
        $outcome = new Outcome();
        if (! $stage->runs()) {
            return $outcome;
        }
        if ($stage->experiment->unit === 'user') {
            $this->quick($stage, $outcome);

            return $outcome;
        }
        $shown = array_values(array_filter($stage->variants(), static fn (DeclaredVariant $one): bool => $one->variant->weight > 0 && $one->target === null));
        $stage->say('Assignment: loading again and again');
        foreach ($shown as $i => $one) {
            // A restart keeps the profile of every visitor in the same way: once is enough.
            $this->kept($stage, $outcome, $one->variant->key, $i === count($shown) - 1);
        }
        $stage->say('Assignment: '.self::QUICK.' quick visitors');
        $this->quick($stage, $outcome);

        return $outcome;
    }

    private function kept(Stage $stage, Outcome $outcome, string $variant, bool $withRestart): void
    {
        $visitor = $stage->visitors->make($variant, $stage->screen());
        $tab = $visitor->tab;
        $stage->visitors->open($visitor);
        $tab->settle();
        if (! $stage->awaitRuntime($tab, 3.0)) {
            // What keeps the runtime from running is told elsewhere.
            $visitor->leave();

            return;
        }
        $stage->visitors->setOff($tab);
        $tab->attend(0.3);
        $first = $this->state($stage, $tab);
        if ($first['variant'] === null) {
            $this->notKept($stage, $outcome, $visitor, $first);
            $visitor->leave();

            return;
        }
        if ($first['id'] === $visitor->id && $first['variant'] !== $variant) {
            $outcome->found(new Finding(CheckCode::AssignmentDiffers, "The visitor belongs to “{$variant}”, and got “{$first['variant']}”.", 'The browser assigned another variant than the core computes for this id.', 'See whether the published file is of this experiment as it is now.', $variant, evidence: ['id' => $visitor->id]));
        } else {
            $outcome->proven(Link::Split, "The browser assigns “{$variant}”, as the core computes for this id.", $variant);
        }
        $outcome->take(AssignmentJudge::cookies($tab->cookies($stage->page()), $stage->site->cookie_days, str_starts_with($stage->page(), 'https:'), $stage->cookieDomain(), microtime(true), $variant));
        $lost = null;
        for ($i = 1; $i <= self::RELOADS && $lost === null; $i++) {
            $tab->execute('Page.reload');
            $tab->attend(0.15);
            $tab->settle();
            $stage->awaitRuntime($tab, 2.0);
            $tab->attend(0.1);
            $lost = AssignmentJudge::lost($first, $this->state($stage, $tab), $i === 1 ? 'after the page was loaded again' : "after the page was loaded again {$i} times", $variant);
        }
        if ($lost === null) {
            $another = $tab->another();
            $stage->visitors->connect($another);
            $another->go($stage->page());
            $another->settle();
            $stage->awaitRuntime($another, 2.0);
            $lost = AssignmentJudge::lost($first, $this->state($stage, $another), 'in a new tab', $variant);
            $another->close();
        }
        $lost === null || $stage->evidence($tab, 'assignment');
        $visitor->leave();
        $lost ??= $withRestart ? $this->afterRestart($stage, $variant, (string) $visitor->id) : null;
        if (! $outcome->found($lost)) {
            $outcome->proven(Link::Split, self::RELOADS.($withRestart ? ' reloads, a new tab and a restart of the browser keep “' : ' reloads and a new tab keep “').$variant.'”.', $variant);
        }
    }

    /** @param array{id: string|null, variant: string|null} $state */
    private function notKept(Stage $stage, Outcome $outcome, Visitor $visitor, array $state): void
    {
        $entered = $stage->received->exposures((string) $visitor->id, $stage->experiment->key);
        if ($entered === []) {
            // Whether visitors enter is asked for by itself.
            return;
        }
        $outcome->found(AssignmentJudge::neverKept($state['id'], $visitor->variant));
        $stage->evidence($visitor->tab, 'assignment');
    }

    private function afterRestart(Stage $stage, string $variant, string $id): ?Finding
    {
        $state = [];
        foreach ([false, true] as $again) {
            $browser = $stage->visitors->lastingBrowser();
            try {
                $tab = $browser->lasting($stage->screen());
                $again || $stage->visitors->give($tab, 'plx_visitor', $id);
                $again || $stage->visitors->agree($tab);
                $stage->visitors->connect($tab);
                $tab->go($stage->page());
                $tab->settle();
                $stage->awaitRuntime($tab, 3.0);
                $tab->attend(0.3);
                $state[] = $this->state($stage, $tab);
                $tab->leave();
            } finally {
                $browser->end(! $again);
            }
        }

        return AssignmentJudge::lost($state[0], $state[1], 'after the browser was started again', $variant);
    }

    /** @return array{id: string|null, variant: string|null} what is kept of the visitor in the browser */
    private function state(Stage $stage, Tab $tab): array
    {
        $cookies = $tab->cookies($stage->page());
        $variant = null;
        foreach (explode('|', (string) ($cookies['plx_variants']['value'] ?? '')) as $pair) {
            [$experiment, $kept] = explode('~', $pair) + [1 => null];
            $variant = $experiment === $stage->experiment->key ? $kept : $variant;
        }

        return ['id' => $cookies['plx_visitor']['value'] ?? null, 'variant' => $variant];
    }

    /** Runs the site's file again and again in a page with nothing on it, each time for a visitor who has never been there. */
    private function quick(Stage $stage, Outcome $outcome): void
    {
        $file = $stage->file ?? $this->file($stage);
        $visitor = $stage->visitors->make(null, $stage->screen());
        $nothing = ['Fetch.fulfillRequest', ['responseCode' => 200, 'responseHeaders' => [['name' => 'Content-Type', 'value' => 'text/html']], 'body' => base64_encode('<!DOCTYPE html><title>Quick visitors</title>')]];
        $visitor->tab->guard([['urlPattern' => "{$stage->origin()}/*"]], static fn (array $paused): ?array => str_starts_with((string) $paused['request']['url'], "{$stage->origin()}/") ? $nothing : null);
        $visitor->tab->go($stage->page());
        $visitor->tab->settle(3.0, 0.0);
        $found = $file === null ? null : $visitor->tab->evaluate(Probe::call('quick', $file, $stage->experiment->key, self::QUICK, $stage->experiment->unit === 'user'), false, 20.0);
        $visitor->leave();
        if (! is_array($found)) {
            $outcome->found(new Finding(CheckCode::Failed, 'Quick visitors could not be made, so how visitors are split is not known.', $file === null ? 'The browser did not get the site’s file.' : 'The site’s file did not run on a page with nothing on it.', 'See what is found of the snippet.', severity: Severity::Warning, evidence: ['step' => 'quick']));

            return;
        }
        $quick = AssignmentJudge::quick(array_map(static fn (array $one): array => [(string) $one[0], $one[1] === null ? null : (string) $one[1], array_values(array_map(strval(...), (array) $one[2]))], array_values($found)), $stage->experiment, $stage->members(), $stage->site->srm_alpha);
        $outcome->figures['quick'] = ['visitors' => count($found), 'variants' => $quick['counts'], 'differing' => $quick['differing']];
        $outcome->take(...$quick['findings'], ...$quick['proofs']);
    }

    /** The file that pages load, got from one of them; null where it is not to be had. */
    private function file(Stage $stage): ?string
    {
        $visitor = $stage->visitors->make(null, $stage->screen());
        $stage->visitors->open($visitor);
        $visitor->tab->settle(5.0, 0.0);
        $file = null;
        foreach ($stage->files as $one) {
            $file ??= $visitor->tab->resource($stage->pellix.$one);
        }
        $visitor->leave();

        return $file;
    }
}
