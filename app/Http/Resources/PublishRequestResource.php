<?php

namespace App\Http\Resources;

use App\Models\PublishRequest;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;

/** @mixin PublishRequest */
class PublishRequestResource extends JsonResource
{
    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        return [
            'id' => $this->id, 'title' => $this->title, 'method' => $this->method, 'path' => $this->path, 'body' => (object) json_decode($this->body), 'changes' => $this->changes, 'note' => $this->note,
            'author' => $this->author, 'is_yours' => $this->author_id === $request->user()->id, 'at' => $this->at, 'state' => $this->state, 'decider' => $this->decider, 'decided_at' => $this->decided_at, 'answer' => $this->answer,
        ];
    }
}
