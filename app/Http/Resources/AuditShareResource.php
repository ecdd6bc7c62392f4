<?php

namespace App\Http\Resources;

use App\Models\AuditShare;
use Carbon\CarbonImmutable;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;
use Pellix\Core\Formats\Moment;

/** @mixin AuditShare */
class AuditShareResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        $time = static fn (?CarbonImmutable $at): ?string => $at === null ? null : Moment::format($at);

        return [
            'share' => $this->id,
            'recipient' => $this->recipient,
            'author' => $this->author,
            'address' => $this->isOpen(CarbonImmutable::now('UTC')) ? $this->address() : null,
            'created' => $time($this->created_at),
            'expires' => $time($this->expires_at),
            'revoked' => $time($this->revoked_at),
            'read' => $time($this->read_at),
        ];
    }
}
