<?php

declare(strict_types=1);

namespace Bench;

use App\Inventory\Inventory;
use App\Models\Experiment;
use App\Models\Goal;
use App\Models\Site;
use App\Models\User;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Events\EventName;
use Pellix\Core\Pages\PageKey;

/** A site of any size, made up: areas with pages, experiments and goals on them, visitors who wander about, buy now and then. */
final class LargeSite
{
    public const KEY = 'plx_benchscale000001';
    public const HOST = 'scale.localhost';
    public const DAYS = 45;
    private const ENTRIES = 100_000;
    private const AREAS = 40;
    private const RAN_DAYS = 20;
    private const AGENTS = [
        'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36',
        'Mozilla/5.0 (iPhone; CPU iPhone OS 18_5 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.5 Mobile/15E148 Safari/604.1',
        'Mozilla/5.0 (X11; Linux x86_64; rv:141.0) Gecko/20100101 Firefox/141.0',
    ];

    public function __construct(private readonly int $events, private readonly int $visitors, private readonly int $pages, private readonly int $experiments, private readonly int $goals)
    {
    }

    /** What is declared: the site, its goals, experiments that have run for some weeks, and its inventory. */
    public function declare(CarbonImmutable $now): Site
    {
        $site = Site::query()->create([
            'key' => self::KEY, 'name' => 'Scale', 'hosts' => [self::HOST], 'time_zone' => 'UTC', 'currency' => 'EUR', 'cookie_days' => 15, 'srm_alpha' => 0.001, 'fresh_seconds' => 86400,
        ]);
        $person = User::query()->firstOrFail();
        $site->users()->attach($person, ['right' => 'own']);
        $goals = array_map(fn (int $i): Goal => $this->goal($site, $i), range(0, $this->goals - 1));
        for ($i = 0; $i < $this->experiments; $i++) {
            $this->experiment($site, $i, [$goals[$i % $this->goals], $goals[($i + 20) % $this->goals]], $now->subDays(self::RAN_DAYS));
        }
        $this->logbook($site, $now);
        $inventory = app(Inventory::class);
        for ($from = 0; $from < $this->pages; $from += 5000) {
            $inventory->add($site, array_map(fn (int $n): string => self::address($n), range($from, min($from + 5000, $this->pages) - 1)), 'sitemap');
        }
        DB::statement("update pages set inspected_at = ?, verdict = elt(1 + id % 20, 'broken', 'doubt', 'sound', 'sound', 'sound', 'sound', 'sound', 'sound', 'sound', 'sound', 'sound', 'sound', 'sound', 'sound', 'sound', 'sound', 'sound', 'sound', 'sound', 'sound'),
            faulty = if(id % 20 = 0, '[\"snippet\"]', '[]'), `rank` = if(id % 20 = 0, 0, if(id % 20 = 1, 1, 4)) where site_id = ?", [$now->format('Y-m-d H:i:s.v'), $site->id]);
        $site->eventDefinitions()->create(['name' => 'order', 'meaning' => 'An order', 'schema' => ['type' => 'object', 'required' => ['order_id']], 'examples' => []]);

        return $site->refresh();
    }

    public static function address(int $n): string
    {
        return 'http://'.self::HOST.'/area'.($n % self::AREAS)."/page-{$n}";
    }

    /**
     * The events as lines for LOAD DATA, visitor by visitor, and the same for the ledger.
     *
     * @param resource $events
     * @param resource $ledger
     */
    public function write(int $site, int $fromVisitor, int $toVisitor, $events, $ledger, CarbonImmutable $now): int
    {
        mt_srand(20260302 + $fromVisitor);
        $perVisitor = (int) round($this->events / $this->visitors);
        $written = 0;
        $end = $now->getTimestamp();
        $forgotten = gmdate('Y-m-d H:i:s', $end - 14 * 86400);
        for ($i = $fromVisitor; $i < $toVisitor; $i++) {
            $visitor = sprintf('%07x', $i).substr(md5("visitor {$i}"), 0, 19);
            $time = $end - mt_rand(3600, self::DAYS * 86400);
            $agent = self::AGENTS[$i % 3];
            $page = $this->page();
            for ($n = 0; $n < $perVisitor; $n++) {
                $written++;
                $time += mt_rand(3, 90);
                [$name, $experiment, $variant, $props] = $this->doing($visitor, $n, $perVisitor, $page, $i);
                if ($name === 'page_view') {
                    $page = $n === 0 ? $page : $this->page();
                }
                $url = self::address($page);
                $moment = gmdate('Y-m-d H:i:s', $time).'.000';
                $id = sprintf('%s%02x', substr($visitor, 0, 24), $n);
                fwrite($events, implode("\t", [$site, $visitor, $moment, $id, $moment, $n, 0, $name, $url, PageKey::of($url)->id, '\N', $agent, '\N', $visitor, 1, $experiment ?? '\N', $variant ?? '\N', ['desktop', 'mobile', 'desktop'][$i % 3], ['chrome', 'safari', 'firefox'][$i % 3], '\N', '\N', $props])."\n");
                if ($moment >= $forgotten) {
                    fwrite($ledger, "{$site}\t{$id}\t{$visitor}\t{$moment}\t{$moment}\t0\n");
                }
            }
        }

        return $written;
    }

    /** A few pages are seen much more often than the others. */
    private function page(): int
    {
        return (int) floor($this->pages * (mt_rand() / mt_getrandmax()) ** 4) % $this->pages;
    }

    /** @return array{string, string|null, string|null, string} name, experiment, variant, properties */
    private function doing(string $visitor, int $n, int $of, int $page, int $i): array
    {
        $area = $page % self::AREAS;
        if ($n === 1 && $area < $this->experiments) {
            $variant = crc32($visitor) % 2 === 0 ? 'control' : 'b';

            return [EventName::Exposure->value, "scale-{$area}", $variant, "{\"experiment\":\"scale-{$area}\",\"variant\":\"{$variant}\",\"bucket\":1}"];
        }
        if ($n === $of - 1 && $i % 12 === 0) {
            return ['order', null, null, "{\"order_id\":\"S-{$i}\",\"value\":".(10 + $i % 90).',"currency":"EUR"}'];
        }
        if ($n === 2 && $i % 3 === 0) {
            return [EventName::Click->value, null, null, '{"path":"html>body>main>a#next.button"}'];
        }

        return [EventName::PageView->value, null, null, '{}'];
    }

    private function goal(Site $site, int $i): Goal
    {
        $pages = ['fact' => 'url.path', 'op' => 'starts', 'value' => '/area'.($i % self::AREAS).'/'];
        $definition = match (intdiv($i, 8)) {
            0, 1, 2 => ['kind' => 'page', 'count' => ['visitor', 'session', 'every'][$i % 3], 'pages' => [...$pages, 'value' => "/area{$i}/page-{$i}", 'op' => 'is']],
            3 => ['kind' => 'click', 'count' => 'session', 'selector' => '#next', 'pages' => $pages],
            default => [
                ['kind' => 'order', 'count' => 'every', 'currency' => 'EUR'],
                ['kind' => 'steps', 'count' => 'visitor', 'steps' => [['kind' => 'page', 'pages' => $pages], ['kind' => 'order']]],
            ][$i % 2],
        };
        $definition = ['key' => "goal-{$i}", 'name' => "Goal {$i}", ...$definition];

        return $site->goals()->create(['key' => $definition['key'], 'name' => $definition['name'], 'definition' => $definition]);
    }

    /** So many changes as ten people make in years. */
    private function logbook(Site $site, CarbonImmutable $now): void
    {
        foreach (range(0, self::ENTRIES - 1, 1000) as $from) {
            DB::table('activity_log')->insert(array_map(fn (int $i): array => [
                'site_id' => $site->id, 'log_name' => 'interface', 'description' => '', 'event' => 'changed', 'thing' => 'experiment', 'thing_key' => 'scale-'.$i % $this->experiments, 'thing_name' => "Experiment {$i}",
                'person' => 'Person '.$i % 10, 'created_at' => $now->subMinutes(self::ENTRIES - $i)->format('Y-m-d H:i:s.v'), 'properties' => '{"changes":[{"field":"share","before":1,"after":0.5}]}',
            ], range($from, $from + 999)));
        }
    }

    /** @param list<Goal> $goals */
    private function experiment(Site $site, int $i, array $goals, CarbonImmutable $from): void
    {
        $experiment = Experiment::query()->create([
            'site_id' => $site->id, 'key' => "scale-{$i}", 'name' => "Experiment {$i}", 'hypothesis' => '', 'state' => 'running', 'salt' => "scale-{$i}", 'share' => 1,
            'variants' => [['key' => 'control', 'name' => 'As it is', 'weight' => 50, 'control' => true, 'changes' => []], ['key' => 'b', 'name' => 'Other', 'weight' => 50, 'control' => false, 'changes' => []]],
            'pages' => ['fact' => 'url.path', 'op' => 'starts', 'value' => "/area{$i}/"], 'started_at' => $from, 'changed_at' => $from, 'revision' => 1,
        ]);
        foreach ($goals as $position => $goal) {
            $experiment->goals()->syncWithoutDetaching([$goal->id => ['role' => $position === 0 ? 'primary' : 'secondary', 'position' => $position]]);
        }
        $experiment->load('goals')->revisions()->create(['number' => 1, 'from' => $from, 'stage' => 'running', 'declared' => $experiment->declaration(), 'changed' => [], 'author' => 'Bench']);
    }
}
