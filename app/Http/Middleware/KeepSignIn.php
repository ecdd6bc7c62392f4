<?php

namespace App\Http\Middleware;

use App\Logbook\SecurityLog;
use App\SignIn\Current;
use App\SignIn\SignIns;
use Carbon\CarbonImmutable;
use Closure;
use Illuminate\Http\Request;
use Illuminate\Support\Facades\Auth;
use Pellix\Core\SignIn\SecurityMatter;
use Symfony\Component\HttpFoundation\Response;

/** A session lasts as long as the sign-in that it came of: no longer than a day, or an hour without a sign of its person, or until it is ended from elsewhere. Tokens that let nobody in are written down. */
class KeepSignIn
{
    /** For how many seconds nobody has touched the interface that asks. */
    private const UNTOUCHED = 'Pellix-Untouched';

    public function __construct(private readonly SignIns $signIns, private readonly Current $current, private readonly SecurityLog $log)
    {
    }

    public function handle(Request $request, Closure $next): Response
    {
        $person = $request->hasSession() ? Auth::guard('web')->user() : null;
        if ($person !== null) {
            $untouched = (string) $request->headers->get(self::UNTOUCHED, '0');
            $signIn = $this->signIns->alive($request->session(), $person, preg_match('/\A\d{1,6}\z/', $untouched) === 1 ? (int) $untouched : 0, CarbonImmutable::now('UTC'));
            if ($signIn === null) {
                Auth::guard('web')->logout();
                $request->session()->invalidate();
                $request->session()->regenerateToken();
            }
            $this->current->set($signIn);
        }

        $response = $next($request);
        if ($response->getStatusCode() === 401 && $request->bearerToken() !== null) {
            // Which one it claims to be is its first part, and no secret.
            $this->log->note(SecurityMatter::TokenRefused, note: preg_match('/\A(\d{1,18})\|/', (string) $request->bearerToken(), $m) === 1 ? "Token {$m[1]}" : '');
        }

        return $response;
    }
}
