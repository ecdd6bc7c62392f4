<?php

namespace App\People;

use App\Logbook\Logbook;
use App\Logbook\SecurityLog;
use App\Models\AccountLink;
use App\Models\Site;
use App\Models\User;
use App\SignIn\Links;
use App\SignIn\Mail\AccountMail;
use App\SignIn\Passwords;
use App\SignIn\Told;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Rights\Right;
use Pellix\Core\SignIn\AccountName;
use Pellix\Core\SignIn\SecurityMatter;
use Pellix\Core\Vocabulary\Thing;

/** Asks somebody to look after a site: by a link, good for once and for some days, that makes their account where they have none. */
final readonly class Invitations
{
    /** Open at a time, on one site. */
    private const MOST = 100;

    public function __construct(private Logbook $logbook, private SecurityLog $log, private Passwords $passwords)
    {
    }

    /**
     * @return array{AccountLink, string} the link, and its address, which is known only now
     *
     * @throws ValidationException
     */
    public function make(Site $site, string $typed, Right $right, User $author): array
    {
        $email = AccountName::of($typed);
        $now = CarbonImmutable::now('UTC');
        $site->users()->where('email', $email)->exists() && throw ValidationException::withMessages(['email' => 'They look after this site already. Change their right in the table.']);
        AccountLink::openInvitations($site, $now)->count() < self::MOST || throw ValidationException::withMessages(['email' => 'There are '.self::MOST.' open invitations already. Revoke those that nobody will use.']);
        // The newest counts.
        AccountLink::openInvitations($site, $now)->where('email', $email)->update(['revoked_at' => $now]);
        [$link, $token] = Links::make(['purpose' => AccountLink::INVITATION, 'email' => $email, 'site_id' => $site->id, 'right' => $right->value, 'author_id' => $author->id, 'author' => $author->name], $now, $now->addDays((int) config('signing_in.invitation_days')));
        $address = rtrim((string) config('app.url'), '/')."/invitation/{$token}";
        $this->log->note(SecurityMatter::Invited, $author, $site, "{$email}, {$right->value}");
        $this->logbook->note($site->id, Thing::Person, $email, $email, 'invited', [['field' => 'right', 'before' => null, 'after' => $right->value]]);
        Told::of($email, new AccountMail("{$author->name} asks you to look after {$site->name}", [
            "{$author->name} uses Pellix to check the experiments of {$site->name}, and asks you to look after them too. The link is good once, until ".$link->expires_at->setTimezone($site->time_zone)->format('j M Y H:i').'.', 'If you do not know what this is about, leave it.',
        ], $address));

        return [$link, $address];
    }

    public function revoke(Site $site, AccountLink $link): void
    {
        if ($link->revoked_at === null && $link->used_at === null) {
            $link->update(['revoked_at' => CarbonImmutable::now('UTC')]);
            $this->log->note(SecurityMatter::InvitationRevoked, null, $site, $link->email);
            $this->logbook->note($site->id, Thing::Person, $link->email, $link->email, 'invitation revoked');
        }
    }

    /**
     * Makes the account that the link is for.
     *
     * @throws ValidationException
     */
    public function acceptAsNew(AccountLink $link, string $name, string $password): User
    {
        $site = $link->site;
        $wrong = $this->passwords->wrong($password, $name, $link->email, $site === null ? [] : [$site->name]);
        $wrong === null || throw ValidationException::withMessages(['password' => $wrong]);

        return DB::transaction(function () use ($link, $name, $password): User {
            User::query()->where('email', $link->email)->exists() && throw ValidationException::withMessages(['name' => 'There is an account of this address by now. Sign in, then open the link again.']);
            $person = new User(['name' => $name, 'email' => $link->email]);
            $this->passwords->set($person, $password, CarbonImmutable::now('UTC'));
            $this->join($link, $person);

            return $person;
        });
    }

    /** @throws ValidationException */
    public function accept(AccountLink $link, User $person): void
    {
        $person->email === $link->email || throw ValidationException::withMessages(['email' => "This invitation is for {$link->email}, and you are signed in as {$person->email}. Sign out first."]);
        DB::transaction(fn () => $this->join($link, $person));
    }

    private function join(AccountLink $link, User $person): void
    {
        $now = CarbonImmutable::now('UTC');
        Links::use($link, $now) || throw ValidationException::withMessages(['email' => 'This invitation was used a moment ago.']);
        $kept = DB::table('site_user')->where('site_id', $link->site_id)->where('user_id', $person->id)->first();
        // Whoever looks after the site by now keeps what they may.
        if ($kept === null || $kept->closed_at !== null) {
            DB::table('site_user')->updateOrInsert(['site_id' => $link->site_id, 'user_id' => $person->id], ['right' => $link->right, 'closed_at' => null]);
        }
        $this->log->note(SecurityMatter::InvitationAccepted, $person, $link->site, (string) $link->right);
        $this->logbook->note((int) $link->site_id, Thing::Person, (string) $person->id, $person->name, 'joined', [['field' => 'right', 'before' => null, 'after' => $link->right]], $person);
    }
}
