<?php

namespace App\Http\Controllers;

use App\Approvals\Approvals;
use App\Http\Resources\PublishRequestResource;
use App\Models\PublishRequest;
use App\Models\Site;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;

/** What was asked of those who publish. Whoever agrees sends it themselves, with the request's number. */
class PublishRequestController extends Controller
{
    private const LISTED = 100;

    public function __construct(private readonly Approvals $approvals)
    {
    }

    public function index(Site $site): AnonymousResourceCollection
    {
        return PublishRequestResource::collection(PublishRequest::query()->where('site_id', $site->id)->orderByRaw("state = 'open' desc")->orderByDesc('id')->limit(self::LISTED)->get());
    }

    public function store(Request $request, Site $site): JsonResponse
    {
        $given = $request->validate([
            'method' => ['required', 'in:POST,PUT'], 'path' => ['required', 'string', 'max:200'], 'body' => ['present', 'array'], 'note' => ['nullable', 'string', 'max:500'],
        ]);
        // As it was sent: empty members are members.
        $body = (array) $request->input('body');

        return (new PublishRequestResource($this->approvals->ask($site, $request->user(), $given['method'], $given['path'], $body, $given['note'] ?? '')))->response()->setStatusCode(201);
    }

    /** Refuses it, or withdraws one's own. */
    public function destroy(Request $request, Site $site, int $publishRequest): PublishRequestResource
    {
        $one = PublishRequest::query()->where('site_id', $site->id)->findOrFail($publishRequest);
        $answer = $request->validate(['answer' => ['nullable', 'string', 'max:500']])['answer'] ?? '';
        abort_unless($one->author_id === $request->user()->id || $request->user()->can('publish', $site), 403, 'Whoever asked withdraws it, and whoever may publish refuses it.');
        $this->approvals->refuse($site, $one, $request->user(), $answer);

        return new PublishRequestResource($one->refresh());
    }
}
