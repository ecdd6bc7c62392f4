<?php

declare(strict_types=1);

namespace App\Audits;

use App\Models\AuditLog;
use App\Models\Exclusion;
use App\Models\Experiment;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Pellix\Core\Audit\Engine;
use Pellix\Core\Audit\InvalidAudit;
use Pellix\Core\Audit\Settings;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Events\TrackingPlan;
use Pellix\Core\Experiments\Experiment as Declared;
use Pellix\Core\Experiments\InvalidExperiment;
use Pellix\Core\Experiments\Periods;
use Pellix\Core\Formats\Moment;

/** All that an audit goes by, as it is kept with it, so that it can be made again and its parts be tested. */
final class AuditSetup
{
    /**
     * @return array<string, mixed> of an experiment as it is now
     */
    public static function ofExperiment(Experiment $experiment, CarbonImmutable $now): array
    {
        $site = $experiment->site;

        return [
            'experiment' => $experiment->file(),
            'audit' => ['time_zone' => $site->time_zone, 'hosts' => $site->hosts, 'session_minutes' => $site->session_minutes, 'exclusions' => Exclusion::active($experiment)],
            'plan' => self::plan($site),
            'alpha' => (float) $site->srm_alpha,
            // Of an experiment that has ended nobody expects more.
            'until' => $experiment->ended_at === null ? Moment::format($now) : null,
            'ran' => array_map(static fn (array $one): array => [Moment::format($one[0]), $one[1] === null ? null : Moment::format($one[1])], $experiment->ran()->all),
        ];
    }

    /** @return array<string, mixed> of a log, with the experiment file that was brought for it */
    public static function ofLog(AuditLog $log): array
    {
        $file = $log->experiment ?? [];
        $told = is_array($file['audit'] ?? null) ? $file['audit'] : [];
        $own = is_array($told['exclusions'] ?? null) ? array_values($told['exclusions']) : [];

        return [
            'experiment' => array_diff_key($file, ['audit' => 0]),
            'audit' => ['time_zone' => $log->site->time_zone, ...$told, 'exclusions' => [...$own, ...Exclusion::active($log)]],
            'alpha' => (float) $log->site->srm_alpha,
            'mapping' => $log->mapping,
        ];
    }

    /** @return array<string, array<string, mixed>> */
    private static function plan(Site $site): array
    {
        $plan = [];
        foreach ($site->eventDefinitions()->get() as $event) {
            $plan[$event->name] = $event->schema;
        }

        return $plan;
    }

    /**
     * What an audit goes by, but for the moment at which it looks.
     *
     * @param array<string, mixed> $kept
     * @param bool                 $isWhole whether nothing is left out, whatever the exclusions
     *
     * @return string SHA-256, the same for the same
     */
    public static function hash(array $kept, bool $isWhole): string
    {
        unset($kept['until']);
        if ($isWhole) {
            unset($kept['audit']['exclusions']);
        }

        return hash('sha256', Engine::VERSION.(string) json_encode($kept, JSON_PARTIAL_OUTPUT_ON_ERROR | JSON_PRESERVE_ZERO_FRACTION));
    }

    /**
     * @param array<mixed> $kept
     * @param bool         $isWhole whether nothing is left out, whatever the exclusions
     *
     * @throws InvalidAudit|InvalidExperiment
     */
    public static function read(array $kept, bool $isWhole = false): Setup
    {
        $settings = Settings::read($kept['audit'] ?? null);
        $until = is_string($kept['until'] ?? null) ? Moment::parse($kept['until']) : null;
        $ran = is_array($kept['ran'] ?? null) ? new Periods(array_map(static fn (array $one): array => [Moment::parse($one[0]) ?? throw new InvalidAudit('A time in RFC 3339 is needed.', 'ran'), $one[1] === null ? null : Moment::parse($one[1])], $kept['ran'])) : null;

        return new Setup(
            Declared::read($kept['experiment'] ?? null),
            null,
            ($kept['plan'] ?? []) === [] ? null : TrackingPlan::of($kept['plan']),
            $isWhole ? $settings->whole() : $settings,
            (float) ($kept['alpha'] ?? 0.001),
            $until === null ? null : 1000 * $until->getTimestamp() + (int) $until->format('v'),
            $ran,
        );
    }
}
