<?php

declare(strict_types=1);

namespace App\Observation;

use App\Measures\HitKeeper;
use App\Models\Experiment;
use App\Models\Goal;
use Carbon\CarbonImmutable;
use Pellix\Core\Chain\GoalSeen;
use Pellix\Core\Chain\Observations;
use Pellix\Core\Chain\Seen;
use Pellix\Core\Chain\VariantSeen;
use Pellix\Core\Experiments\Arm;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\Experiments\Stage;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Statistics\SampleRatio;

/** Gathers what was observed of an experiment, and hands it to the core to be judged. */
final readonly class Observer
{
    public function __construct(private Addresses $addresses, private Inspections $inspections, private HitKeeper $hits)
    {
    }

    /** Before the start, page views of the last week tell whether its pages and the snippet are there. */
    private const DAYS_BEFORE_START = 7;

    private const RECOMPUTED = 500;

    private const ADDRESSES_NAMED = 3;

    public function observe(Experiment $experiment, CarbonImmutable $now): Observations
    {
        $site = $experiment->site;
        $this->hits->catchUp($site);
        $stage = Stage::from($experiment->state);
        $stretches = array_map(
            static fn (array $stretch): array => array_map(EventCounts::moment(...), $stretch),
            $experiment->ran() ?: [[$now->subDays(self::DAYS_BEFORE_START)->toIso8601ZuluString(), null]],
        );
        $counts = new EventCounts($site, $stretches);
        $declared = $experiment->declared();

        $addresses = $this->addresses->of($site);
        $pages = self::matching($declared->pages, $addresses);
        [$exposures, $crossed] = $counts->exposures($declared->key);
        $variants = $this->variants($declared, $counts, $exposures);
        $visitors = array_map(static fn (VariantSeen $v): int => $v->exposures->visitors, $variants);
        $weights = array_map(static fn (VariantSeen $v): float => $v->weight, $variants);
        [$recomputed, $disagreeing] = $this->recompute($declared, $counts);

        return new Observations(
            $stage->hasStarted(),
            // What has stopped is judged as it stood then: nothing after that can make its evidence old.
            end($stretches)[1] ?? $now,
            $experiment->started_at ?? $experiment->changed_at,
            $site->fresh_seconds,
            $declared->share,
            $counts->siteViews(),
            $counts->views(array_keys($pages)),
            array_slice(array_values($pages), 0, self::ADDRESSES_NAMED),
            $counts->entered($declared->key),
            array_sum($visitors) === 0 ? null : SampleRatio::test($visitors, $weights, $site->srm_alpha),
            SampleRatio::canAlarm(array_sum($visitors), $weights, $site->srm_alpha),
            $crossed,
            $recomputed,
            $disagreeing,
            $variants,
            $this->goals($experiment, $declared, $counts),
            $counts->rejected(),
            $counts->commonReason(),
            $counts->accepted(),
            $this->inspections->of($site, $declared->pages),
        );
    }

    /**
     * @param array<string, string> $addresses
     *
     * @return array<string, string>
     */
    private static function matching(PageRule $rule, array $addresses): array
    {
        return array_filter($addresses, $rule->matches(...));
    }

    /**
     * @param array<string, Seen> $exposures
     *
     * @return non-empty-list<VariantSeen>
     */
    private function variants(Declared $declared, EventCounts $counts, array $exposures): array
    {
        $applied = $counts->perVariant($declared->key, 'change_applied');
        $missed = $counts->perVariant($declared->key, 'change_missed');

        return array_map(static fn (Arm $arm): VariantSeen => new VariantSeen(
            $arm->variant->key,
            $arm->name,
            $arm->variant->weight,
            count($arm->changes),
            $exposures[$arm->variant->key] ?? new Seen(),
            $applied[$arm->variant->key] ?? new Seen(),
            $missed[$arm->variant->key] ?? new Seen(),
        ), $declared->arms);
    }

    /** @return list<GoalSeen> */
    private function goals(Experiment $experiment, Declared $declared, EventCounts $counts): array
    {
        return array_map(static function (Goal $kept) use ($declared, $counts): GoalSeen {
            $goal = $kept->declared($kept->pivot->role);

            return new GoalSeen($goal->key, $goal->name, $goal->role, $counts->everyHit($kept->id, $goal->count), $counts->hits($declared->key, $kept->id, $goal->count));
        }, $experiment->goals->all());
    }

    /** @return array{int, int} how many visitors' assignments were worked out again, and how many of those differ */
    private function recompute(Declared $declared, EventCounts $counts): array
    {
        $newest = $counts->newestAssignments($declared->key, self::RECOMPUTED);
        $assigner = $declared->assigner();
        $differing = array_filter(
            $newest,
            static fn (string $variant, string|int $visitor): bool => $assigner->variantOf((string) $visitor) !== $variant,
            ARRAY_FILTER_USE_BOTH,
        );

        return [count($newest), count($differing)];
    }
}
