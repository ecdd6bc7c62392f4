<?php

declare(strict_types=1);

namespace Demo\Seed;

use App\Audits\Audits;
use App\Collector\EventRow;
use App\Models\Activity;
use App\Models\Experiment;
use App\Models\Site;
use App\Models\User;
use App\ReadModel\Gatherer;
use App\ReadModel\Readings;
use App\ReadModel\Rounds;
use Carbon\CarbonImmutable;
use Demo\Library;
use Demo\Practice\PracticeSites;
use Demo\Traffic\Browser;
use Demo\Traffic\Dice;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;
use Pellix\Core\Events\ClockShift;
use Pellix\Core\Events\EventReader;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\Formats\Differences;
use Pellix\Core\Formats\Moment;

/** Fills an empty database with the demo: a person, the site, its experiments, and 28 days of events from a fixed seed. */
final class DemoSite
{
    private const PERSON = 'Ines Calder';
    private const COLLEAGUES = [['Tomé Alder', 'tome@larkhollow.example', 'publish'], ['Ada Quill', 'ada@larkhollow.example', 'look']];
    private const SEED = 20260302;

    public const DAYS = 28;

    private const VISITORS_PER_DAY = 260;

    private const AGENTS = [
        'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0.0.0 Safari/537.36',
        'Mozilla/5.0 (iPhone; CPU iPhone OS 18_5 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.5 Mobile/15E148 Safari/604.1',
        'Mozilla/5.0 (X11; Linux x86_64; rv:141.0) Gecko/20100101 Firefox/141.0',
    ];

    /** @var list<array{declared: Declared, from: CarbonImmutable, to: CarbonImmutable, fault: array<string, mixed>, effects: list<list<mixed>>}> */
    private array $ran = [];

    /** @var list<array<string, mixed>> rows waiting to be written */
    private array $rows = [];

    public function __construct(private readonly Wiring $wiring, private readonly Measures $measures, private readonly Gatherer $gatherer, private readonly Readings $readings, private readonly Rounds $rounds, private readonly PracticeSites $practice, private readonly Audits $audits)
    {
    }

    public function make(): void
    {
        $now = CarbonImmutable::now('UTC');
        $person = User::query()->create([
            'name' => self::PERSON, 'email' => 'ines@larkhollow.example', 'password' => config('pellix.demo_password'), 'makes_sites' => true,
        ]);
        $site = Site::query()->create([
            'key' => Library::SITE_KEY, 'name' => 'Larkhollow Instrument Library', 'hosts' => [Library::HOST, Library::DESK_HOST, Library::PAY_HOST], 'time_zone' => 'Europe/Lisbon',
            'currency' => 'EUR', 'cookie_days' => 15, 'srm_alpha' => 0.001, 'fresh_seconds' => 86400,
        ]);
        $site->users()->attach($person, ['right' => 'own']);
        foreach (self::COLLEAGUES as [$name, $email, $right]) {
            // Nobody signs in as one of them: their passwords are known to nobody.
            $site->users()->attach(User::query()->create(['name' => $name, 'email' => $email, 'password' => Str::random(40)]), ['right' => $right]);
        }
        $this->measures->make($site, $now);
        foreach (Experiments::all() as $json) {
            $this->experiment($site, $json, $now);
        }
        $this->traffic($site, $now);
        // The inventory begins with the addresses that events came from.
        $this->gatherer->untilIdle($site, $this->readings);
        $this->wiring->make($site, (string) config('pellix.demo_origin'), $now);
        $this->rounds->make($site);
        $this->logInOrder($site, $now);
        $this->practice->make($person);
        // The worker makes them as soon as it is there.
        foreach ($site->experiments()->whereNotNull('started_at')->orderBy('started_at')->get() as $experiment) {
            $this->audits->ofExperiment($experiment, $person);
        }
    }

    /** What was noted while all this was made stands in the order in which it is said to have happened. */
    private function logInOrder(Site $site, CarbonImmutable $now): void
    {
        // The site, its goals and its plan were there before the first experiment.
        DB::table('activity_log')->where('site_id', $site->id)->where('person', 'Pellix')->update(['person' => self::PERSON, 'log_name' => 'interface', 'created_at' => $now->subDays(self::DAYS + 3)->format('Y-m-d H:i:s.v')]);
        $entries = DB::table('activity_log')->where('site_id', $site->id)->orderBy('created_at')->orderBy('id')->get();
        DB::table('activity_log')->where('site_id', $site->id)->delete();
        foreach ($entries as $entry) {
            DB::table('activity_log')->insert(array_diff_key((array) $entry, ['id' => 0]));
        }
    }

    /** @param array<string, mixed> $json */
    private function experiment(Site $site, array $json, CarbonImmutable $now): void
    {
        $from = $json['days'] === null ? null : $now->subDays($json['days'][0]);
        $to = $json['days'] === null || $json['state'] === 'running' ? null : $now->subDays($json['days'][1]);
        $before = isset($json['before']) ? $now->subDays($json['before']['days']) : null;
        $made = isset($json['plan']) && $from !== null ? [...$json['plan'], 'made_by' => self::PERSON, 'made_at' => Moment::format($from->subDay())] : null;
        $declared = Declared::read([...array_diff_key($json, ['plan' => 0]), ...($made === null ? [] : ['plan' => $made]), ...($before === null || $from === null ? [] : ['epochs' => [
            ['from' => Moment::format($from), 'weights' => $json['before']['weights']], ['from' => Moment::format($before), 'weights' => array_column($json['variants'], 'weight', 'key')],
        ]])]);
        $ended = in_array($json['state'], ['ended', 'archived'], true) ? $to : null;
        $experiment = Experiment::query()->create([
            'site_id' => $site->id, 'key' => $declared->key, 'name' => $declared->name, 'hypothesis' => $declared->hypothesis->text,
            'state' => $json['state'], 'salt' => $declared->salt, 'share' => $declared->share, 'variants' => $json['variants'], 'pages' => $json['pages'],
            'kind' => $declared->kind, 'owner' => $declared->owner, 'notes' => $declared->notes, 'labels' => $declared->labels ?: null, 'planned_days' => $declared->plannedDays, 'plan' => $made, 'decision' => $declared->decision->isEmpty() ? null : $declared->decision->toArray(),
            'started_at' => $from, 'ended_at' => $ended, 'changed_at' => $to ?? $from ?? $now->subDays(2),
        ]);
        foreach ($declared->goals as $position => $goal) {
            $experiment->goals()->attach($site->goals()->where('key', $goal->key)->firstOrFail(), ['role' => $goal->role, 'position' => $position]);
        }
        $this->revise($experiment, $from, $to, $now, $before === null ? null : [$before, $json['before']['weights']]);
        if ($from !== null) {
            $this->ran[] = ['declared' => $declared, 'from' => $from, 'to' => $to ?? $now, 'fault' => $json['fault'], 'effects' => $json['effects']];
        }
    }

    /**
     * The states that the experiment went through, a revision and an entry of the Logbook each.
     *
     * @param array{CarbonImmutable, array<string, int>}|null $before until when it had other weights, and which
     */
    private function revise(Experiment $experiment, ?CarbonImmutable $from, ?CarbonImmutable $to, CarbonImmutable $now, ?array $before): void
    {
        $experiment->load('goals');
        $last = $experiment->state;
        $states = [
            ['draft', ($from ?? $now)->subDays(2), 'created'],
            ...($from === null ? [] : [['running', $from, 'started']]),
            ...($before === null ? [] : [['running', $before[0], 'changed']]),
            ...($to === null ? [] : [[$last === 'archived' ? 'ended' : $last, $to, $last === 'paused' ? 'paused' : 'ended']]),
            ...($last === 'archived' && $to !== null ? [['archived', $to->addDay(), 'archived']] : []),
        ];
        $kept = null;
        foreach ($states as $i => [$stage, $at, $event]) {
            $declared = $experiment->declaration();
            if ($before !== null && $at < $before[0]) {
                $declared['variants'] = array_map(static fn (array $variant): array => [...$variant, 'weight' => $before[1][$variant['key']]], $declared['variants']);
            }
            $experiment->revisions()->create([
                'number' => $i + 1, 'from' => $at, 'stage' => $stage, 'declared' => $declared, 'changed' => $i === 0 ? [] : [$event === 'changed' ? 'variants' : 'state'],
                'author_id' => User::query()->value('id'), 'author' => self::PERSON,
            ]);
            Activity::query()->forceCreate([
                'site_id' => $experiment->site_id, 'log_name' => 'interface', 'description' => '', 'event' => $event, 'thing' => 'experiment', 'thing_key' => $experiment->key, 'thing_name' => $experiment->name,
                'person' => self::PERSON, 'created_at' => $at, 'properties' => ['changes' => $kept === null ? [] : Differences::between($kept, $declared)],
            ]);
            $kept = $declared;
        }
        $experiment->update(['revision' => count($states)]);
    }

    private function traffic(Site $site, CarbonImmutable $now): void
    {
        $dice = new Dice(self::SEED);
        $walks = new Walks($dice);
        for ($hour = $now->subDays(self::DAYS)->startOfHour(); $hour < $now; $hour = $hour->addHour()) {
            for ($i = $walks->visitors($hour, self::VISITORS_PER_DAY); $i > 0; $i--) {
                $this->visit($site, $walks, $dice, $hour->addSeconds($dice->between(0, 3599)), $now);
            }
        }
        $this->write($site);
    }

    private function visit(Site $site, Walks $walks, Dice $dice, CarbonImmutable $begin, CarbonImmutable $now): void
    {
        $running = array_values(array_filter($this->ran, static fn (array $one): bool => $one['from'] <= $begin && $begin < $one['to']));
        $deaf = array_filter($running, static fn (array $one): bool => isset($one['fault']['deaf']));
        $name = static fn (array $one): string => $one['declared']->key;
        $browser = new Browser(array_column($running, 'declared'), $dice, array_values(array_map($name, $deaf)));
        $visitor = $dice->id();
        $doings = new Doings($dice);
        $agent = self::AGENTS[$dice->between(0, count(self::AGENTS) - 1)];
        $time = $begin;
        $referrer = null;
        $effects = Effects::on($visitor, $running);
        foreach ($effects->walk($walks->next()) as $path) {
            $url = config('pellix.demo_origin').$path;
            foreach ($time <= $now ? $browser->open($visitor, $url, $referrer, $time) : [] as $event) {
                if (! $this->isLost($event, $running)) {
                    $this->keep($site, $event, $agent, $time->addSecond());
                }
            }
            $stay = $dice->between(8, 70);
            foreach ($time <= $now ? $doings->on($visitor, $path, $url, $time, $stay) : [] as $event) {
                $event = $effects->event($event);
                if ($event !== null && $event['time'] <= Moment::format($now)) {
                    $this->keep($site, $event, $agent, $time->addSeconds($stay + 1));
                }
            }
            $referrer = $url;
            $time = $time->addSeconds($stay);
        }
    }

    /**
     * Whether a fault swallows an event: the variant's page breaks before anything is sent, for certain visitors.
     *
     * @param array<string, mixed>       $event
     * @param list<array<string, mixed>> $running
     */
    private function isLost(array $event, array $running): bool
    {
        foreach ($running as $one) {
            $lose = $one['fault']['lose'] ?? null;
            if ($lose !== null && $one['declared']->pages->matches($event['url'])
                && $one['declared']->assigner()->variantOf($event['visitor']) === $lose[0]
                && crc32('lost'.$event['visitor']) / 4294967296 < $lose[1]) {
                return true;
            }
        }

        return false;
    }

    /** @param array<string, mixed> $event */
    private function keep(Site $site, array $event, string $agent, CarbonImmutable $received): void
    {
        $read = (new EventReader($site->hosts, ClockShift::between(null, $received)))->read($event);
        $this->rows[] = EventRow::of($site->id, $read, $agent, $received, count($this->rows) % 100);
        if (count($this->rows) === 1000) {
            $this->write($site);
        }
    }

    private function write(Site $site): void
    {
        DB::table('events')->insert($this->rows);
        DB::table('event_ids')->insert(array_map(static fn (array $row): array => EventRow::ledger((object) $row), $this->rows));
        $arrivals = [];
        foreach ($this->rows as $row) {
            $arrivals["#{$row['visitor']}"][] = $row['event_id'];
        }
        $received = CarbonImmutable::now('UTC')->format('Y-m-d H:i:s.v');
        DB::table('arrivals')->insert(array_map(static fn (string $marked, array $ids): array => [
            'site_id' => $site->id, 'visitor' => substr($marked, 1), 'kind' => 'events', 'received' => $received, 'content' => json_encode($ids),
        ], array_map(strval(...), array_keys($arrivals)), $arrivals));
        $this->rows = [];
    }
}
