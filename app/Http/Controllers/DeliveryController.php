<?php

namespace App\Http\Controllers;

use App\Http\Resources\DeliveryResource;
use App\Models\Delivery;
use App\Models\KeptMail;
use App\Models\Site;
use App\Models\User;
use App\Notices\Deliveries;
use Carbon\CarbonImmutable;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Formats\Moment;
use Pellix\Core\Notices\DeliveryState;
use Pellix\Core\Rights\Right;

/** What was told to whom, and the mails that this copy keeps: one's own, and of everybody for the owner. */
class DeliveryController extends Controller
{
    private const LISTED = 200;

    public function index(Request $request, Site $site): AnonymousResourceCollection
    {
        $asked = $request->validate(['webhook' => ['nullable', 'integer'], 'state' => ['nullable', 'in:waiting,sent,given-up,dropped']]);

        return DeliveryResource::collection($site->deliveries()->with(['notice.experiment', 'user', 'webhook'])
            ->when(! $request->user()->can(Right::Own->value, $site), static fn ($own) => $own->where('user_id', $request->user()->id))
            ->when(isset($asked['webhook']), static fn ($some) => $some->where('webhook_id', $asked['webhook']))
            ->when(isset($asked['state']), static fn ($some) => $some->where('state', $asked['state']))
            ->latest('id')->limit(self::LISTED)->get());
    }

    public function again(Site $site, Delivery $delivery, Deliveries $deliveries): JsonResponse
    {
        in_array($delivery->state, [DeliveryState::GivenUp, DeliveryState::Waiting], true) || throw ValidationException::withMessages(['delivery' => 'Only what was not told can be tried again.']);
        $deliveries->again($delivery, CarbonImmutable::now('UTC'));

        return (new DeliveryResource($delivery))->response()->setStatusCode(202);
    }

    public function mails(Request $request, Site $site): JsonResponse
    {
        return response()->json($this->readable($request->user(), $site)->latest('id')->limit(self::LISTED)->get(['id', 'recipient', 'subject', 'at'])
            ->map(static fn (KeptMail $one): array => ['mail' => $one->id, 'recipient' => $one->recipient, 'subject' => $one->subject, 'at' => Moment::format($one->at)]));
    }

    public function mail(Request $request, Site $site, int $mail): JsonResponse
    {
        $one = $this->readable($request->user(), $site)->findOrFail($mail);

        return response()->json(['mail' => $one->id, 'recipient' => $one->recipient, 'subject' => $one->subject, 'at' => Moment::format($one->at), 'text' => $one->text, 'html' => $one->html]);
    }

    /** @return \Illuminate\Database\Eloquent\Builder<KeptMail> */
    private function readable(User $person, Site $site)
    {
        return KeptMail::query()->where('site_id', $site->id)->when(! $person->can(Right::Own->value, $site), static fn ($own) => $own->where('recipient', $person->email));
    }
}
