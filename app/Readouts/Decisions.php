<?php

declare(strict_types=1);

namespace App\Readouts;

use App\Experiments\ExperimentLife;
use App\Logbook\Logbook;
use App\Models\Decision;
use App\Models\Experiment;
use App\Models\Site;
use App\Models\User;
use Carbon\CarbonImmutable;
use Illuminate\Support\Collection;
use Illuminate\Support\Facades\DB;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Experiments\Stage;
use Pellix\Core\Vocabulary\Thing;

/** Decides experiments: by a person, or as a rule says; with what was known at the time. */
final readonly class Decisions
{
    private const LISTED = 200;

    public function __construct(private Readouts $readouts, private ExperimentLife $life, private Logbook $logbook)
    {
    }

    /**
     * Decides, ends what still runs, and serves the variant that is kept to everybody.
     *
     * @param User|null $by null where the rule acts
     *
     * @throws ValidationException
     */
    public function make(Experiment $experiment, string $choice, string $because, ?string $learned, bool $serves, ?User $by): Decision
    {
        $stage = Stage::from($experiment->state);
        abort_if(! $stage->hasStarted() || $stage === Stage::Archived, 409, "There is nothing to decide of an experiment that is {$experiment->state}.");
        if (! in_array($choice, array_column($experiment->variants, 'key'), true)) {
            throw ValidationException::withMessages(['choice' => "There is no variant \"{$choice}\"."]);
        }
        $known = $this->known($experiment);
        if (in_array($experiment->state, ['running', 'paused'], true)) {
            $this->life->move($experiment, 'end', $by, keep: $serves ? $choice : null, note: "Decided: {$because}");
        } elseif ($by !== null && $experiment->kept_variant !== ($serves ? $choice : null)) {
            $this->life->serve($experiment, $serves ? $choice : null, $by);
        }

        return DB::transaction(function () use ($experiment, $choice, $because, $learned, $by, $known): Decision {
            Decision::query()->where('experiment_id', $experiment->id)->where('state', 'proposed')->update(['state' => 'dropped']);
            $made = Decision::query()->create([
                'site_id' => $experiment->site_id, 'experiment_id' => $experiment->id, 'state' => 'made', 'choice' => $choice, 'because' => $because, 'learned' => $learned,
                'by' => mb_substr($by->name ?? 'The declared rule', 0, 120), 'at' => CarbonImmutable::now('UTC'), 'known' => $known,
            ]);
            $this->logbook->note($experiment->site_id, Thing::Experiment, $experiment->key, $experiment->name, 'decided', note: mb_substr("{$choice}: {$because}", 0, 500), subject: $experiment);

            return $made->refresh();
        });
    }

    /** @param array{choice: string, because: string} $proposal */
    public function propose(Experiment $experiment, array $proposal): Decision
    {
        return Decision::query()->create([
            'site_id' => $experiment->site_id, 'experiment_id' => $experiment->id, 'state' => 'proposed', 'choice' => $proposal['choice'], 'because' => $proposal['because'],
            'by' => 'The declared rule', 'at' => CarbonImmutable::now('UTC'), 'known' => $this->known($experiment),
        ])->refresh();
    }

    /** @return array<string, mixed> what the readout says now, without what stands behind it */
    private function known(Experiment $experiment): array
    {
        $report = $this->readouts->of($experiment, CarbonImmutable::now('UTC'))['report'] ?? [];

        return array_diff_key($report, ['segments' => 0, 'course' => 0, 'values' => 0, 'visits' => 0]);
    }

    /** @return Collection<int, Decision> of an experiment, the newest first */
    public function of(Experiment $experiment): Collection
    {
        return Decision::query()->where('experiment_id', $experiment->id)->orderByDesc('id')->limit(self::LISTED)->get();
    }

    /**
     * What was decided on a site, and learned: the newest first.
     *
     * @param string $search words, each of which stands in the name, the hypothesis, the reason or what was learned
     *
     * @return Collection<int, Decision>
     */
    public function search(Site $site, string $search): Collection
    {
        $words = array_slice(array_filter(preg_split('/\s+/u', trim($search)) ?: []), 0, 10);

        return Decision::query()->where('decisions.site_id', $site->id)->where('decisions.state', 'made')
            ->where(static function ($all) use ($words): void {
                foreach ($words as $word) {
                    $like = '%'.addcslashes($word, '\\%_').'%';
                    $all->where(static fn ($any) => $any->where('because', 'like', $like)->orWhere('learned', 'like', $like)->orWhere('choice', 'like', $like)
                        ->orWhereHas('experiment', static fn ($own) => $own->withTrashed()->where(static fn ($one) => $one->where('name', 'like', $like)->orWhere('hypothesis', 'like', $like)->orWhere('key', 'like', $like))));
                }
            })->with('experiment')->orderByDesc('at')->limit(self::LISTED)->get();
    }
}
