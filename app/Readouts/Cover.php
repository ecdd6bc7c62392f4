<?php

declare(strict_types=1);

namespace App\Readouts;

use App\Logbook\Logbook;
use App\Models\Experiment;
use App\Models\User;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Formats\Moment;
use Pellix\Core\InvalidInput;
use Pellix\Core\Readout\Gate;
use Pellix\Core\Vocabulary\Thing;

/** Lifts the cover of figures that are not fit to decide on, for a reason that stays; and puts it back. */
final readonly class Cover
{
    public function __construct(private Logbook $logbook)
    {
    }

    /** @return object{reason: string, by: string, at: string}|null */
    public static function lifted(Experiment $experiment): ?object
    {
        /** @var object{reason: string, by: string, at: string}|null */
        return DB::table('readout_lifts')->where('experiment_id', $experiment->id)->whereNull('put_back_at')->orderByDesc('id')->first(['reason', 'by', 'at']);
    }

    /** @return list<array{reason: string, by: string, at: string, put_back_at: string|null, put_back_by: string|null}> every time that it was lifted, the newest first */
    public static function history(Experiment $experiment): array
    {
        $moment = static fn (?string $at): ?string => $at === null ? null : Moment::format(CarbonImmutable::parse($at, 'UTC'));

        return DB::table('readout_lifts')->where('experiment_id', $experiment->id)->orderByDesc('id')->limit(50)->get()
            ->map(static fn (object $one): array => ['reason' => $one->reason, 'by' => $one->by, 'at' => (string) $moment($one->at), 'put_back_at' => $moment($one->put_back_at), 'put_back_by' => $one->put_back_by])->values()->all();
    }

    /** @throws ValidationException */
    public function lift(Experiment $experiment, string $reason, User $by): void
    {
        try {
            Gate::of([], $reason);
        } catch (InvalidInput $e) {
            throw ValidationException::withMessages(['reason' => $e->getMessage()]);
        }
        DB::transaction(function () use ($experiment, $reason, $by): void {
            Experiment::query()->whereKey($experiment->id)->lockForUpdate()->first();
            self::lifted($experiment) === null || throw ValidationException::withMessages(['reason' => 'The cover is lifted already.']);
            DB::table('readout_lifts')->insert(['experiment_id' => $experiment->id, 'reason' => trim($reason), 'by' => mb_substr($by->name, 0, 120), 'at' => CarbonImmutable::now('UTC')->format('Y-m-d H:i:s.v')]);
            $this->logbook->note($experiment->site_id, Thing::Experiment, $experiment->key, $experiment->name, 'cover lifted', note: trim($reason), subject: $experiment);
        });
    }

    public function putBack(Experiment $experiment, User $by): void
    {
        $changed = DB::table('readout_lifts')->where('experiment_id', $experiment->id)->whereNull('put_back_at')->update(['put_back_at' => CarbonImmutable::now('UTC')->format('Y-m-d H:i:s.v'), 'put_back_by' => mb_substr($by->name, 0, 120)]);
        if ($changed > 0) {
            $this->logbook->note($experiment->site_id, Thing::Experiment, $experiment->key, $experiment->name, 'cover put back', subject: $experiment);
        }
    }
}
