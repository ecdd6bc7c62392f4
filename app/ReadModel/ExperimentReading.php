<?php

namespace App\ReadModel;

use Illuminate\Support\Facades\DB;
use Pellix\Core\Counting\Split;
use Pellix\Core\Experiments\DeclaredVariant;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Experiments\Periods;
use Pellix\Core\Formats\Moment;
use Pellix\Core\Statistics\SampleRatio;
use Pellix\Core\Statistics\SampleRatioResult;

/** Puts the figures of one experiment together, as they are shown and judged. */
final readonly class ExperimentReading
{
    /** The newest assignments that are worked out again. */
    private const RECOMPUTED = 500;

    /** @param array<string, object> $figures name => `n`, `last` */
    private function __construct(private ExperimentCount $count, private Definitions $of, private array $figures)
    {
    }

    /** @return array<string, mixed> */
    public static function of(ExperimentCount $count, Definitions $of, SiteHours $hours): array
    {
        $reading = new self($count, $of, DB::table('figures')->where('count_id', $count->id)->get(['figure', 'n', 'last'])->keyBy('figure')->all());
        $site = $hours->within($count->ran);
        [$recomputed, $differing] = $reading->recomputed();

        return [
            ...self::declared($count->experiment, $count->ran, $count->revision),
            'site_views' => [...$site['views'], 'visitors' => 0],
            'page_views' => $reading->seen('views', 'eligible'),
            'addresses' => json_decode((string) DB::table('counts')->where('id', $count->id)->value('examples'), true),
            'entered' => $reading->seen('exposures', 'entered'),
            'crossed' => $reading->number('crossed'),
            'moved' => $reading->number('moved'),
            ...$reading->ratio(),
            'recomputed' => $recomputed,
            'differing' => $differing,
            'variants' => array_map($reading->variant(...), $count->experiment->variants),
            'goals' => array_map($reading->goal(...), $reading->currentGoals()),
            'rejected' => [...$site['rejected'], 'visitors' => 0],
            'common_reason' => $site['common_reason'],
            'accepted' => $site['accepted'],
        ];
    }

    /**
     * What was declared when the figures were put together, as far as a judgement needs it: so that whoever reads them need
     * not read the experiment, too.
     *
     * @return array{revision: int, share: float, eligible_known: bool, end: string|null, declared: list<array{key: string, name: string, weight: float, changes: int}>}
     */
    public static function declared(Experiment $experiment, Periods $ran, int $revision): array
    {
        return [
            'revision' => $revision,
            'share' => $experiment->share,
            'eligible_known' => $experiment->recordsTellAudience,
            'end' => $ran->end()?->format('Y-m-d H:i:s.v'),
            'declared' => array_map(static fn (DeclaredVariant $one): array => ['key' => $one->variant->key, 'name' => $one->name, 'weight' => $one->variant->weight, 'changes' => $one->effects()], $experiment->variants),
        ];
    }

    /** @return array<string, mixed> */
    private function variant(DeclaredVariant $variant): array
    {
        $key = $variant->variant->key;

        return [
            'key' => $key,
            'exposures' => $this->seen("variant.{$key}.exposures", "variant.{$key}.units"),
            'applied' => $this->seen("variant.{$key}.applied", "variant.{$key}.applied.units"),
            'missed' => $this->seen("variant.{$key}.missed", "variant.{$key}.missed.units"),
            'reverted' => $this->seen("variant.{$key}.reverted", "variant.{$key}.reverted.units"),
            'failed' => $this->seen("variant.{$key}.failed", "variant.{$key}.failed.units"),
        ];
    }

    /**
     * The sample ratio of each epoch against its own weights, and of all of them joined.
     *
     * @return array{srm: array<string, mixed>|null, can_alarm: bool, epochs: list<array<string, mixed>>}
     */
    private function ratio(): array
    {
        $split = $this->split();
        $alpha = $this->of->site->srm_alpha;
        $ratios = $split->test($alpha);
        $declared = $this->count->experiment->epochs;

        return [
            'srm' => $ratios->joined?->toArray(),
            'can_alarm' => SampleRatio::canAlarm(array_sum($split->units), $split->expected, $alpha),
            'epochs' => array_map(static fn (array $epoch, ?SampleRatioResult $ratio, int $i): array => [
                'from' => ($declared[$i] ?? null) === null ? null : Moment::format($declared[$i]->from), 'share' => $declared[$i]->share ?? null,
                'counts' => $epoch['counts'], 'weights' => $epoch['weights'], 'srm' => $ratio?->toArray(),
            ], $split->epochs, $ratios->each, array_keys($split->epochs)),
        ];
    }

    private function split(): Split
    {
        return Split::of($this->count->experiment, $this->number(...));
    }

    /** @return array<string, mixed> */
    private function goal(GoalCount $goal): array
    {
        $everyone = $this->seen("goal.{$goal->id}.everyone.hits", "goal.{$goal->id}.everyone.visitors");
        $variants = [];
        foreach ($this->count->experiment->variants as $variant) {
            $key = $variant->variant->key;
            $seen = $this->seen("goal.{$goal->id}.variant.{$key}.hits", "goal.{$goal->id}.variant.{$key}.units");
            $variants[$key] = [...$seen, 'last' => null];
        }

        return [
            'goal_id' => $goal->goalId,
            'everyone' => [...$everyone, 'last' => $everyone['count'] === 0 ? null : $this->lastHit($goal)],
            'variants' => $variants,
            'epochs' => array_map(fn (array $epoch, int $i): array => [
                'units' => $epoch['counts'],
                'reached' => array_map(fn (DeclaredVariant $one): int => $this->number("goal.{$goal->id}.variant.{$one->variant->key}.epoch.{$i}.units"), $this->count->experiment->variants),
            ], $epochs = $this->split()->epochs, array_keys($epochs)),
        ];
    }

    /** From the end backwards, so that the first one found is the last one there was. */
    private function lastHit(GoalCount $goal): ?string
    {
        $end = $this->count->ran->end();

        return DB::table('goal_hits')->where('count_id', $goal->id)->where('counts', 1)->when($end !== null, static fn ($q) => $q->where('time', '<=', $end?->format('Y-m-d H:i:s.v')))->orderByDesc('time')->value('time');
    }

    /** @return list<GoalCount> in the order in which the experiment names them: while one is recounted, the old count of it */
    private function currentGoals(): array
    {
        $order = array_flip(array_map(static fn ($goal): string => $goal->key, $this->count->experiment->goals));
        $current = [];
        foreach ($this->count->goals as $goal) {
            $current[$goal->goal->key] ??= $goal;
        }
        uksort($current, static fn (string|int $a, string|int $b): int => ($order[$a] ?? 99) <=> ($order[$b] ?? 99));

        return array_values($current);
    }

    /** @return array{int, int} how many assignments were worked out again, and how many of those differ */
    private function recomputed(): array
    {
        $newest = DB::table('participations')->where('count_id', $this->count->id)->whereNotNull('first')->orderByDesc('first')->limit(self::RECOMPUTED)->get(['unit', 'variant', 'epoch']);
        $assigners = [];
        $differing = $newest->filter(function (object $row) use (&$assigners): bool {
            $assigners[$row->epoch] ??= $this->count->experiment->assignerIn((int) $row->epoch);

            return $assigners[$row->epoch]->variantOf($row->unit) !== $row->variant;
        });

        return [$newest->count(), $differing->count()];
    }

    /** @return array{count: int, visitors: int, last: string|null} */
    private function seen(string $count, string $units): array
    {
        return ['count' => $this->number($count), 'visitors' => $this->number($units), 'last' => $this->number($count) === 0 ? null : $this->figures[$count]->last ?? null];
    }

    private function number(string $figure): int
    {
        return (int) ($this->figures[$figure]->n ?? 0);
    }
}
