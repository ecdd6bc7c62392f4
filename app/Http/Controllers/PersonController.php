<?php

namespace App\Http\Controllers;

use App\Models\Site;
use App\Models\User;
use Illuminate\Http\JsonResponse;

/** Who may do what on a site. */
class PersonController extends Controller
{
    private const MOST = 500;

    public function index(Site $site): JsonResponse
    {
        return response()->json($site->users()->orderBy('name')->orderBy('users.id')->limit(self::MOST)->get()
            ->map(static fn (User $user): array => ['id' => $user->id, 'name' => $user->name, 'email' => $user->email, 'right' => $user->pivot->right]));
    }
}
