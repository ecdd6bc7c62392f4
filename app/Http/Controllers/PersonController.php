<?php

namespace App\Http\Controllers;

use App\Models\Site;
use App\Models\User;
use App\People\Members;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Validation\Rule;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Rights\Right;

/** Who may do what on a site. */
class PersonController extends Controller
{
    private const MOST = 500;

    public function __construct(private readonly Members $members)
    {
    }

    public function index(Request $request, Site $site): JsonResponse
    {
        $owned = $site->experiments()->where('owner', '<>', '')->groupBy('owner')->selectRaw('owner, count(*) as n')->pluck('n', 'owner');

        return response()->json($site->everybody()->orderBy('name')->orderBy('users.id')->limit(self::MOST)->get()
            ->map(static fn (User $user): array => [
                'id' => $user->id, 'name' => $user->name, 'email' => $user->email, 'right' => $user->pivot->right, 'closed' => $user->pivot->closed_at !== null || $user->deactivated_at !== null,
                'is_you' => $user->id === $request->user()->id, 'uses_codes' => $user->usesCodes(), 'owns' => (int) ($owned[$user->name] ?? 0),
            ]));
    }

    public function update(Request $request, Site $site, int $person): Response
    {
        $right = Right::from($request->validate(['right' => ['required', Rule::enum(Right::class)]])['right']);
        $this->members->change($site, self::member($site, $person), $right);

        return response()->noContent();
    }

    /** Closes the access; the person stays in the list, and can be let in again. */
    public function destroy(Request $request, Site $site, int $person): Response
    {
        $member = self::member($site, $person);
        $this->members->close($site, $member, self::successor($request, $site, $member), $member->id === $request->user()->id);

        return response()->noContent();
    }

    public function open(Site $site, int $person): Response
    {
        $this->members->open($site, self::member($site, $person));

        return response()->noContent();
    }

    public function leave(Request $request, Site $site): Response
    {
        $this->members->close($site, $request->user(), self::successor($request, $site, $request->user()), true);

        return response()->noContent();
    }

    public function handOver(Request $request, Site $site, int $person): JsonResponse
    {
        $member = self::member($site, $person);
        $to = self::successor($request, $site, $member) ?? throw ValidationException::withMessages(['hand_to' => 'Say who takes them over.']);

        return response()->json(['experiments' => $this->members->handOver($site, $member, $to)]);
    }

    private static function member(Site $site, int $person): User
    {
        return $site->everybody()->findOrFail($person);
    }

    /** Somebody else who looks after the site, where one was named. */
    private static function successor(Request $request, Site $site, User $but): ?User
    {
        $to = $request->validate(['hand_to' => ['nullable', 'integer']])['hand_to'] ?? null;

        /** @var User|null $successor */
        $successor = $to === null ? null : $site->users()->whereKeyNot($but->id)->where('users.id', $to)->first();

        return $to === null ? null : $successor ?? throw ValidationException::withMessages(['hand_to' => 'Choose somebody else who looks after this site.']);
    }
}
