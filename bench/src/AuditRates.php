<?php

declare(strict_types=1);

namespace Bench;

use Demo\Logs\Fault;
use Demo\Logs\LogMaker;
use Demo\Logs\Settings;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\Reading\LogAudit;
use Pellix\Core\Audit\Report;
use Pellix\Core\Audit\Settings as AuditSettings;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Events\LogReader;
use Pellix\Core\Events\TrackingPlan;
use Pellix\Core\Experiments\Experiment;

/** How often audits of sound logs raise something, and how small a fault they find: measured on logs of the simulator. */
final class AuditRates
{
    /** visitors, days, epochs of weights */
    private const SOUND = [
        [1000, 28, [[50, 50]]], [2000, 14, [[50, 50]]], [3000, 21, [[40, 40, 20]]], [5000, 7, [[90, 10]]], [8000, 28, [[25, 25, 25, 25]]], [12_000, 35, [[30, 20, 20, 15, 15]]],
        [20_000, 28, [[50, 50], [80, 20]]], [1500, 21, [[70, 30], [50, 50], [30, 70]]], [4000, 14, [[34, 33, 33]]], [10_000, 28, [[90, 10], [50, 50]]],
    ];

    /** One of so many logs is large. */
    private const LARGE_EACH = 30;
    private const LARGE = [100_000, 28, [[50, 50]]];

    /** code => fault, and strengths from small to large; in the log that `POWER` describes, where no weights of epochs are given */
    private const FAULTS = [
        'srm.overall' => ['lose:variant=short', [0.08, 0.12, 0.16, 0.2]],
        'srm.sequential' => ['lose:variant=short', [0.12, 0.16, 0.2, 0.25]],
        'srm.segment' => ['lose:variant=short:browser=safari', [0.15, 0.2, 0.3, 0.4]],
        'srm.onset' => ['lose:variant=short:since=14', [0.15, 0.2, 0.3, 0.4]],
        'srm.stage' => ['lose-after:variant=short', [0.1, 0.15, 0.2, 0.3]],
        'assign.mismatch' => ['wrong-variant', [0.001, 0.003, 0.01]],
        'assign.switched' => ['switch', [0.002, 0.004, 0.01]],
        'assign.unknown-variant' => ['unknown-variant', [0.0005, 0.001, 0.003]],
        'assign.outside' => ['outside-share', [0.03, 0.05, 0.1]],
        'assign.user-split' => ['user-split', [0.1, 0.2, 0.4]],
        'assign.short-memory' => ['short-memory', [0.1, 0.2, 0.4]],
        'assign.dependent' => ['dependent:variant=short', [0.1, 0.15, 0.2, 0.3]],
        'exposure.missing' => ['lose-exposures:variant=short', [0.03, 0.05, 0.1]],
        'exposure.late' => ['late-exposure', [0.03, 0.05, 0.1, 0.2]],
        'exposure.without-page' => ['no-page', [0.05, 0.08, 0.15]],
        'goal.silent' => ['silent-goal:variant=short', [1.0]],
        'goal.never' => ['never-goal', [1.0]],
        'goal.dropped' => ['drop-goal:since=14', [0.4, 0.5, 0.7]],
        'goal.duplicate' => ['double-goal', [0.06, 0.1, 0.2]],
        'goal.no-value' => ['no-value', [0.015, 0.03, 0.06]],
        'order.duplicate-id' => ['double-order', [0.02, 0.04, 0.08]],
        'order.outlier' => ['huge-order:variant=short', [200, 500, 1000]],
        'order.currency' => ['currency', [0.01, 0.02, 0.05]],
        'order.value-shape' => ['cents', [0.02, 0.05, 0.1]],
        'gap.silence' => ['silence:since=14.5:until=14.625', [1.0]],
        'gap.drop' => ['drop:since=14.4:until=14.8', [0.5, 0.6, 0.7, 0.8]],
        'gap.stale' => ['silence:since=27.75', [1.0]],
        'gap.page' => ['silence:page=/catalogue/fennick-cello:since=20', [1.0]],
        'gap.late' => ['late', [0.05, 0.08, 0.15]],
        'gap.clock' => ['clock', [0.02, 0.04, 0.08]],
        'event.duplicate-id' => ['copies', [0.02, 0.04, 0.08]],
        'event.double-fired' => ['double', [0.02, 0.04, 0.08]],
        'event.off-plan' => ['off-plan', [0.01, 0.02, 0.05]],
        'event.bot' => ['bots:variant=short', [0.02, 0.04, 0.08]],
        'event.internal' => ['internal', [0.006, 0.01, 0.02]],
        'event.self-referral' => ['referral', [0.1, 0.2, 0.4]],
        'event.personal-data' => ['personal', [0.001, 0.01]],
        'event.clock-order' => ['disorder', [0.015, 0.03, 0.06]],
        'epoch.goal-changed' => ['goal-changed:since=14', [1.0]],
        'epoch.weights-changed' => ['season:since=14', [0.1, 0.2, 0.4], [[90, 10], [50, 50]]],
    ];

    private const POWER = [10_000, 28];
    private const TIMES = 10;
    private const ENOUGH = 9;

    private readonly string $file;

    public function __construct(string $folder)
    {
        $this->file = "{$folder}/audit-rates.ndjson";
    }

    /**
     * @param callable(int): void $progress is told how many logs were audited
     *
     * @return array{logs: int, blockers: int, warnings: int, codes: array<string, array{blocker: int, warning: int, note: int}>} logs with at least one
     */
    public function sound(int $logs, callable $progress): array
    {
        $found = ['logs' => $logs, 'blockers' => 0, 'warnings' => 0, 'codes' => []];
        for ($i = 0; $i < $logs; $i++) {
            [$visitors, $days, $epochs] = $i % self::LARGE_EACH === self::LARGE_EACH - 1 ? self::LARGE : self::SOUND[$i % count(self::SOUND)];
            $findings = self::flat($this->audit(new Settings($visitors, $days, 900_000 + $i, $epochs[0], $epochs, []))->findings);
            $severities = array_map(static fn (Finding $one): string => $one->severity->value, $findings);
            $found['blockers'] += in_array('blocker', $severities, true) ? 1 : 0;
            $found['warnings'] += array_diff($severities, ['note']) !== [] ? 1 : 0;
            $seen = [];
            foreach ($findings as $one) {
                if (! isset($seen[$key = "{$one->code->value} {$one->severity->value}"])) {
                    $seen[$key] = true;
                    $found['codes'][$one->code->value] ??= ['blocker' => 0, 'warning' => 0, 'note' => 0];
                    $found['codes'][$one->code->value][$one->severity->value]++;
                }
            }
            $progress($i + 1);
        }
        @unlink($this->file);

        return $found;
    }

    /**
     * The smallest of some strengths at which nine of ten logs show the fault.
     *
     * @return array{fault: string, found: array<array-key, string>, strength: float|int|null} strength => in how many of how many logs: once it is clear, no more are made
     */
    public function power(string $code): array
    {
        [$fault, $strengths, $epochs] = self::FAULTS[$code] + [2 => [[50, 50]]];
        $found = [];
        $least = null;
        foreach ($strengths as $strength) {
            $number = $i = 0;
            for (; $i < self::TIMES && $number < self::ENOUGH && $i - $number <= self::TIMES - self::ENOUGH; $i++) {
                $report = $this->audit(new Settings(self::POWER[0], self::POWER[1], 800_000 + $i, $epochs[0], $epochs, [Fault::parse("{$fault}:strength={$strength}")]));
                $number += array_filter(self::flat($report->findings), static fn (Finding $one): bool => $one->code->value === $code) !== [] ? 1 : 0;
            }
            $found["{$strength}"] = "{$number}/{$i}";
            if ($number >= self::ENOUGH) {
                $least = $strength;
                break;
            }
        }
        @unlink($this->file);

        return ['fault' => $fault, 'found' => $found, 'strength' => $least];
    }

    /** @return list<string> */
    public static function codes(): array
    {
        return array_keys(self::FAULTS);
    }

    private function audit(Settings $settings): Report
    {
        $stream = fopen($this->file, 'w');
        foreach ((new LogMaker($settings))->events() as $event) {
            fwrite($stream, LogMaker::line($event)."\n");
        }
        fclose($stream);
        $file = $settings->experiment();
        $any = ['type' => 'object'];
        $plan = TrackingPlan::of(['scroll' => $any, 'order' => $any, 'click' => ['type' => 'object', 'properties' => ['path' => ['type' => 'string'], 'source' => ['type' => 'string'], 'country' => ['type' => 'string']], 'additionalProperties' => false]]);
        $setup = new Setup(Experiment::read($file), null, $plan, AuditSettings::read($file['audit']), until: $settings->end());

        return Report::of(LogAudit::of(LogReader::pieces($this->file, false, 10_000_000, null, true) ?? [], $setup, static fn (int $lines) => null));
    }

    /**
     * @param list<Finding> $findings
     *
     * @return list<Finding> with all that follows from them
     */
    private static function flat(array $findings): array
    {
        $all = [];
        foreach ($findings as $one) {
            array_push($all, $one, ...self::flat($one->consequences));
        }

        return $all;
    }
}
