<?php

namespace App\Http\Controllers;

use App\Http\Resources\AccountResource;
use App\Http\Resources\SignInResource;
use App\Logbook\SecurityLog;
use App\Models\SignIn;
use App\SignIn\Attempts;
use App\SignIn\Codes;
use App\SignIn\Current;
use App\SignIn\Passwords;
use App\SignIn\SignIns;
use App\SignIn\Told;
use Carbon\CarbonImmutable;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;
use Illuminate\Http\Response;
use Illuminate\Validation\ValidationException;
use Pellix\Core\SignIn\PasswordRules;
use Pellix\Core\SignIn\SecurityMatter;

/** A person's own account: name, password, one-time codes, and where they are signed in. */
class AccountController extends Controller
{
    public function __construct(private readonly SignIns $signIns, private readonly Current $current, private readonly Codes $codes, private readonly SecurityLog $log)
    {
    }

    public function show(Request $request): AccountResource
    {
        return new AccountResource($request->user());
    }

    public function update(Request $request): AccountResource
    {
        $request->user()->update($request->validate(['name' => ['required', 'string', 'max:80']]));

        return new AccountResource($request->user());
    }

    /** The old one is asked for, whatever was confirmed: it is the key to everything else. All other sessions end. */
    public function password(Request $request, Passwords $passwords, Attempts $attempts): Response
    {
        $person = $request->user();
        $given = $request->validate(['current' => ['required', 'string', 'max:'.(4 * PasswordRules::LONGEST)], 'password' => ['required', 'string', 'max:'.(4 * PasswordRules::LONGEST)]]);
        $attempts->count($person->email, (string) $request->ip());
        if (! $passwords->isOf($person, $given['current'])) {
            $this->log->note(SecurityMatter::ConfirmationRefused, $person);
            throw ValidationException::withMessages(['current' => 'This is not your password.']);
        }
        $attempts->wasRight($person->email, (string) $request->ip());
        $wrong = $passwords->wrong($given['password'], $person->name, $person->email, $person->sites()->pluck('name')->all());
        $wrong === null || throw ValidationException::withMessages(['password' => $wrong]);
        $passwords->set($person, $given['password'], CarbonImmutable::now('UTC'));
        $this->signIns->endOthers($person, $this->current->get(), CarbonImmutable::now('UTC'));
        $this->log->note(SecurityMatter::PasswordChanged, $person);
        Told::ofChange($person, 'Your Pellix password was changed');

        return response()->noContent();
    }

    /** A secret for the authenticator; nothing is asked for before a code of it was typed. */
    public function prepareCodes(Request $request): JsonResponse
    {
        $request->user()->usesCodes() && throw ValidationException::withMessages(['codes' => 'One-time codes are on. Switch them off first, to set them up on another device.']);

        return response()->json($this->codes->prepare($request->user()), 201);
    }

    public function switchCodesOn(Request $request, Attempts $attempts): JsonResponse
    {
        $person = $request->user();
        $code = $request->validate(['code' => ['required', 'string', 'max:20']])['code'];
        $person->usesCodes() && throw ValidationException::withMessages(['code' => 'One-time codes are on already.']);
        $attempts->count($person->email, (string) $request->ip());
        $recovery = $this->codes->switchOn($person, $code, CarbonImmutable::now('UTC')) ?? throw ValidationException::withMessages(['code' => 'This is not the code that the authenticator shows now. Check that its clock is right, and type the next one.']);
        $attempts->wasRight($person->email, (string) $request->ip());
        Told::ofChange($person, 'One-time codes were switched on for your Pellix account');

        return response()->json(['recovery_codes' => $recovery]);
    }

    public function switchCodesOff(Request $request): Response
    {
        $this->codes->switchOff($request->user());
        Told::ofChange($request->user(), 'One-time codes were switched off for your Pellix account');

        return response()->noContent();
    }

    public function recoveryCodes(Request $request): JsonResponse
    {
        $request->user()->usesCodes() || throw ValidationException::withMessages(['codes' => 'One-time codes are off: there is nothing to recover.']);
        $codes = $this->codes->makeRecoveryCodes($request->user());
        Told::ofChange($request->user(), 'New recovery codes were made for your Pellix account');

        return response()->json(['recovery_codes' => $codes], 201);
    }

    public function signIns(Request $request): AnonymousResourceCollection
    {
        return SignInResource::collection($this->signIns->open($request->user(), CarbonImmutable::now('UTC')));
    }

    public function endSignIn(Request $request, int $signIn): Response
    {
        /** @var SignIn $one */
        $one = $request->user()->signIns()->whereNull('ended_at')->findOrFail($signIn);
        $this->signIns->end($one, CarbonImmutable::now('UTC'));
        $this->log->note(SecurityMatter::SessionEnded, $request->user());

        return response()->noContent();
    }

    public function endOtherSignIns(Request $request): Response
    {
        $n = $this->signIns->endOthers($request->user(), $this->current->get(), CarbonImmutable::now('UTC'));
        $n > 0 && $this->log->note(SecurityMatter::SessionEnded, $request->user(), note: "{$n} others");

        return response()->noContent();
    }
}
