<?php

namespace App\Http\Controllers;

use App\Http\Resources\TokenResource;
use App\Logbook\Logbook;
use App\Models\User;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;
use Illuminate\Http\Response;
use Pellix\Core\Vocabulary\Thing;

/** A person's own tokens for the API. The secret is shown once, when the token is made. */
class TokenController extends Controller
{
    public function __construct(private readonly Logbook $logbook)
    {
    }

    /** With a token somebody else can do what its person may, on each of the person's sites. */
    private function note(User $person, string $event, string $name): void
    {
        foreach ($person->sites as $site) {
            $this->logbook->note($site->id, Thing::Person, (string) $person->id, $person->name, $event, note: $name);
        }
    }

    public function index(Request $request): AnonymousResourceCollection
    {
        return TokenResource::collection($request->user()->tokens()->orderByDesc('id')->get());
    }

    public function store(Request $request): JsonResponse
    {
        $name = $request->validate(['name' => ['required', 'string', 'max:80']])['name'];
        $token = $request->user()->createToken($name);
        $this->note($request->user(), 'token made', $name);

        return response()->json([...(new TokenResource($token->accessToken))->resolve($request), 'secret' => $token->plainTextToken], 201);
    }

    public function destroy(Request $request, string $token): Response
    {
        $kept = $request->user()->tokens()->findOrFail($token);
        $kept->delete();
        $this->note($request->user(), 'token revoked', (string) $kept->getAttribute('name'));

        return response()->noContent();
    }
}
