<?php

namespace App\Http\Controllers;

use App\Http\Resources\PersonResource;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Support\Facades\Auth;
use Illuminate\Validation\ValidationException;

class SessionController extends Controller
{
    public function store(Request $request): PersonResource
    {
        $credentials = $request->validate([
            'email' => ['required', 'string', 'email', 'max:255'],
            'password' => ['required', 'string', 'max:255'],
        ]);
        if (! Auth::guard('web')->attempt($credentials)) {
            throw ValidationException::withMessages([
                'password' => 'No account has this e-mail address with this password. Check both and try again.',
            ]);
        }
        $request->session()->regenerate();

        return new PersonResource($request->user());
    }

    public function show(Request $request): PersonResource
    {
        return new PersonResource($request->user());
    }

    public function destroy(Request $request): Response
    {
        abort_unless($request->hasSession(), 400, 'A token has no session to end; delete the token instead.');
        Auth::guard('web')->logout();
        $request->session()->invalidate();
        $request->session()->regenerateToken();

        return response()->noContent();
    }
}
