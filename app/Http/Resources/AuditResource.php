<?php

namespace App\Http\Resources;

use App\Models\Audit;
use Carbon\CarbonImmutable;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;
use Pellix\Core\Formats\Moment;

/**
 * An audit without what it found.
 *
 * @mixin Audit
 */
class AuditResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        $took = $this->started_at?->diffInSeconds($this->ended_at ?? CarbonImmutable::now('UTC'), true) ?? 0.0;
        $last = $this->since_last;

        return [
            'audit' => $this->id,
            'name' => $this->name,
            'experiment' => $this->experiment?->key,
            'log' => $this->audit_log_id,
            'state' => $this->state,
            'why' => $this->why,
            'by' => $this->by,
            'verdict' => $this->verdict,
            'sentence' => $this->sentence,
            'blockers' => $this->blockers,
            'warnings' => $this->warnings,
            'notes' => $this->notes,
            'engine' => $this->engine,
            'fingerprint' => $this->fingerprint,
            'went_on_from' => $this->went_on_from === null ? null : Moment::format($this->went_on_from),
            'read_events' => $this->read_events,
            'doing' => $this->doing,
            'done' => $this->done,
            'total' => $this->total,
            'seconds' => round($took, 1),
            'seconds_left' => $this->state === 'running' && $this->done > 0 && $this->total > $this->done ? (int) ceil($took / $this->done * ($this->total - $this->done)) : null,
            'asked' => Moment::format($this->asked_at),
            'started' => $this->started_at === null ? null : Moment::format($this->started_at),
            'ended' => $this->ended_at === null ? null : Moment::format($this->ended_at),
            'since_last' => $last === null ? null : ['audit' => $last['audit'], 'new' => count($last['new']), 'mended' => count($last['mended']), 'words' => $last['words']],
        ];
    }
}
