<?php

namespace App\Http\Controllers;

use App\Models\Site;
use App\Models\User;
use App\Notices\Deliveries;
use App\Notices\Settings;
use Carbon\CarbonImmutable;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Validation\Rule;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Notices\InvalidNotices;
use Pellix\Core\Notices\QuietHours;
use Pellix\Core\Notices\Wish;
use Pellix\Core\Rights\Right;

/** Who is told what of a site by mail, and when not: everybody's own choice, and the owner's for all. */
class NoticeSettingController extends Controller
{
    public function show(Request $request, Site $site): JsonResponse
    {
        $asking = $request->user();
        $isOwner = $asking->can(Right::Own->value, $site);

        return response()->json([
            'mine' => self::told($asking, Settings::of($site, $asking)),
            'people' => $isOwner ? array_map(static fn (array $one): array => self::told(...$one), Settings::ofAll($site)) : [],
            'kept_here' => config('mail.default') === 'outbox',
        ]);
    }

    public function update(Request $request, Site $site): JsonResponse
    {
        $this->keep($request, $site, $request->user());

        return $this->show($request, $site);
    }

    /** What the owner decides for somebody. */
    public function decide(Request $request, Site $site, int $person): JsonResponse
    {
        $this->keep($request, $site, User::query()->whereHas('sites', static fn ($own) => $own->whereKey($site->id))->findOrFail($person));

        return $this->show($request, $site);
    }

    public function test(Request $request, Site $site, Deliveries $deliveries): JsonResponse
    {
        $delivery = $deliveries->ofTest($site, $request->user(), CarbonImmutable::now('UTC'));

        return response()->json(['delivery' => $delivery->id], 202);
    }

    private function keep(Request $request, Site $site, User $person): void
    {
        $asked = $request->validate([
            'wish' => ['required', Rule::enum(Wish::class)],
            'digest' => ['required', 'boolean'],
            'quiet_from' => ['nullable', 'string', 'max:5', 'required_with:quiet_to'],
            'quiet_to' => ['nullable', 'string', 'max:5', 'required_with:quiet_from'],
        ], ['wish' => 'Say of which troubles: nothing, blockers or everything.', 'digest' => 'Say whether the week is to be told: true or false.', 'quiet_from.string' => 'A time of the day is written with hours and minutes, such as 22:00.', 'quiet_to.string' => 'A time of the day is written with hours and minutes, such as 07:00.', 'quiet_from.required_with' => 'Say from when, too, or leave both empty.', 'quiet_to.required_with' => 'Say until when, too, or leave both empty.']);
        [$from, $to] = [$asked['quiet_from'] ?? null, $asked['quiet_to'] ?? null];
        try {
            $from === null || $to === null || QuietHours::of($from, $to);
        } catch (InvalidNotices $e) {
            throw ValidationException::withMessages([$e->field => $e->getMessage()]);
        }
        (new Settings(Wish::from($asked['wish']), (bool) $asked['digest'], $from, $to))->keep($site, $person);
    }

    /** @return array<string, mixed> */
    private static function told(User $person, Settings $settings): array
    {
        return [
            'person' => $person->id,
            'name' => $person->name,
            'email' => $person->email,
            'wish' => $settings->wish,
            'digest' => $settings->digest,
            'quiet_from' => $settings->quietFrom,
            'quiet_to' => $settings->quietTo,
        ];
    }
}
