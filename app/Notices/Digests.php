<?php

declare(strict_types=1);

namespace App\Notices;

use App\Models\Audit;
use App\Models\Experiment;
use App\Models\Notice;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Formats\Moment;
use Pellix\Core\Notices\Week;

/** Sums up each week of a site when it is over: troubles that were new, that are over, that go on, and what runs. */
final readonly class Digests
{
    /** Of each kind so many are told one by one; of the others, how many there are. */
    private const LISTED = 50;

    public function __construct(private Deliveries $deliveries)
    {
    }

    public function due(CarbonImmutable $now): void
    {
        foreach (Site::query()->whereNull('archived_at')->cursor() as $site) {
            try {
                $this->tell($site, $now);
            } catch (\Throwable $e) {
                // One site that cannot be summed up keeps no other from it.
                report($e);
            }
        }
    }

    private function tell(Site $site, CarbonImmutable $now): void
    {
        $week = Week::toTell($now->setTimezone($site->time_zone)->toDateTimeImmutable());
        // Noted before anything is told, so that no two do it.
        if (DB::table('digests')->insertOrIgnore(['site_id' => $site->id, 'week' => $week->name(), 'at' => $now->format('Y-m-d H:i:s.v')]) === 0) {
            return;
        }
        $content = $this->content($site, $week);
        // Of a site on which nothing ran and nothing happened there is nothing to say.
        $content['running_count'] + $content['new_count'] + $content['over_count'] + $content['open_count'] === 0 || $this->deliveries->ofWeek($site, $week, $content, $now);
    }

    /** @return array<string, mixed> */
    public function content(Site $site, Week $week): array
    {
        $stretch = array_map(static fn (\DateTimeImmutable $at): string => CarbonImmutable::instance($at)->utc()->format('Y-m-d H:i:s.v'), [$week->from, $week->to]);
        $notices = static fn () => Notice::query()->where('site_id', $site->id)->with('experiment')->latest('id');
        $lists = [
            'new' => static fn () => $notices()->where('at', '>=', $stretch[0])->where('at', '<', $stretch[1]),
            'over' => static fn () => $notices()->where('over_at', '>=', $stretch[0])->where('over_at', '<', $stretch[1]),
            // What began earlier and has not ended.
            'open' => static fn () => $notices()->where('at', '<', $stretch[0])->where(static fn ($open) => $open->whereNull('over_at')->orWhere('over_at', '>=', $stretch[1])),
        ];
        $content = ['week' => $week->name(), 'from' => Moment::format($week->from), 'to' => Moment::format($week->to)];
        foreach ($lists as $name => $list) {
            $content["{$name}_count"] = $list()->count();
            $content[$name] = $list()->limit(self::LISTED)->get()->map(static fn (Notice $one): array => Payload::trouble($site, $one))->all();
        }
        $running = static fn () => Experiment::query()->where('site_id', $site->id)->where('state', 'running');
        $content['running_count'] = $running()->count();
        $content['running'] = $running()->orderBy('name')->limit(self::LISTED)->get()->map($this->standing(...))->all();

        return $content;
    }

    /** @return array<string, mixed> */
    private function standing(Experiment $experiment): array
    {
        $audit = Audit::query()->select(Audit::HEAD)->where('experiment_id', $experiment->id)->where('state', 'done')->latest('id')->first();

        return [
            'experiment' => $experiment->key,
            'name' => $experiment->name,
            'verdict' => $audit?->verdict,
            'sentence' => $audit?->sentence,
            'audited' => $audit?->ended_at === null ? null : Moment::format($audit->ended_at),
        ];
    }
}
