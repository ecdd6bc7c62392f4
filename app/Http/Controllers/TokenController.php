<?php

namespace App\Http\Controllers;

use App\Http\Resources\TokenResource;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;
use Illuminate\Http\Response;

/** A person's own tokens for the API. The secret is shown once, when the token is made. */
class TokenController extends Controller
{
    public function index(Request $request): AnonymousResourceCollection
    {
        return TokenResource::collection($request->user()->tokens()->orderByDesc('id')->get());
    }

    public function store(Request $request): JsonResponse
    {
        $name = $request->validate(['name' => ['required', 'string', 'max:80']])['name'];
        $token = $request->user()->createToken($name);

        return response()->json([...(new TokenResource($token->accessToken))->resolve($request), 'secret' => $token->plainTextToken], 201);
    }

    public function destroy(Request $request, string $token): Response
    {
        $request->user()->tokens()->findOrFail($token)->delete();

        return response()->noContent();
    }
}
