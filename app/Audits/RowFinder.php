<?php

declare(strict_types=1);

namespace App\Audits;

use App\Models\Audit;
use App\Models\AuditRows;
use Carbon\CarbonImmutable;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Audit\InvalidAudit;
use Pellix\Core\Audit\Part;
use Pellix\Core\Audit\Rows\Behind;
use Pellix\Core\Audit\Rows\Rows;
use Pellix\Core\Audit\Rows\Sought;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Events\LogColumns;
use Pellix\Core\Events\LogReader;
use Pellix\Core\Formats\Moment;

/** Finds the rows behind numbers of audits, in the background, and keeps them for whoever asks again. */
final readonly class RowFinder
{
    /** Of each audit so many questions are kept. */
    private const KEPT = 20;

    /** Of a site so many may wait. */
    private const MOST_WAITING = 20;

    public function __construct(private LogPieces $pieces)
    {
    }

    /**
     * @param array{behind: string, variant: string|null, goal: string|null, since: string|null, until: string|null, dimension: string|null, value: string|null, whole: bool} $sought
     *
     * @throws ValidationException
     */
    public function ask(Audit $audit, array $sought): AuditRows
    {
        $mark = hash('sha256', json_encode($sought, JSON_THROW_ON_ERROR | JSON_INVALID_UTF8_SUBSTITUTE));
        $known = AuditRows::query()->where('audit_id', $audit->id)->where('mark', $mark)->first();
        if ($known !== null) {
            return $known;
        }
        $audit->state === 'done' || throw ValidationException::withMessages(['behind' => 'This audit has found nothing yet: it is not done.']);
        self::read($audit, $sought);
        AuditRows::query()->whereIn('state', ['waiting', 'running'])->whereIn('audit_id', Audit::query()->where('site_id', $audit->site_id)->select('id'))->count() < self::MOST_WAITING
            || throw ValidationException::withMessages(['behind' => 'Too many numbers are being looked into at this moment. Try again when they are done.']);
        $rows = AuditRows::query()->createOrFirst(['audit_id' => $audit->id, 'mark' => $mark], ['sought' => $sought, 'state' => 'waiting', 'asked_at' => CarbonImmutable::now('UTC')]);
        AuditRows::query()->whereIn('id', AuditRows::query()->where('audit_id', $audit->id)->orderByDesc('id')->skip(self::KEPT)->limit(100)->pluck('id'))->delete();

        return $rows->refresh();
    }

    /**
     * @param array<string, mixed> $sought
     *
     * @return array{Setup, Sought}
     *
     * @throws ValidationException
     */
    private static function read(Audit $audit, array $sought): array
    {
        $setup = AuditSetup::read($audit->settings, (bool) $sought['whole']);
        $moment = static function (string $name) use ($sought): ?int {
            $at = $sought[$name] === null ? null : Moment::parse($sought[$name]) ?? throw ValidationException::withMessages([$name => 'A time in RFC 3339 is needed, such as 2026-03-02T00:00:00Z.']);

            return $at === null ? null : 1000 * $at->getTimestamp();
        };
        try {
            return [$setup, Sought::of($setup, Behind::from($sought['behind']), $sought['variant'], $sought['goal'], Part::of($moment('since'), $moment('until'), $sought['dimension'], $sought['value']))];
        } catch (InvalidAudit $e) {
            throw ValidationException::withMessages([$e->field => $e->getMessage()]);
        }
    }

    public function next(string $worker): ?AuditRows
    {
        return Claim::next(AuditRows::query(), $worker);
    }

    public function make(AuditRows $asked): void
    {
        $own = AuditRows::query()->whereKey($asked->id);
        try {
            $audit = $asked->audit ?? throw new \RuntimeException('The audit is gone.');
            [$setup, $sought] = self::read($audit, $asked->sought);
            $found = $this->found($audit, $setup, $sought)->toArray();
            Claim::end($own, ['state' => 'done', 'found' => json_encode($found, JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE)]);
        } catch (\Throwable $e) {
            report($e);
            Claim::end($own, ['state' => 'failed', 'failure' => 'It failed, and should not have.']);
        }
    }

    private function found(Audit $audit, Setup $setup, Sought $sought): Rows
    {
        $log = $audit->log;
        if ($log === null) {
            return StoredAudit::behind($audit->experiment ?? throw new \RuntimeException('The experiment is gone.'), $audit->asked_at, $setup, $sought);
        }
        $file = $this->pieces->file($log);
        try {
            return Rows::ofLog(LogReader::pieces($file, $this->pieces->isCsv($log), PHP_INT_MAX, $log->mapping === null ? null : LogColumns::read($log->mapping), true) ?? [[]], $setup, $sought, static fn (int $lines) => null);
        } finally {
            unlink($file);
        }
    }
}
