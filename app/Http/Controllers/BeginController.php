<?php

namespace App\Http\Controllers;

use App\Http\Resources\PersonResource;
use App\Logbook\SecurityLog;
use App\People\FirstPerson;
use App\SignIn\SignIns;
use Carbon\CarbonImmutable;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Validation\ValidationException;
use Pellix\Core\SignIn\AccountName;
use Pellix\Core\SignIn\PasswordRules;
use Pellix\Core\SignIn\SecurityMatter;

/** The first account of an empty copy. */
class BeginController extends Controller
{
    public function show(): JsonResponse
    {
        return response()->json(['awaited' => FirstPerson::isAwaited()]);
    }

    public function store(Request $request, FirstPerson $first, SignIns $signIns, SecurityLog $log): JsonResponse
    {
        abort_unless($request->hasSession(), 400, 'Open the link in a browser.');
        abort_unless(FirstPerson::isAwaited(), 404, 'This copy has people already. Sign in, or ask one of them to invite you.');
        $given = $request->validate([
            'code' => ['required', 'string', 'max:100'], 'name' => ['required', 'string', 'max:80'], 'email' => ['required', 'string', 'email', 'max:'.AccountName::LONGEST], 'password' => ['required', 'string', 'max:'.(4 * PasswordRules::LONGEST)],
        ]);
        if (! FirstPerson::knows($given['code'])) {
            $log->note(SecurityMatter::LinkRefused, note: 'The first account');
            throw ValidationException::withMessages(['code' => 'This is not the link that the start command printed. Copy it from there, whole.']);
        }
        $person = $first->make($given['name'], AccountName::of($given['email']), $given['password']);
        $signIns->begin($request, $person, 'password', CarbonImmutable::now('UTC'));

        return (new PersonResource($person))->response()->setStatusCode(201);
    }
}
