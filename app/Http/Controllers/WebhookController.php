<?php

namespace App\Http\Controllers;

use App\Http\Resources\WebhookResource;
use App\Models\Site;
use App\Models\Webhook;
use App\Notices\Deliveries;
use App\Notices\WebhookHosts;
use Carbon\CarbonImmutable;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Support\Str;
use Illuminate\Validation\Rule;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Notices\Wish;

/** Addresses that are called when there is something to tell. */
class WebhookController extends Controller
{
    private const MOST = 20;

    private const SECRET_LENGTH = 43;

    public function __construct(private readonly WebhookHosts $hosts, private readonly Deliveries $deliveries)
    {
    }

    public function index(Site $site): JsonResponse
    {
        return response()->json($site->webhooks()->orderBy('id')->get()->map(static fn (Webhook $one): WebhookResource => new WebhookResource($one)));
    }

    public function store(Request $request, Site $site): JsonResponse
    {
        $asked = $this->asked($request, $site);
        $site->webhooks()->count() < self::MOST || throw ValidationException::withMessages(['url' => 'A site has '.self::MOST.' webhooks at most.']);
        $secret = Str::random(self::SECRET_LENGTH);
        $webhook = $site->webhooks()->create([...$asked, 'secret' => $secret, 'author' => $request->user()->name, 'created_at' => CarbonImmutable::now('UTC')]);

        return (new WebhookResource($webhook, $secret))->response()->setStatusCode(201);
    }

    public function update(Request $request, Site $site, Webhook $webhook): WebhookResource
    {
        $webhook->update($this->asked($request, $site));

        return new WebhookResource($webhook);
    }

    /** Gives it another secret; with the old one nothing is signed any more. */
    public function secret(Site $site, Webhook $webhook): WebhookResource
    {
        $secret = Str::random(self::SECRET_LENGTH);
        $webhook->update(['secret' => $secret]);

        return new WebhookResource($webhook, $secret);
    }

    public function test(Site $site, Webhook $webhook): JsonResponse
    {
        return response()->json(['delivery' => $this->deliveries->ofTest($site, $webhook, CarbonImmutable::now('UTC'))->id], 202);
    }

    public function destroy(Site $site, Webhook $webhook): Response
    {
        $webhook->delete();

        return response()->noContent();
    }

    /** @return array<string, mixed> */
    private function asked(Request $request, Site $site): array
    {
        $asked = $request->validate([
            'name' => ['required', 'string', 'max:120'],
            'url' => ['required', 'string', 'max:500'],
            'wish' => ['required', Rule::enum(Wish::class)],
            'digest' => ['required', 'boolean'],
            'active' => ['required', 'boolean'],
        ], ['name.required' => 'Give it a name, so that you can tell them apart.', 'url.required' => 'Say which address is to be called.']);
        $refused = $this->hosts->refusal($site, $asked['url']);
        $refused === null || throw ValidationException::withMessages(['url' => $refused]);

        return $asked;
    }
}
