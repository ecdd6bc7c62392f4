<?php

declare(strict_types=1);

namespace App\Audits;

use App\Models\Audit;
use Carbon\CarbonImmutable;
use Closure;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Audit\Comparison;
use Pellix\Core\Audit\Evidence;
use Pellix\Core\Audit\Part;
use Pellix\Core\Audit\Reading\LogAudit;
use Pellix\Core\Audit\Report;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Audit\Views\Views;
use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Events\LogColumns;
use Pellix\Core\Events\LogReader;

/** Makes the audits that wait, one at a time. One that ends its process is not tried for ever. */
final readonly class Auditor
{
    private const LEASE_SECONDS = 900;

    private const MOST_TRIES = 2;

    /** One that is surely read by one process alone, also where it is packed. */
    private const SHORT_BYTES = 500_000;

    public function __construct(private LogPieces $pieces, private Watchman $watchman)
    {
    }

    /**
     * Takes the oldest that waits, or one that somebody has left.
     *
     * @param string $worker who asks
     */
    public function next(string $worker): ?Audit
    {
        return DB::transaction(static function () use ($worker): ?Audit {
            $now = CarbonImmutable::now('UTC');
            $next = Audit::query()->where(static fn ($any) => $any->where('state', 'waiting')->orWhere(static fn ($left) => $left->where('state', 'running')->where('lease', '<', $now->format('Y-m-d H:i:s.v'))))->orderBy('id')->lockForUpdate()->first();
            if ($next === null) {
                return null;
            }
            if ($next->tries >= self::MOST_TRIES) {
                $next->update(['state' => 'failed', 'doing' => 'It ended the process that made it '.self::MOST_TRIES.' times: there may be too little memory or disk.', 'ended_at' => $now]);

                return null;
            }
            $next->update(['state' => 'running', 'worker' => $worker, 'lease' => $now->addSeconds(self::LEASE_SECONDS)->format('Y-m-d H:i:s.v'), 'tries' => $next->tries + 1, 'started_at' => $now, 'done' => 0, 'doing' => 'Reading']);

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
        foreach (Audit::query()->where('state', 'running')->where('worker', 'like', addcslashes($host, '\\%_').':%')->get() as $left) {
            $process = (int) substr((string) $left->worker, strlen($host) + 1);
            $isThere = str_contains((string) @file_get_contents("/proc/{$process}/cmdline"), 'pellix:auditor') && $process !== getmypid();
            $isThere || $this->release($left);
        }
    }

    private function release(Audit $audit): void
    {
        Audit::query()->whereKey($audit->id)->where('state', 'running')->update(['state' => 'waiting', 'worker' => null, 'lease' => null]);
    }

    /** @param Closure(): bool $isStopping whether Pellix stops */
    public function make(Audit $audit, Closure $isStopping): void
    {
        try {
            $setup = AuditSetup::read($audit->settings);
            $tell = function (int $lines) use ($audit, $isStopping): void {
                $isStopping() && throw new Interrupted(false);
                $this->tell($audit, $lines);
            };
            $evidence = $this->evidence($audit, $setup, $tell);
            $whole = null;
            if (! $setup->settings->exclusions->isNone()) {
                $audit->update(['doing' => 'Reading it again, with what is left out', 'done' => 0]);
                $whole = $this->evidence($audit, AuditSetup::read($audit->settings, isWhole: true), $tell, true);
            }
            $this->keep($audit, $evidence, $whole);
        } catch (Interrupted $e) {
            if (! $e->isCancelled) {
                // That Pellix stops is no fault of the log's: it costs none of the tries.
                Audit::query()->whereKey($audit->id)->where('state', 'running')->update(['state' => 'waiting', 'worker' => null, 'lease' => null, 'tries' => $audit->tries - 1]);
            }
        } catch (InvalidLog $e) {
            [$line] = explode('.', $e->field, 2);
            $this->fail($audit, "Line {$line}: {$e->getMessage()} Where the log has other columns, say which is which in its mapping.");
        } catch (\Throwable $e) {
            report($e);
            $this->fail($audit, 'It failed, and should not have: '.$e->getMessage());
        }
    }

    /**
     * @param Closure(int): void $progress
     * @param bool               $isWhole whether nothing is left out, whatever the exclusions
     */
    private function evidence(Audit $audit, Setup $setup, Closure $progress, bool $isWhole = false): Evidence
    {
        $log = $audit->log;
        if ($log === null) {
            $experiment = $audit->experiment ?? throw new \RuntimeException('The experiment is gone.');
            [$from, $to] = StoredAudit::stretch($experiment, $audit->asked_at);
            $audit->update(['total' => (int) DB::table('volumes')->where('site_id', $audit->site_id)->where('by', 'event')->whereBetween('hour', [$from->format('Y-m-d H:00:00'), $to->format('Y-m-d H:i:s')])->sum('n')]);

            $until = $setup->until === null ? null : CarbonImmutable::createFromTimestampMsUTC($setup->until);
            if ($audit->why === 'asked' || $until === null || $setup->experiment->unit === 'user') {
                // Whoever asks gets everything as it is now; a user is put together from several visitors each time.
                return StoredAudit::evidence($experiment, $audit->asked_at, $setup, $progress);
            }
            [$evidence, $read, $from] = StoredAudit::goOn($experiment, $until, $setup, $isWhole, AuditSetup::hash($audit->settings, $isWhole), $progress);
            $audit->update(['read_events' => $read + ($isWhole ? $audit->read_events : 0), 'went_on_from' => $isWhole && $audit->went_on_from === null ? null : $from]);

            return $evidence;
        }
        $file = $this->pieces->file($log);
        try {
            $audit->update(['total' => LogPieces::lines($file, $log->size)]);
            $columns = $log->mapping === null ? null : LogColumns::read($log->mapping);
            // A long log is read by two processes; what is open belongs to this one, and the one that is forked must not close it.
            $log->size < self::SHORT_BYTES || DB::purge();

            return LogAudit::of(LogReader::pieces($file, $this->pieces->isCsv($log), LogReader::WORTH_TWO, $columns, true) ?? [], $setup, $progress);
        } finally {
            unlink($file);
        }
    }

    /** @throws Interrupted */
    private function tell(Audit $audit, int $lines): void
    {
        $kept = Audit::query()->whereKey($audit->id)->where('state', 'running')->where('worker', $audit->worker)->update(['done' => $lines, 'total' => max($lines, $audit->total), 'lease' => CarbonImmutable::now('UTC')->addSeconds(self::LEASE_SECONDS)->format('Y-m-d H:i:s.v')]);
        $kept === 0 && ! Audit::query()->whereKey($audit->id)->where('state', 'running')->where('worker', $audit->worker)->exists() && throw new Interrupted(true);
    }

    /** @param Evidence|null $whole with what exclusions leave out; null where there are none */
    private function keep(Audit $audit, Evidence $evidence, ?Evidence $whole): void
    {
        $report = Report::of($evidence);
        $all = $report->toArray();
        $json = static fn (mixed $value): string => json_encode($value, JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE | JSON_PRESERVE_ZERO_FRACTION);
        $views = Views::of($evidence, Part::of(null, null));
        $without = $whole === null ? [] : ['whole_report' => $json(Report::of($whole)->toArray()), 'whole_views' => $json(Views::of($whole, Part::of(null, null)))];
        $last = $this->before($audit, $all['findings']);
        $grades = array_count_values(array_column(Comparison::flat($all['findings']), 'severity'));
        $isKept = DB::transaction(static function () use ($audit, $report, $all, $views, $json, $evidence, $grades, $last, $without): bool {
            $kept = Audit::query()->whereKey($audit->id)->where('state', 'running')->where('worker', $audit->worker)->update([
                'state' => 'done', 'doing' => '', 'worker' => null, 'lease' => null, 'done' => $evidence->lines, 'total' => $evidence->lines, 'fingerprint' => $evidence->fingerprint,
                'verdict' => $report->verdict(), 'sentence' => mb_strcut($report->sentence(), 0, 1000, 'UTF-8'), 'since_last' => $last === null ? null : $json($last),
                'blockers' => $grades['blocker'] ?? 0, 'warnings' => $grades['warning'] ?? 0, 'notes' => $grades['note'] ?? 0, 'ended_at' => CarbonImmutable::now('UTC')->format('Y-m-d H:i:s.v'),
            ]);
            $kept === 0 || DB::table('audit_results')->upsert([['audit_id' => $audit->id, 'report' => $json($all), 'views' => $json($views), 'evidence' => KeptEvidence::pack($evidence), ...$without]], ['audit_id']);

            return $kept > 0;
        });
        if ($isKept) {
            $this->watchman->look($audit, $report, $audit->asked_at);
        }
    }

    /**
     * What has come and gone since the audit before.
     *
     * @param list<array<string, mixed>> $findings
     *
     * @return array<string, mixed>|null
     */
    private function before(Audit $audit, array $findings): ?array
    {
        $before = Audit::query()->where($audit->subject(), $audit->{$audit->subject()})->where('state', 'done')->where('id', '<', $audit->id)->orderByDesc('id')->first(['id', 'engine']);
        $report = $before === null ? null : json_decode((string) DB::table('audit_results')->where('audit_id', $before->id)->value('report'), true);
        if ($before === null || ! is_array($report)) {
            return null;
        }
        $compared = Comparison::between($report['findings'] ?? [], $findings);

        return [
            'audit' => $before->id, 'engine' => $before->engine, 'new' => $compared->new, 'still' => $compared->still, 'words' => $compared->words(),
            'mended' => array_map(static fn (array $one): array => ['identity' => $one['identity'], 'code' => $one['code'], 'severity' => $one['severity'], 'message' => $one['message']], $compared->mended),
        ];
    }

    private function fail(Audit $audit, string $why): void
    {
        Audit::query()->whereKey($audit->id)->where('state', 'running')->update(['state' => 'failed', 'doing' => mb_strcut($why, 0, 200, 'UTF-8'), 'worker' => null, 'lease' => null, 'ended_at' => CarbonImmutable::now('UTC')->format('Y-m-d H:i:s.v')]);
    }
}
