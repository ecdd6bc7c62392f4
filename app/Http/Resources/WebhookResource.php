<?php

namespace App\Http\Resources;

use App\Models\Webhook;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;
use Pellix\Core\Formats\Moment;

/** @mixin Webhook */
class WebhookResource extends JsonResource
{
    /** @param string|null $secret where it was made just now: it is shown once */
    public function __construct(mixed $resource, private readonly ?string $secret = null)
    {
        parent::__construct($resource);
    }

    /** @return array<string, mixed> */
    public function toArray(Request $request): array
    {
        return [
            'webhook' => $this->id,
            'name' => $this->name,
            'url' => $this->url,
            'wish' => $this->wish,
            'digest' => $this->digest,
            'active' => $this->active,
            'author' => $this->author,
            'created' => Moment::format($this->created_at),
            'secret' => $this->secret,
        ];
    }
}
