<?php

declare(strict_types=1);

namespace App\Audits;

use App\Models\Audit;
use App\Models\AuditLog;
use App\Models\Experiment;
use App\Models\Site;
use App\Models\User;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Audit\Engine;
use Pellix\Core\InvalidInput;

/** Asks for audits, cancels them, and forgets old ones. */
final class Audits
{
    /** So many of an experiment, or of a log, are kept. */
    private const KEPT = 60;

    /** What was counted takes room: of so many of them it is kept. */
    private const KEPT_EVIDENCE = 5;

    /** What the watch asks for looks at what was there so many seconds ago: by then it is stored, and its next audit goes on from there. */
    private const SETTLED_SECONDS = 60;

    /** @throws ValidationException */
    public function ofExperiment(Experiment $experiment, User|string $by, string $why = 'asked'): Audit
    {
        if ($experiment->started_at === null) {
            throw ValidationException::withMessages(['experiment' => 'It has not been started: there is nothing to audit.']);
        }

        return $this->ask($experiment->site, ['experiment_id' => $experiment->id], $experiment->name, AuditSetup::ofExperiment($experiment, CarbonImmutable::now('UTC')->subSeconds($why === 'asked' ? 0 : self::SETTLED_SECONDS)), $by, $why);
    }

    /** @throws ValidationException */
    public function ofLog(AuditLog $log, User $by): Audit
    {
        if ($log->state !== 'whole') {
            throw ValidationException::withMessages(['log' => 'The log has not arrived yet: '.number_format($log->received).' of '.number_format($log->size).' bytes are here.']);
        }
        if ($log->experiment === null) {
            throw ValidationException::withMessages(['log' => 'Say for which experiment it is to be audited: bring its experiment file.']);
        }

        return $this->ask($log->site, ['audit_log_id' => $log->id], $log->name, AuditSetup::ofLog($log), $by, 'asked');
    }

    /**
     * @param array<string, int>   $subject
     * @param array<string, mixed> $settings
     *
     * @throws ValidationException
     */
    private function ask(Site $site, array $subject, string $name, array $settings, User|string $by, string $why): Audit
    {
        $field = array_key_first($subject) === 'experiment_id' ? 'experiment' : 'log';
        try {
            AuditSetup::read($settings);
        } catch (InvalidInput $e) {
            throw ValidationException::withMessages([$field => "It cannot be audited: {$e->getMessage()} ({$e->field})"]);
        }

        return DB::transaction(function () use ($site, $subject, $name, $settings, $by, $why, $field): Audit {
            $own = Audit::query()->where($subject);
            if ((clone $own)->whereIn('state', ['waiting', 'running'])->lockForUpdate()->exists()) {
                throw ValidationException::withMessages([$field => 'An audit of it is under way already; wait for it, or cancel it.']);
            }
            $audit = Audit::query()->create([
                'site_id' => $site->id, ...$subject, 'name' => mb_substr($name, 0, 200), 'state' => 'waiting', 'why' => $why, 'by' => $by instanceof User ? $by->name : $by,
                'settings' => $settings, 'engine' => Engine::VERSION, 'asked_at' => CarbonImmutable::now('UTC'),
            ]);
            $old = (clone $own)->orderByDesc('id')->skip(self::KEPT)->limit(100)->pluck('id');
            Audit::query()->whereIn('id', $old)->delete();
            $bare = (clone $own)->orderByDesc('id')->skip(self::KEPT_EVIDENCE)->limit(100)->pluck('id');
            DB::table('audit_results')->whereIn('audit_id', $bare)->whereNotNull('evidence')->update(['evidence' => null]);

            return $audit->refresh();
        });
    }

    public function cancel(Audit $audit): void
    {
        Audit::query()->whereKey($audit->id)->whereIn('state', ['waiting', 'running'])->update(['state' => 'cancelled', 'doing' => '', 'ended_at' => CarbonImmutable::now('UTC')->format('Y-m-d H:i:s.v')]);
    }
}
