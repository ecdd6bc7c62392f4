<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Shapes;

use Pellix\Core\Audit\Reading\Keys;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Audit\Sums\Cohorts;
use Pellix\Core\Audit\Sums\SplitSum;
use Pellix\Core\Statistics\AnytimeRatio;
use Pellix\Core\Statistics\EpochRatios;
use Pellix\Core\Statistics\FalseDiscovery;
use Pellix\Core\Statistics\SampleRatioResult;

/** The sample ratio of an experiment from all sides; each is worked out when it is first asked for. */
final class Ratio
{
    /** Segments with fewer visitors are not tested: their test could not tell. */
    private const SMALLEST_SEGMENT = 30;

    private ?EpochRatios $epochs = null;

    /** @var array{log: float, p: float, crossed: string|null, prior: list<float>}|null */
    private ?array $sequential = null;

    /** @var list<array{key: string, observed: list<int>, expected: list<float>, logP: float, logQ: float}>|null */
    private ?array $segments = null;

    private ?OnsetWatch $watch = null;

    private ?Cohorts $withTimes = null;

    private RatioFault|false|null $fault = false;

    /** @var array<string, RatioFault|null> */
    private array $faults = [];

    public function __construct(private readonly SplitSum $split, private readonly Setup $setup)
    {
    }

    /** Each epoch and all of them. */
    public function epochs(): EpochRatios
    {
        return $this->epochs ??= EpochRatios::test($this->counts($this->split->exposed), $this->setup->alpha);
    }

    public function joined(?Cohorts $of = null): ?SampleRatioResult
    {
        return $of === null ? $this->epochs()->joined : EpochRatios::test($this->counts($of), $this->setup->alpha)->joined;
    }

    /** ln p of the worst epoch, which by itself counts as one of several looks (Bonferroni). */
    public function worstEpoch(): float
    {
        $worst = 0.0;
        foreach ($this->epochs()->each as $one) {
            $worst = min($worst, $one === null ? 0.0 : $one->logP + log(count($this->epochs()->each)));
        }

        return $worst;
    }

    /** Whether the split of all visitors is not the one that was promised. */
    public function isOff(): bool
    {
        return ($this->joined()?->isMismatch() ?? false) || $this->worstEpoch() < log($this->setup->alpha);
    }

    /** @return list<array{counts: list<int>, weights: list<float>}> of each epoch */
    private function counts(Cohorts $of): array
    {
        $n = count($this->setup->variants);
        $byEpoch = $of->byEpoch();
        $epochs = [];
        foreach (array_keys($this->setup->epochs) as $epoch) {
            $counts = [];
            for ($v = 0; $v < $n; $v++) {
                $counts[] = $byEpoch[$epoch][$v] ?? 0;
            }
            $epochs[] = ['counts' => $counts, 'weights' => $this->setup->weights($epoch)];
        }

        return $epochs;
    }

    /**
     * Looked at after each day, as somebody would who watches.
     *
     * @return array{log: float, p: float, crossed: string|null, prior: list<float>} ln BF of all, the anytime-valid p-value, the day (of the
     *                                                                               site) on which it first fell under the alarm level
     */
    public function sequential(): array
    {
        if ($this->sequential !== null) {
            return $this->sequential;
        }
        $n = count($this->setup->variants);
        $weights = $this->weights();
        $prior = AnytimeRatio::prior($weights);
        $days = $this->days();
        $counts = array_map(static fn (): array => array_fill(0, $n, 0), $weights);
        $logs = array_fill(0, count($weights), 0.0);
        [$log, $largest, $crossed] = [0.0, 0.0, null];
        foreach ($days as $day => $epochs) {
            foreach ($epochs as $epoch => $numbers) {
                foreach ($numbers as $variant => $number) {
                    if ($variant < $n) {
                        $counts[$epoch][$variant] += $number;
                    }
                }
                $logs[$epoch] = array_sum($weights[$epoch]) > 0 ? AnytimeRatio::logBayesFactor(array_values($counts[$epoch]), $weights[$epoch], $prior) : 0.0;
            }
            $log = array_sum($logs);
            $largest = max($largest, $log);
            if ($crossed === null && $largest > -log($this->setup->alpha)) {
                $crossed = (string) $day;
            }
        }

        return $this->sequential = ['log' => $log, 'p' => exp(-$largest), 'crossed' => $crossed, 'prior' => $prior];
    }

    /** @return non-empty-list<list<float>> weights of each epoch */
    private function weights(): array
    {
        /** @var non-empty-list<list<float>> $weights */
        $weights = array_map($this->setup->weights(...), array_keys($this->setup->epochs));

        return $weights;
    }

    /** @return array<string, array<int, array<int, int>>> day of the site => epoch => variant => visitors, in the order of time */
    private function days(): array
    {
        $days = [];
        foreach ($this->split->exposed->byHour() as $place => [$epoch, $numbers]) {
            $day = $this->day(Cohorts::hour($place));
            foreach ($numbers as $variant => $number) {
                if ($variant < count($this->setup->variants)) {
                    $days[$day][$epoch][$variant] = ($days[$day][$epoch][$variant] ?? 0) + $number;
                }
            }
        }
        ksort($days);

        return $days;
    }

    /** The same for whoever watches for a split that breaks in the middle of the run: see `OnsetWatch`. */
    public function watch(): OnsetWatch
    {
        return $this->watch ??= OnsetWatch::of($this->days(), $this->weights(), $this->setup->alpha);
    }

    public function day(int $hour): string
    {
        return $this->local($hour)->format('Y-m-d');
    }

    private function local(int $hour): \DateTimeImmutable
    {
        return (new \DateTimeImmutable('@'.(3600 * $hour)))->setTimezone($this->setup->settings->zone);
    }

    /**
     * Every segment that has visitors enough, the worst first; adjusted over all of them.
     *
     * @return list<array{key: string, observed: list<int>, expected: list<float>, logP: float, logQ: float}>
     */
    public function segments(): array
    {
        if ($this->segments !== null) {
            return $this->segments;
        }
        $tested = [];
        $of = $this->withTimes();
        foreach ($of->keys() as $key) {
            if ($key === '') {
                continue;
            }
            [$observed, $expected] = RatioFault::counts($of, $key, $this->setup);
            if (array_sum($observed) >= self::SMALLEST_SEGMENT) {
                $tested[$key] = [$observed, $expected, RatioFault::logP($observed, $expected)];
            }
        }
        $adjusted = FalseDiscovery::adjust(array_map(static fn (array $one): float => $one[2], $tested));
        $this->segments = [];
        foreach ($tested as $key => [$observed, $expected, $logP]) {
            $this->segments[] = ['key' => (string) $key, 'observed' => $observed, 'expected' => $expected, 'logP' => $logP, 'logQ' => $adjusted[$key]];
        }
        usort($this->segments, static fn (array $a, array $b): int => $a['logP'] <=> $b['logP'] ?: strcmp($a['key'], $b['key']));

        return $this->segments;
    }

    /** With days, weekdays and hours of the day as segments of their own. */
    private function withTimes(): Cohorts
    {
        if ($this->withTimes !== null) {
            return $this->withTimes;
        }
        $of = clone $this->split->exposed;
        $formats = ['day' => 'Y-m-d', 'weekday' => 'l', ...($of->isCoarse ? [] : ['hour' => 'H'])];
        foreach ($this->split->exposed->of[''] ?? [] as $cell => $number) {
            $local = $this->local(Cohorts::hour($cell >> 6));
            foreach ($formats as $dimension => $format) {
                $key = Keys::key($dimension, strtolower($local->format($format)));
                $of->of[$key][$cell] = ($of->of[$key][$cell] ?? 0) + $number;
            }
        }

        return $this->withTimes = $of;
    }

    /** What explains the split of all; null where nobody was exposed. */
    public function fault(): ?RatioFault
    {
        return $this->fault === false ? $this->fault = RatioFault::of($this->split->exposed, $this->setup) : $this->fault;
    }

    /** The same by hours of the day and days of the week: at which the split is off again and again. */
    public function faultByTime(): ?RatioFault
    {
        return RatioFault::of($this->withTimes(), $this->setup, null, ['hour', 'weekday']);
    }

    /** The same of one segment. */
    public function faultOf(string $key): ?RatioFault
    {
        return $this->faults[$key] ??= RatioFault::of($this->withTimes(), $this->setup, [$key]);
    }

    /**
     * The same test at each stage of the way.
     *
     * @return list<array{stage: string, observed: list<int>, p: float, logP: float}>
     */
    public function stages(): array
    {
        $stages = ['assigned' => $this->setup->settings->isRecomputed ? $this->split->due : null, 'exposed' => $this->split->exposed,
            'page-view-after' => $this->split->moved, 'second-event-after' => $this->split->active, 'goal-page' => $this->split->near];
        $found = [];
        foreach ($stages as $name => $of) {
            if ($of === null || $of->total() === 0) {
                continue;
            }
            $result = $this->joined($of);
            $found[] = ['stage' => $name, 'observed' => $of->byVariant(count($this->setup->variants)), 'p' => $result === null ? 1.0 : $result->p, 'logP' => $result === null ? 0.0 : $result->logP];
        }

        return $found;
    }
}
