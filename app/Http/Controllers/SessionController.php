<?php

namespace App\Http\Controllers;

use App\Http\Resources\PersonResource;
use App\Logbook\SecurityLog;
use App\Models\User;
use App\SignIn\Attempts;
use App\SignIn\Codes;
use App\SignIn\Current;
use App\SignIn\Passwords;
use App\SignIn\SignIns;
use Carbon\CarbonImmutable;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Support\Facades\Auth;
use Illuminate\Support\Timebox;
use Illuminate\Validation\ValidationException;
use Pellix\Core\SignIn\AccountName;
use Pellix\Core\SignIn\PasswordRules;
use Pellix\Core\SignIn\SecurityMatter;

/** Signing in, in one step or two, proving again who one is, and signing out. */
class SessionController extends Controller
{
    /** Between the password and the code. */
    private const PENDING = 'sign_in_pending';
    private const PENDING_MINUTES = 5;

    /** No answer to a password comes sooner, in microseconds: how long it took tells nothing. */
    private const ANSWER = 300_000;

    public function __construct(private readonly Attempts $attempts, private readonly SignIns $signIns, private readonly Codes $codes, private readonly Passwords $passwords, private readonly SecurityLog $log)
    {
    }

    public function store(Request $request): PersonResource|JsonResponse
    {
        abort_unless($request->hasSession(), 400, 'Sign in from the interface; programs use a token.');
        $given = $request->validate(['email' => ['required', 'string', 'email', 'max:'.AccountName::LONGEST], 'password' => ['required', 'string', 'max:'.(4 * PasswordRules::LONGEST)]]);
        $name = AccountName::of($given['email']);
        $this->attempts->count($name, (string) $request->ip());
        $person = (new Timebox())->call(function () use ($name, $given): ?User {
            $person = User::query()->where('email', $name)->first();
            if ($this->passwords->isOf($person, $given['password']) && $person?->deactivated_at === null) {
                return $person;
            }
            $this->log->note(SecurityMatter::SignInRefused, $person, note: $person === null ? 'No account has this name' : '');

            return null;
        }, self::ANSWER);
        $person ?? throw ValidationException::withMessages(['password' => 'No account has this e-mail address with this password. Check both and try again.']);
        if ($person->usesCodes()) {
            $request->session()->invalidate();
            $request->session()->regenerateToken();
            $request->session()->put(self::PENDING, ['person' => $person->id, 'until' => CarbonImmutable::now('UTC')->addMinutes(self::PENDING_MINUTES)->getTimestamp()]);

            return response()->json(['needs' => 'code'], 202);
        }

        return $this->begun($request, $person, 'password');
    }

    public function code(Request $request): PersonResource
    {
        abort_unless($request->hasSession(), 400, 'Sign in from the interface; programs use a token.');
        $code = $request->validate(['code' => ['required', 'string', 'max:60']])['code'];
        $pending = $request->session()->get(self::PENDING);
        $person = is_array($pending) && $pending['until'] > CarbonImmutable::now('UTC')->getTimestamp() ? User::query()->whereNull('deactivated_at')->find($pending['person']) : null;
        $person ?? throw ValidationException::withMessages(['code' => 'The password was typed too long ago. Go back, and type it again.']);
        $this->attempts->count($person->email, (string) $request->ip());
        $method = $this->codes->take($person, $code, CarbonImmutable::now('UTC'))
            ?? throw ValidationException::withMessages(['code' => 'This is no code that counts now, or it was used already. Wait for the next one and type that.']);

        return $this->begun($request, $person, $method);
    }

    private function begun(Request $request, User $person, string $method): PersonResource
    {
        $this->attempts->wasRight($person->email, (string) $request->ip());
        $this->signIns->begin($request, $person, $method, CarbonImmutable::now('UTC'));

        return new PersonResource($person);
    }

    public function show(Request $request): PersonResource
    {
        return new PersonResource($request->user());
    }

    /** With what the account has: its code, or its password. */
    public function confirm(Request $request, Current $current): Response
    {
        $person = $request->user();
        $by = $person->usesCodes() ? 'code' : 'password';
        $typed = $request->validate([$by => ['required', 'string', 'max:'.(4 * PasswordRules::LONGEST)]])[$by];
        $this->attempts->count($person->email, (string) $request->ip());
        $now = CarbonImmutable::now('UTC');
        if ($by === 'code' ? $this->codes->take($person, $typed, $now) === null : ! $this->passwords->isOf($person, $typed)) {
            $this->log->note(SecurityMatter::ConfirmationRefused, $person);
            throw ValidationException::withMessages([$by => $by === 'code' ? 'This is no code that counts now, or it was used already.' : 'This is not your password.']);
        }
        $this->attempts->wasRight($person->email, (string) $request->ip());
        $current->get()?->update(['confirmed_at' => $now, 'seen_at' => $now]);

        return response()->noContent();
    }

    public function destroy(Request $request, Current $current): Response
    {
        abort_unless($request->hasSession() && $current->get() !== null, 400, 'A token has no session to end; delete the token instead.');
        $this->signIns->end($current->get(), CarbonImmutable::now('UTC'));
        $this->log->note(SecurityMatter::SignedOut, $request->user());
        Auth::guard('web')->logout();
        $request->session()->invalidate();
        $request->session()->regenerateToken();

        return response()->noContent();
    }
}
