<?php

declare(strict_types=1);

namespace App\Audits;

use App\Models\AuditLog;
use App\Models\Experiment;
use App\Models\Reconciliation as Asked;
use App\Models\Site;
use App\Models\User;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Events\LogColumns;
use Pellix\Core\Events\LogReader;
use Pellix\Core\InvalidInput;
use Pellix\Core\Reconcile\InvalidOther;
use Pellix\Core\Reconcile\Other;
use Pellix\Core\Reconcile\OtherColumns;
use Pellix\Core\Reconcile\Ours;
use Pellix\Core\Reconcile\Reconciliation;

/** Holds files of other sources against experiments and logs, one at a time, in the background. */
final readonly class Reconciler
{
    private const KEPT = 100;

    /** One that is surely read by one process alone, also where it is packed. */
    private const SHORT_BYTES = 500_000;

    public function __construct(private LogPieces $pieces)
    {
    }

    /**
     * Asks for one. What can be seen to be wrong before anything is counted is refused at once.
     *
     * @param array<string, mixed>|null $mapping of the file's columns; null where they have our names
     *
     * @throws ValidationException
     */
    public function ask(Site $site, Experiment|AuditLog $subject, string $name, string $content, ?array $mapping, float $tolerance, int $window, ?string $goal, User $by): Asked
    {
        $field = $subject instanceof Experiment ? 'experiment' : 'log';
        if ($subject instanceof Experiment ? $subject->started_at === null : $subject->state !== 'whole' || $subject->experiment === null) {
            throw ValidationException::withMessages([$field => $subject instanceof Experiment ? 'It has not been started: there is nothing to hold against.' : 'The log has not arrived yet, or nobody has said which experiment it is about.']);
        }
        $now = CarbonImmutable::now('UTC');
        $settings = ['setup' => $subject instanceof Experiment ? AuditSetup::ofExperiment($subject, $now) : AuditSetup::ofLog($subject), 'mapping' => $mapping, 'tolerance' => $tolerance, 'window' => $window, 'goal' => $goal];
        try {
            $setup = AuditSetup::read($settings['setup'], isWhole: true);
        } catch (InvalidInput $e) {
            throw ValidationException::withMessages([$field => "It cannot be read: {$e->getMessage()} ({$e->field})"]);
        }
        self::place($setup, $goal) === null && $goal !== null && throw ValidationException::withMessages(['goal' => "The experiment has no goal \"{$goal}\"."]);
        $other = self::other($content, $mapping, $setup);
        $goal !== null && $other->kind === 'orders' && throw ValidationException::withMessages(['goal' => 'A goal is counted by day; this file has orders.']);
        $asked = Asked::query()->create([
            'site_id' => $site->id, 'experiment_id' => $subject instanceof Experiment ? $subject->id : null, 'audit_log_id' => $subject instanceof AuditLog ? $subject->id : null,
            'name' => mb_substr(mb_scrub($name, 'UTF-8'), 0, 200), 'subject' => mb_substr($subject->name, 0, 200), 'settings' => $settings, 'content' => (string) gzencode($content, 4), 'state' => 'waiting', 'by' => $by->name, 'asked_at' => $now,
        ]);
        Asked::query()->whereIn('id', Asked::query()->where('site_id', $site->id)->orderByDesc('id')->skip(self::KEPT)->limit(100)->pluck('id'))->delete();

        return $asked->refresh();
    }

    /**
     * The other source's file, read.
     *
     * @param array<string, mixed>|null $mapping
     *
     * @throws ValidationException
     */
    private static function other(string $content, ?array $mapping, Setup $setup): Other
    {
        $zone = $setup->settings->zone->getName();
        try {
            $columns = $mapping === null ? OtherColumns::ours($zone) : OtherColumns::read($mapping, $zone);
        } catch (InvalidInput $e) {
            throw ValidationException::withMessages(['mapping'.($e->field === '' ? '' : ".{$e->field}") => $e->getMessage()]);
        }
        try {
            return Other::of(self::stream($content), $columns, $setup->variants);
        } catch (InvalidOther $e) {
            throw ValidationException::withMessages(['file' => ($e->field === '' ? '' : "Line {$e->field}: ").$e->getMessage()]);
        }
    }

    /** @return resource */
    private static function stream(string $content)
    {
        $stream = fopen('php://temp/maxmemory:4000000', 'w+') ?: throw new \RuntimeException('There is no room for a temporary file.');
        fwrite($stream, $content);
        rewind($stream);

        return $stream;
    }

    /** Where a goal stands among those of the set-up. */
    private static function place(Setup $setup, ?string $goal): ?int
    {
        $place = $goal === null ? false : array_search($goal, array_map(static fn ($one): string => $one->key, $setup->goals), true);

        return $place === false ? null : (int) $place;
    }

    public function next(string $worker): ?Asked
    {
        return Claim::next(Asked::query(), $worker);
    }

    public function make(Asked $asked): void
    {
        try {
            $settings = $asked->settings;
            $setup = AuditSetup::read($settings['setup'], isWhole: true);
            $other = self::other((string) gzdecode((string) $asked->content), $settings['mapping'], $setup);
            $found = Reconciliation::of($this->ours($asked, $setup, self::place($setup, $settings['goal'])), $other, $setup, (float) $settings['tolerance'], (int) $settings['window'], $settings['goal']);
            Claim::end(Asked::query()->whereKey($asked->id), [
                'state' => 'done', 'verdict' => $found->verdict(), 'sentence' => mb_strcut($found->sentence(), 0, 1000, 'UTF-8'),
                'result' => json_encode($found->toArray(), JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE | JSON_PRESERVE_ZERO_FRACTION),
            ]);
        } catch (ValidationException $e) {
            Claim::end(Asked::query()->whereKey($asked->id), ['state' => 'failed', 'failure' => mb_strcut($e->getMessage(), 0, 500, 'UTF-8')]);
        } catch (InvalidLog $e) {
            [$line] = explode('.', $e->field, 2);
            Claim::end(Asked::query()->whereKey($asked->id), ['state' => 'failed', 'failure' => mb_strcut("Line {$line} of the log: {$e->getMessage()}", 0, 500, 'UTF-8')]);
        } catch (\Throwable $e) {
            report($e);
            Claim::end(Asked::query()->whereKey($asked->id), ['state' => 'failed', 'failure' => 'It failed, and should not have.']);
        }
    }

    private function ours(Asked $asked, Setup $setup, ?int $goal): Ours
    {
        $log = $asked->log;
        if ($log === null) {
            return StoredAudit::ours($asked->experiment ?? throw new \RuntimeException('The experiment is gone.'), $asked->asked_at, $setup, $goal);
        }
        $file = $this->pieces->file($log);
        try {
            // A long log is read by two processes; what is open belongs to this one, and the one that is forked must not close it.
            $log->size < self::SHORT_BYTES || DB::purge();

            return Ours::of(LogReader::pieces($file, $this->pieces->isCsv($log), LogReader::WORTH_TWO, $log->mapping === null ? null : LogColumns::read($log->mapping), true) ?? [], $setup, static fn (int $lines) => null, $goal);
        } finally {
            unlink($file);
        }
    }
}
