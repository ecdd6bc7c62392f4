<?php

declare(strict_types=1);

namespace App\Audits;

use App\Logbook\Logbook;
use App\Models\AuditLog;
use App\Models\Exclusion;
use App\Models\Experiment;
use App\Models\Site;
use App\Models\User;
use Carbon\CarbonImmutable;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Audit\Exclusions\Exclusions;
use Pellix\Core\Formats\Moment;
use Pellix\Core\InvalidInput;
use Pellix\Core\Vocabulary\Thing;

/** Makes exclusions and withdraws them; the audits after that go by them. */
final readonly class ExclusionStore
{
    private const MOST = 15;

    public function __construct(private Logbook $logbook)
    {
    }

    /**
     * @param Experiment|AuditLog|null $subject    null for all experiments of the site
     * @param array<string, mixed>     $definition
     *
     * @throws ValidationException at the members of `exclusion`
     */
    public function make(Site $site, Experiment|AuditLog|null $subject, array $definition, string $reason, User $author): Exclusion
    {
        $now = CarbonImmutable::now('UTC');
        unset($definition['made']);
        try {
            Exclusions::read([[...$definition, 'made' => Moment::format($now)]]);
        } catch (InvalidInput $e) {
            throw ValidationException::withMessages([rtrim('exclusion.'.(explode('.', "{$e->field}.", 2)[1] ?? ''), '.') => $e->getMessage()]);
        }
        $active = Exclusion::query()->where('site_id', $site->id)->whereNull('withdrawn_at')->where('experiment_id', $subject instanceof Experiment ? $subject->id : null)->where('audit_log_id', $subject instanceof AuditLog ? $subject->id : null)->get();
        $active->count() < self::MOST || throw ValidationException::withMessages(['exclusion' => 'There are '.self::MOST.' exclusions already; withdraw one first.']);
        $active->contains(static fn (Exclusion $one): bool => ($one->definition['name'] ?? null) === $definition['name']) && throw ValidationException::withMessages(['exclusion.name' => 'There is one of that name already.']);
        $made = Exclusion::query()->create([
            'site_id' => $site->id, 'experiment_id' => $subject instanceof Experiment ? $subject->id : null, 'audit_log_id' => $subject instanceof AuditLog ? $subject->id : null,
            'definition' => $definition, 'reason' => $reason, 'author' => $author->name, 'made_at' => $now,
        ]);
        $this->note($made, 'created', $reason);
        // Readouts leave it out from now on, too.
        $site->recount();

        return $made->refresh();
    }

    public function withdraw(Exclusion $exclusion, User $by): void
    {
        if ($exclusion->withdrawn_at === null) {
            $exclusion->update(['withdrawn_by' => $by->name, 'withdrawn_at' => CarbonImmutable::now('UTC')]);
            $this->note($exclusion, 'withdrawn', '');
            $exclusion->site->recount();
        }
    }

    private function note(Exclusion $exclusion, string $event, string $reason): void
    {
        $this->logbook->note($exclusion->site_id, Thing::Exclusion, (string) $exclusion->id, (string) ($exclusion->definition['name'] ?? ''), $event, note: $reason, subject: $exclusion);
    }
}
