<?php

namespace App\SignIn;

use App\Logbook\SecurityLog;
use App\Models\AccountLink;
use App\Models\User;
use App\SignIn\Mail\AccountMail;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\RateLimiter;
use Pellix\Core\SignIn\AccountName;
use Pellix\Core\SignIn\SecurityMatter;

/** New passwords for whoever has forgotten theirs: a link by mail, good for once and for half an hour. */
final readonly class Resets
{
    /** Links in an hour, for one account and for one client. */
    private const OF_ACCOUNT = 3;
    private const OF_CLIENT = 20;

    public function __construct(private SecurityLog $log, private Passwords $passwords, private SignIns $signIns, private Attempts $attempts)
    {
    }

    /** Run after the answer. Does nothing where there is no such account, and nothing more where there were enough links: whoever asks is told the same each time. */
    public function ask(string $typed, string $client, CarbonImmutable $now): void
    {
        $name = AccountName::of($typed);
        $isTooMany = RateLimiter::hit('reset:'.hash('sha256', $name), 3600) > self::OF_ACCOUNT || RateLimiter::hit("reset:client:{$client}", 3600) > self::OF_CLIENT;
        $person = User::query()->where('email', $name)->whereNull('deactivated_at')->first();
        $this->log->note(SecurityMatter::ResetAsked, $person, note: match (true) {
            $isTooMany => 'No link was sent: there were enough of them',
            $person === null => 'No account has this name',
            default => '',
        });
        if ($person === null || $isTooMany) {
            return;
        }
        $token = DB::transaction(static function () use ($person, $now): string {
            AccountLink::query()->where('user_id', $person->id)->where('purpose', AccountLink::RESET)->whereNull('used_at')->update(['revoked_at' => $now]);

            return Links::make(['purpose' => AccountLink::RESET, 'user_id' => $person->id, 'email' => $person->email], $now, $now->addMinutes((int) config('signing_in.reset_minutes')))[1];
        });
        Told::now($person->email, new AccountMail('A new password for Pellix', [
            "Somebody, probably you, asked for a new password for {$person->email}. With this link it can be set once, within ".config('signing_in.reset_minutes').' minutes.', 'If it was not you, leave it: nothing has changed.',
        ], rtrim((string) config('app.url'), '/')."/reset/{$token}"));
    }

    /** @return string|null what is wrong with the password; the link stays good then */
    public function use(AccountLink $link, string $password, CarbonImmutable $now): ?string
    {
        $person = $link->user;
        if ($person === null || $person->deactivated_at !== null) {
            return 'This account is closed.';
        }
        $wrong = $this->passwords->wrong($password, $person->name, $person->email);
        if ($wrong !== null || ! Links::use($link, $now)) {
            return $wrong ?? 'This link was used a moment ago.';
        }
        $this->passwords->set($person, $password, $now);
        // Whoever got in with the old one is out.
        $this->signIns->endOthers($person, null, $now);
        $this->attempts->forgive($person->email);
        $this->log->note(SecurityMatter::PasswordReset, $person);
        Told::ofChange($person, 'Your Pellix password was set by a link');

        return null;
    }
}
