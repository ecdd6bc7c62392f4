<?php

namespace App\Http\Controllers;

use App\Http\Resources\TokenResource;
use App\Logbook\Logbook;
use App\Logbook\SecurityLog;
use App\Models\AccessToken;
use App\Models\Site;
use App\Models\User;
use Carbon\CarbonImmutable;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;
use Illuminate\Http\Response;
use Illuminate\Validation\Rule;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Rights\Right;
use Pellix\Core\SignIn\SecurityMatter;
use Pellix\Core\Vocabulary\Thing;

/** A person's own tokens for the API: each for one site and one right, and until a day. The secret is shown once, when the token is made. */
class TokenController extends Controller
{
    private const MOST_DAYS = 366;
    private const MOST = 100;

    public function __construct(private readonly Logbook $logbook, private readonly SecurityLog $log)
    {
    }

    public function index(Request $request): AnonymousResourceCollection
    {
        return TokenResource::collection($request->user()->tokens()->with('site')->orderByDesc('id')->get());
    }

    public function store(Request $request): JsonResponse
    {
        $person = $request->user();
        $given = $request->validate([
            'name' => ['required', 'string', 'max:80'], 'site' => ['required', 'string', 'max:40'], 'right' => ['required', Rule::enum(Right::class)], 'days' => ['required', 'integer', 'between:1,'.self::MOST_DAYS],
        ], ['days.between' => 'A token lasts from 1 to '.self::MOST_DAYS.' days.']);
        /** @var Site|null $site */
        $site = $person->sites()->where('key', $given['site'])->first();
        $site ?? throw ValidationException::withMessages(['site' => 'Choose a site that you look after.']);
        $right = Right::from($given['right']);
        $person->rightOn($site)?->includes($right) || throw ValidationException::withMessages(['right' => "You may {$person->rightOn($site)?->value} on {$site->name}: a token may not more."]);
        $person->tokens()->count() < self::MOST || throw ValidationException::withMessages(['name' => 'You have '.self::MOST.' tokens. Revoke those that nothing uses.']);
        $new = $person->createToken($given['name'], expiresAt: CarbonImmutable::now('UTC')->addDays($given['days']));
        /** @var AccessToken $token */
        $token = $new->accessToken;
        $token->update(['site_id' => $site->id, 'right' => $right->value]);
        $this->note(SecurityMatter::TokenMade, $person, $token->load('site'), 'token made');

        return response()->json([...(new TokenResource($token))->resolve($request), 'secret' => $new->plainTextToken], 201);
    }

    public function destroy(Request $request, string $token): Response
    {
        /** @var AccessToken $kept */
        $kept = $request->user()->tokens()->with('site')->findOrFail($token);
        $kept->delete();
        $this->note(SecurityMatter::TokenRevoked, $request->user(), $kept, 'token revoked');

        return response()->noContent();
    }

    /** One that had no scope could be used on each of its person's sites. */
    private function note(SecurityMatter $matter, User $person, AccessToken $token, string $event): void
    {
        /** @var Site $site */
        foreach ($token->site === null ? $person->sites : [$token->site] as $site) {
            $this->log->note($matter, $person, $site, $token->name.($token->right === null ? '' : ", {$token->right}"));
            $this->logbook->note($site->id, Thing::Person, (string) $person->id, $person->name, $event, note: $token->name);
        }
    }
}
