<?php

namespace App\Http\Controllers;

use App\Logbook\SecurityLog;
use App\Models\User;
use App\SignIn\OpenId;
use App\SignIn\OpenIdFailed;
use App\SignIn\SignIns;
use Carbon\CarbonImmutable;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;
use Pellix\Core\SignIn\AccountName;
use Pellix\Core\SignIn\SecurityMatter;

/** Single sign-on. It lets in whoever has an account here already, and makes none. */
class OpenIdController extends Controller
{
    public function __construct(private readonly OpenId $openId, private readonly SecurityLog $log)
    {
    }

    /** By what somebody can sign in beside a password. */
    public function show(): JsonResponse
    {
        return response()->json(['single_sign_on' => OpenId::name()]);
    }

    public function begin(Request $request): RedirectResponse
    {
        abort_if(OpenId::name() === null, 404);
        $to = $request->query('to');
        try {
            return redirect()->away($this->openId->begin($request->session(), is_string($to) && preg_match('~\A/(?![/\\\\])[\x21-\x7e]{0,500}\z~', $to) === 1 ? $to : '/', CarbonImmutable::now('UTC')));
        } catch (OpenIdFailed $e) {
            return $this->failed($e);
        }
    }

    public function finish(Request $request, SignIns $signIns): RedirectResponse
    {
        abort_if(OpenId::name() === null, 404);
        $now = CarbonImmutable::now('UTC');
        try {
            $found = $this->openId->finish($request->session(), $request->query(), $now);
            $person = $this->person($found['issuer'], $found['subject'], $found['email']);
        } catch (OpenIdFailed $e) {
            return $this->failed($e);
        }
        $signIns->begin($request, $person, 'single-sign-on', $now);

        return redirect($found['to']);
    }

    /** @throws OpenIdFailed where there is no such account here */
    private function person(string $issuer, string $subject, ?string $email): User
    {
        $person = User::query()->where('openid_issuer', $issuer)->where('openid_subject', $subject)->first();
        if ($person === null && $email !== null) {
            // Once, by the address that the provider has verified; from then on by what never changes.
            $person = User::query()->where('email', AccountName::of($email))->whereNull('openid_subject')->first();
            $person?->forceFill(['openid_issuer' => $issuer, 'openid_subject' => $subject])->save();
        }
        if ($person === null || $person->deactivated_at !== null) {
            throw new OpenIdFailed('unknown', 'Nobody here is whom the provider means');
        }

        return $person;
    }

    private function failed(OpenIdFailed $e): RedirectResponse
    {
        $this->log->note(SecurityMatter::SignInRefused, note: "Single sign-on: {$e->getMessage()}");

        return redirect("/sign-in?problem={$e->reason}");
    }
}
