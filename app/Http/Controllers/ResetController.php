<?php

namespace App\Http\Controllers;

use App\Logbook\SecurityLog;
use App\Models\AccountLink;
use App\SignIn\Links;
use App\SignIn\Resets;
use Carbon\CarbonImmutable;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Validation\ValidationException;
use Pellix\Core\SignIn\AccountName;
use Pellix\Core\SignIn\PasswordRules;
use Pellix\Core\SignIn\SecurityMatter;

/** A new password by mail. */
class ResetController extends Controller
{
    public function __construct(private readonly Resets $resets, private readonly SecurityLog $log)
    {
    }

    /** Looked up once the answer is out, so that it is the same, and as quick, whether there is such an account or not. */
    public function store(Request $request): JsonResponse
    {
        $email = $request->validate(['email' => ['required', 'string', 'email', 'max:'.AccountName::LONGEST]])['email'];
        [$client, $now] = [(string) $request->ip(), CarbonImmutable::now('UTC')];
        defer(fn () => $this->resets->ask($email, $client, $now));

        return response()->json(['message' => 'If there is an account of this name, a link is on its way to it. It is good for '.config('signing_in.reset_minutes').' minutes.'], 202);
    }

    public function show(string $token): JsonResponse
    {
        return response()->json(['email' => $this->link($token)->email]);
    }

    public function update(Request $request, string $token): Response
    {
        $link = $this->link($token);
        $password = $request->validate(['password' => ['required', 'string', 'max:'.(4 * PasswordRules::LONGEST)]])['password'];
        $wrong = $this->resets->use($link, $password, CarbonImmutable::now('UTC'));
        $wrong === null || throw ValidationException::withMessages(['password' => $wrong]);

        return response()->noContent();
    }

    private function link(string $token): AccountLink
    {
        $link = Links::find(AccountLink::RESET, $token, CarbonImmutable::now('UTC'));
        if ($link === null) {
            $this->log->note(SecurityMatter::LinkRefused, note: 'A link for a new password');
            abort(404, 'This link is not good, or not any more. Ask for another one on the sign-in page.');
        }

        return $link;
    }
}
