<?php

namespace App\Http\Controllers;

use App\Http\Resources\InvitationResource;
use App\Http\Resources\PersonResource;
use App\Logbook\SecurityLog;
use App\Models\AccountLink;
use App\Models\Site;
use App\Models\User;
use App\People\Invitations;
use App\SignIn\Current;
use App\SignIn\Links;
use App\SignIn\SignIns;
use Carbon\CarbonImmutable;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;
use Illuminate\Http\Response;
use Illuminate\Validation\Rule;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Rights\Right;
use Pellix\Core\SignIn\AccountName;
use Pellix\Core\SignIn\PasswordRules;
use Pellix\Core\SignIn\SecurityMatter;

/** Invitations: made and revoked by owners, opened and accepted by whoever holds the link. */
class InvitationController extends Controller
{
    public function __construct(private readonly Invitations $invitations, private readonly SecurityLog $log)
    {
    }

    public function index(Site $site): AnonymousResourceCollection
    {
        return InvitationResource::collection(AccountLink::openInvitations($site, CarbonImmutable::now('UTC'))->latest('id')->get());
    }

    public function store(Request $request, Site $site): JsonResponse
    {
        $given = $request->validate(['email' => ['required', 'string', 'email', 'max:'.AccountName::LONGEST], 'right' => ['required', Rule::enum(Right::class)]]);
        [$link, $address] = $this->invitations->make($site, $given['email'], Right::from($given['right']), $request->user());

        return response()->json([...(new InvitationResource($link))->resolve($request), 'address' => $address], 201);
    }

    public function destroy(Site $site, int $invitation): Response
    {
        $this->invitations->revoke($site, AccountLink::query()->where('site_id', $site->id)->where('purpose', AccountLink::INVITATION)->findOrFail($invitation));

        return response()->noContent();
    }

    /** What somebody is asked to do, as whoever holds the link sees it. */
    public function show(string $token): JsonResponse
    {
        $link = $this->link($token);

        return response()->json([
            'email' => $link->email, 'site' => (string) $link->site?->name, 'right' => $link->right, 'author' => $link->author, 'expires_at' => $link->expires_at,
            'has_account' => User::query()->where('email', $link->email)->exists(),
        ]);
    }

    /** As whoever is signed in; otherwise with a name and a password, which make the account and sign in. */
    public function accept(Request $request, string $token, Current $current, SignIns $signIns): JsonResponse
    {
        abort_unless($request->hasSession(), 400, 'Open the link in a browser.');
        $link = $this->link($token);
        $person = $current->get()?->user;
        if ($person !== null) {
            $this->invitations->accept($link, $person);

            return (new PersonResource($person))->response();
        }
        User::query()->where('email', $link->email)->exists() && throw ValidationException::withMessages(['email' => 'There is an account of this address. Sign in with it, then open the link again.']);
        $given = $request->validate(['name' => ['required', 'string', 'max:80'], 'password' => ['required', 'string', 'max:'.(4 * PasswordRules::LONGEST)]]);
        $person = $this->invitations->acceptAsNew($link, $given['name'], $given['password']);
        $signIns->begin($request, $person, 'password', CarbonImmutable::now('UTC'));

        return (new PersonResource($person))->response()->setStatusCode(200);
    }

    private function link(string $token): AccountLink
    {
        $link = Links::find(AccountLink::INVITATION, $token, CarbonImmutable::now('UTC'));
        if ($link === null) {
            $this->log->note(SecurityMatter::LinkRefused, note: 'An invitation');
            abort(404, 'This invitation is not good, or not any more. Ask whoever sent it for another one.');
        }

        return $link;
    }
}
