<?php

declare(strict_types=1);

namespace App\Readouts;

use App\Models\Decision;
use App\Models\Experiment;
use App\Models\Notice;
use App\Models\Site;
use App\Notices\Deliveries;
use App\ReadModel\Round;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Illuminate\Validation\ValidationException;
use Symfony\Component\HttpKernel\Exception\HttpExceptionInterface;

/** At the planned end: proposes what the declared rule says, or acts on it where that was declared; and tells whoever is to decide. */
final readonly class Proposer implements Round
{
    public function __construct(private Readouts $readouts, private Decisions $decisions, private Deliveries $deliveries)
    {
    }

    public function make(Site $site): bool
    {
        $due = Experiment::query()->where('site_id', $site->id)->whereIn('state', ['running', 'paused', 'ended'])->whereNotNull('decision')->with('goals', 'revisions')
            ->whereNotIn('id', Decision::query()->where('site_id', $site->id)->select('experiment_id'))->orderBy('id')->get();
        foreach ($due as $experiment) {
            try {
                $this->look($experiment->setRelation('site', $site), CarbonImmutable::now('UTC'));
            } catch (ValidationException|HttpExceptionInterface) {
                // Somebody has decided, or it cannot be ended now: it is looked at again.
            } catch (\Throwable $e) {
                report($e);
            }
        }

        return false;
    }

    private function look(Experiment $experiment, CarbonImmutable $now): void
    {
        $readout = $this->readouts->of($experiment, $now);
        // By figures that are covered nothing is proposed; by those whose cover was lifted nothing acts.
        if ($readout['proposal'] === null) {
            return;
        }
        if (($experiment->decision['acts'] ?? false) === true && $readout['gate']?->isBlocked() === false) {
            $this->decisions->make($experiment, $readout['proposal']['choice'], $readout['proposal']['because'], null, true, null);
            $this->tell($experiment, "Decided by the declared rule: {$readout['proposal']['because']}", $now);

            return;
        }
        $this->decisions->propose($experiment, $readout['proposal']);
        $this->tell($experiment, "“{$experiment->name}” is to be decided. {$readout['proposal']['because']}", $now);
    }

    private function tell(Experiment $experiment, string $message, CarbonImmutable $now): void
    {
        DB::transaction(function () use ($experiment, $message, $now): void {
            $notice = Notice::query()->create([
                'site_id' => $experiment->site_id, 'experiment_id' => $experiment->id, 'audit_id' => null, 'identity' => 'decision', 'code' => Notice::DECISION,
                'severity' => 'warning', 'message' => mb_strcut($message, 0, 1000, 'UTF-8'), 'areas' => ['decision'], 'at' => $now,
            ]);
            $this->deliveries->ofDecision($experiment->site, $notice, $now);
        });
    }
}
