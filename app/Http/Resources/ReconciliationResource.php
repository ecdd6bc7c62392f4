<?php

namespace App\Http\Resources;

use App\Models\Reconciliation;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;
use Pellix\Core\Formats\Moment;

/**
 * One without what it found.
 *
 * @mixin Reconciliation
 */
class ReconciliationResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        return [
            'reconciliation' => $this->id,
            'name' => $this->name,
            'subject' => $this->subject,
            'experiment' => $this->experiment?->key,
            'log' => $this->audit_log_id,
            'state' => $this->state,
            'failure' => $this->failure,
            'verdict' => $this->verdict,
            'sentence' => $this->sentence,
            'by' => $this->by,
            'asked' => Moment::format($this->asked_at),
            'ended' => $this->ended_at === null ? null : Moment::format($this->ended_at),
        ];
    }
}
