<?php

namespace App\Http\Resources;

use App\Audits\LogPieces;
use App\Models\AuditLog;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;
use Pellix\Core\Formats\Moment;

/** @mixin AuditLog */
class AuditLogResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        return [
            'log' => $this->id,
            'name' => $this->name,
            'size' => $this->size,
            'received' => $this->received,
            'piece_bytes' => LogPieces::BYTES,
            'state' => $this->state,
            'sha256' => $this->sha256,
            'experiment' => $this->experiment,
            'mapping' => $this->mapping,
            'by' => $this->by,
            'created' => Moment::format($this->created_at),
        ];
    }
}
