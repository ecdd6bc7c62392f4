<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Fetching\FetchFailed;
use App\Inventory\Outlines;
use App\Models\Rehearsal;
use App\Models\RehearsalPart;
use App\Models\Site;
use App\Publishing\Publisher;
use App\ReadModel\Readings;
use App\Rehearsals\Browser\BrowserGone;
use App\Rehearsals\Browser\CommandFailed;
use App\Rehearsals\Browser\Keeper;
use Carbon\CarbonImmutable;
use Closure;
use Facebook\WebDriver\Exception\WebDriverException;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\Rehearsal\CheckCode;
use Pellix\Core\Rehearsal\Finding;
use Pellix\Core\Rehearsal\Results;
use Pellix\Core\Rehearsal\Script;
use Pellix\Core\Rehearsal\Step;
use Pellix\Core\Rehearsal\StepKind;

/**
 * Plays a rehearsal, part by part, each with what came of it kept at once: one that is stopped goes on with what is left. A part
 * that ends its browser gets a new one, and is not tried for ever.
 */
final readonly class Rehearser
{
    /** A rehearsal that takes longer is ended, with what it has. */
    private const MOST_SECONDS = 600;

    private const LEASE_SECONDS = 120;

    private const MOST_TRIES = 2;

    /** So many pages of its way are looked at, so that it can be told later that they have changed. */
    private const MOST_PAGES = 4;

    public function __construct(private Hosts $hosts, private EntryPages $pages, private Publisher $publisher, private Again $again, private Outlines $outlines)
    {
    }

    /**
     * Takes the oldest that waits, or one that somebody has left.
     *
     * @param string $worker who asks
     */
    public function next(string $worker): ?Rehearsal
    {
        return DB::transaction(function () use ($worker): ?Rehearsal {
            $now = CarbonImmutable::now('UTC');
            $next = Rehearsal::query()->where(static fn ($any) => $any->where('state', 'waiting')->orWhere(static fn ($left) => $left->where('state', 'running')->where('lease', '<', $now->format('Y-m-d H:i:s.v'))))->orderBy('id')->lockForUpdate()->first();
            $next?->update(['state' => 'running', 'worker' => $worker, 'lease' => $now->addSeconds(self::LEASE_SECONDS)->format('Y-m-d H:i:s.v'), 'tries' => min(200, $next->tries + 1), 'started_at' => $next->started_at ?? $now]);

            return $next;
        });
    }

    /**
     * Gives back what a worker on this machine had taken that is no more: it was killed, and could not say so.
     *
     * @param string $host name of this machine, which workers' names begin with
     */
    public function takeBack(string $host): void
    {
        foreach (Rehearsal::query()->where('state', 'running')->where('worker', 'like', addcslashes($host, '\\%_').':%')->get() as $left) {
            $process = (int) substr((string) $left->worker, strlen($host) + 1);
            // Another one may have its number meanwhile: only one that plays rehearsals counts.
            $isThere = str_contains((string) @file_get_contents("/proc/{$process}/cmdline"), 'pellix:rehearser') && $process !== getmypid();
            $isThere || $this->release($left);
        }
    }

    /** @param Closure(): bool $isStopping whether Pellix stops */
    public function play(Rehearsal $rehearsal, string $folder, Closure $isStopping): void
    {
        $browser = new Keeper($folder, fn (): array => $this->hosts->of($rehearsal->site));
        $until = microtime(true) + self::MOST_SECONDS;
        $watch = function () use ($rehearsal, $isStopping): void {
            $isStopping() && throw new Interrupted(false);
            $this->isOurs($rehearsal) || throw new Interrupted(true);
        };
        try {
            $stage = $this->stage($rehearsal, $watch);
            $rehearsal->done > 0 || $this->look($rehearsal, $stage);
            foreach ($rehearsal->parts()->where('state', '<>', 'done')->get() as $part) {
                $watch();
                if (microtime(true) > $until) {
                    $this->keep($rehearsal, $part, self::outcome(new Finding(CheckCode::TimeOver, "There was no time left for “{$part->words}”.", 'The rehearsal took longer than '.self::MOST_SECONDS.' s.', 'Rehearse fewer variants or screens at a time.', $part->variant, evidence: ['step' => $part->words])), 0.0);
                    continue;
                }
                $begin = microtime(true);
                $outcome = $this->playPart($stage, $part, $browser, $watch);
                $this->keep($rehearsal, $part, $outcome, microtime(true) - $begin);
            }
            $this->end($rehearsal);
        } catch (FetchFailed $e) {
            // No part can be played: that is said once.
            $left = $rehearsal->parts()->where('state', '<>', 'done')->get();
            foreach ($left as $i => $part) {
                $this->keep($rehearsal, $part, $i === 0 ? self::outcome(new Finding(CheckCode::PageUnreachable, 'The site cannot be called: '.$e->getMessage(), '', 'See the hosts of the site, and whether they answer.')) : new Outcome(), 0.0);
            }
            $this->end($rehearsal);
        } catch (Interrupted $e) {
            $e->isCancelled || $this->release($rehearsal);
        } finally {
            $browser->end();
        }
    }

    private function release(Rehearsal $rehearsal): void
    {
        Rehearsal::query()->whereKey($rehearsal->id)->where('state', 'running')->update(['state' => 'waiting', 'worker' => null, 'lease' => null]);
    }

    /** @throws FetchFailed */
    private function playPart(Stage $stage, RehearsalPart $part, Keeper $browser, Closure $watch): Outcome
    {
        if ($part->tries >= self::MOST_TRIES) {
            return self::outcome(new Finding(CheckCode::Failed, "“{$part->words}” could not be rehearsed: it ended the browser ".self::MOST_TRIES.' times.', '', 'See what the page does to a browser; the log says more.', $part->variant, evidence: ['step' => $part->words]));
        }
        $part->update(['state' => 'running', 'tries' => $part->tries + 1]);
        try {
            return PartKind::from($part->kind)->part()->play($stage->in($browser->get()), $part->kind === PartKind::Installation->value ? (string) $part->place : $part->variant);
        } catch (FetchFailed $e) {
            throw $e;
        } catch (BrowserGone|CommandFailed|WebDriverException $e) {
            report($e);
            $browser->end();
            $watch();

            return $this->playPart($stage, $part->refresh(), $browser, $watch);
        } catch (Interrupted $e) {
            // That Pellix stops is no fault of the page's: it costs none of the tries.
            $part->update(['state' => 'waiting', 'tries' => $part->tries - 1]);

            throw $e;
        } catch (\Throwable $e) {
            // One part that fails takes no other down.
            report($e);

            return self::outcome(new Finding(CheckCode::Failed, "“{$part->words}” could not be rehearsed.", mb_substr($e->getMessage(), 0, 300), 'The log says more.', $part->variant, evidence: ['step' => $part->words]));
        }
    }

    /** Takes note of what the pages of its way are built of. */
    private function look(Rehearsal $rehearsal, Stage $stage): void
    {
        if ($rehearsal->experiment_id === null) {
            return;
        }
        $urls = [$stage->page(), $stage->pages[0]];
        foreach ($stage->script->steps as $step) {
            in_array($step->kind, [StepKind::Open, StepKind::Follow], true) && $urls[] = $stage->address((string) $step->name);
        }
        $pages = [];
        foreach (array_slice(array_values(array_unique($urls)), 0, self::MOST_PAGES) as $url) {
            $stage->say('Reading '.mb_substr($url, 0, 150));
            $seen = $this->outlines->look($rehearsal->site, $url);
            $seen === null || $pages[$seen['id']] = array_diff_key($seen, ['id' => 0]);
        }
        $rehearsal->update(['about' => [...$rehearsal->about ?? [], 'pages' => $pages]]);
    }

    private function stage(Rehearsal $rehearsal, Closure $watch): Stage
    {
        $experiment = $rehearsal->experiment;
        $declared = $experiment?->declaredAnew() ?? self::nothing($rehearsal->site);
        $script = Script::read($rehearsal->script);

        return new Stage(
            $rehearsal,
            $rehearsal->site,
            $declared,
            rtrim((string) config('app.url'), '/'),
            $experiment === null ? array_map(static fn (Step $step): string => (string) $step->name, $script->steps) : $this->pages->of($rehearsal->site, $experiment->id, $declared),
            match (true) {
                $experiment === null => $this->publisher->bare($rehearsal->site),
                $experiment->state === 'running' => null,
                default => $this->publisher->asIf($rehearsal->site, $declared),
            },
            $script,
            function (string $words) use ($rehearsal, $watch): void {
                $watch();
                Rehearsal::query()->whereKey($rehearsal->id)->where('state', 'running')->update(['doing' => mb_substr($words, 0, 200), 'lease' => CarbonImmutable::now('UTC')->addSeconds(self::LEASE_SECONDS)->format('Y-m-d H:i:s.v')]);
            },
            static function (string $name, string $media, string $content) use ($rehearsal): void {
                DB::table('rehearsal_files')->upsert([['rehearsal_id' => $rehearsal->id, 'name' => $name, 'media' => $media, 'content' => $content, 'at' => CarbonImmutable::now('UTC')->format('Y-m-d H:i:s.v')]], ['rehearsal_id', 'name']);
            },
            (string) config('app.key'),
        );
    }

    /** What is rehearsed where nothing is tested: two variants that change nothing, of which no page hears. */
    private static function nothing(Site $site): Declared
    {
        return Declared::read(['pellix' => 1, 'key' => 'installation', 'salt' => "installation-{$site->key}", 'pages' => ['all' => []], 'variants' => [['key' => 'control', 'weight' => 50, 'control' => true], ['key' => 'same', 'weight' => 50]]]);
    }

    private function isOurs(Rehearsal $rehearsal): bool
    {
        return Rehearsal::query()->whereKey($rehearsal->id)->where('state', 'running')->where('worker', $rehearsal->worker)->exists();
    }

    private function keep(Rehearsal $rehearsal, RehearsalPart $part, Outcome $outcome, float $seconds): void
    {
        $part->update(['state' => 'done', 'seconds' => round($seconds, 2), 'result' => $outcome->toArray()]);
        $codes = array_count_values(array_column(Results::merged(Report::allFindings($rehearsal)), 'severity'));
        Rehearsal::query()->whereKey($rehearsal->id)->update(['done' => $rehearsal->parts()->where('state', 'done')->count(), 'blockers' => $codes['blocker'] ?? 0, 'warnings' => $codes['warning'] ?? 0, 'notes' => $codes['note'] ?? 0]);
    }

    private function end(Rehearsal $rehearsal): void
    {
        Rehearsal::query()->whereKey($rehearsal->id)->where('state', 'running')->update(['state' => 'done', 'doing' => '', 'worker' => null, 'lease' => null, 'ended_at' => CarbonImmutable::now('UTC')->format('Y-m-d H:i:s.v')]);
        DB::table('rehearsal_files')->where('rehearsal_id', $rehearsal->id)->where('name', 'now.jpg')->delete();
        $this->vouch($rehearsal->refresh());
    }

    /** Each check feeds its link of the chain: what was proven and found there, and what it vouches for. */
    private function vouch(Rehearsal $rehearsal): void
    {
        if ($rehearsal->experiment_id === null || $rehearsal->state !== 'done') {
            return;
        }
        $results = $rehearsal->parts()->get()->map(static fn (RehearsalPart $part): array => ['findings' => $part->result['findings'] ?? [], 'proofs' => $part->result['proofs'] ?? []])->all();
        ['links' => $links, 'goals' => $goals] = Results::vouched($results, array_column($rehearsal->experiment->variants ?? [], 'key'));
        $at = $rehearsal->started_at?->format('Y-m-d\TH:i:s.v\Z');
        Readings::keep($rehearsal->site_id, 'rehearsed', (string) $rehearsal->experiment_id, ['rehearsal' => $rehearsal->id, 'at' => $at, 'links' => $links, 'goals' => array_fill_keys($goals, $at), 'about' => $rehearsal->about, 'pages' => Outlines::changed($rehearsal->about['pages'] ?? [])]);
        $this->again->raise($rehearsal);
    }

    private static function outcome(Finding $finding): Outcome
    {
        $outcome = new Outcome();
        $outcome->found($finding);

        return $outcome;
    }
}
