<?php

declare(strict_types=1);

namespace App\Audits;

use App\Models\Audit;
use App\Models\Experiment;
use App\Models\Notice;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Audit\Glance;
use Pellix\Core\Audit\Setup;

/**
 * Looks at the split of running experiments every few minutes, cheaply: it reads what the workers have counted since, and what may
 * still change, and nothing else. Where the split seems to be off, the experiment is audited at once.
 */
final readonly class Glances
{
    /** A visitor may meet another variant for so many days before a day is closed. */
    private const OPEN_DAYS = 3;

    /** After an audit it is not suspected again for so many hours. */
    private const PATIENCE_HOURS = 6;

    public function __construct(private Audits $audits)
    {
    }

    public function due(CarbonImmutable $now): void
    {
        foreach (Experiment::query()->where('state', 'running')->whereNotNull('started_at')->with('site')->cursor() as $experiment) {
            try {
                $this->look($experiment, $now) && $this->audits->ofExperiment($experiment, 'the watch over the split', 'suspected');
            } catch (ValidationException) {
                // One is under way, or it cannot be read: it is looked at again soon.
            } catch (\Throwable $e) {
                // One that cannot be looked at keeps no other from it.
                report($e);
            }
        }
    }

    /** Whether it is to be audited. */
    private function look(Experiment $experiment, CarbonImmutable $now): bool
    {
        $count = DB::table('counts')->where('kind', 'experiment')->where('subject_id', $experiment->id)->where('state', 'current')->value('id');
        if ($count === null) {
            return false;
        }
        $setup = AuditSetup::read(AuditSetup::ofExperiment($experiment, $now));
        $days = $this->days($experiment, (int) $count, $setup, $now);

        return Glance::isOff($days, $setup) && ! $this->isKnown($experiment, $now);
    }

    /** Whether somebody was told already, or an audit has just looked. */
    private function isKnown(Experiment $experiment, CarbonImmutable $now): bool
    {
        $told = Notice::query()->where('experiment_id', $experiment->id)->whereNull('over_at')->limit(200)->get()->contains(static fn (Notice $one): bool => in_array('srm', $one->areas, true));

        return $told || Audit::query()->where('experiment_id', $experiment->id)->whereIn('state', ['waiting', 'running', 'done', 'failed'])->where('asked_at', '>', $now->subHours(self::PATIENCE_HOURS)->format('Y-m-d H:i:s.v'))->exists();
    }

    /** @return array<string, array<int, array<int, int>>> day => epoch => place of the variant => visitors first exposed */
    private function days(Experiment $experiment, int $count, Setup $setup, CarbonImmutable $now): array
    {
        $kept = DB::table('glances')->where('experiment_id', $experiment->id)->where('count_id', $count)->first();
        /** @var array<string, array<int, array<int, int>>> $closed */
        $closed = $kept === null ? [] : (array) json_decode($kept->days, true);
        $zone = $setup->settings->zone;
        $fresh = $this->fresh($count, $kept->closed_until ?? null, $setup);
        $first = $now->setTimezone($zone)->startOfDay()->subDays(self::OPEN_DAYS);
        $days = $closed + $fresh;
        $closing = array_filter($days, static fn (string $day): bool => $day < $first->format('Y-m-d'), ARRAY_FILTER_USE_KEY);
        DB::table('glances')->upsert([[
            'experiment_id' => $experiment->id, 'count_id' => $count, 'days' => json_encode((object) $closing, JSON_THROW_ON_ERROR), 'closed_until' => $first->utc()->format('Y-m-d H:i:s.v'), 'at' => $now->format('Y-m-d H:i:s.v'),
        ]], ['experiment_id']);

        return $days;
    }

    /**
     * What was counted since: visitors by the hour of their first exposure, which one index has.
     *
     * @return array<string, array<int, array<int, int>>>
     */
    private function fresh(int $count, ?string $since, Setup $setup): array
    {
        $places = array_flip($setup->variants);
        $days = [];
        $rows = DB::table('participations')->where('count_id', $count)->where('first', '>=', $since ?? '1970-01-02 00:00:00')->where('crossed', 0)->whereNotNull('epoch')
            ->selectRaw("date_format(first, '%Y-%m-%d %H:00:00') as at, epoch, variant, count(*) as n")->groupBy('at', 'epoch', 'variant')->orderBy('at')->get();
        foreach ($rows as $row) {
            $place = $places[$row->variant] ?? null;
            if ($place !== null) {
                $day = CarbonImmutable::parse($row->at, 'UTC')->setTimezone($setup->settings->zone)->format('Y-m-d');
                $days[$day][(int) $row->epoch][$place] = ($days[$day][(int) $row->epoch][$place] ?? 0) + (int) $row->n;
            }
        }

        return $days;
    }
}
