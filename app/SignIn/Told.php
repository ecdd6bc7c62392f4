<?php

namespace App\SignIn;

use App\Models\User;
use App\SignIn\Mail\AccountMail;
use Illuminate\Support\Facades\Log;
use Illuminate\Support\Facades\Mail;

/** Sends mails about accounts once the answer is out: a mail server that is slow, or away, keeps nobody waiting and tells nobody anything. */
final class Told
{
    public static function of(string $email, AccountMail $mail): void
    {
        defer(static fn () => self::now($email, $mail), always: true);
    }

    /** For what runs after the answer anyway. */
    public static function now(string $email, AccountMail $mail): void
    {
        try {
            Mail::to($email)->send($mail);
        } catch (\Throwable $e) {
            Log::error('A mail about an account could not be sent: '.$e::class);
        }
    }

    /** That something changed by which the account is protected: whoever did not do it learns of it. */
    public static function ofChange(User $person, string $what): void
    {
        self::of($person->email, new AccountMail($what, ["Somebody who had signed in as {$person->name} did this. If it was you, there is nothing to do.", 'If it was not, set a new password at once: '.rtrim((string) config('app.url'), '/').'/reset', 'Then look at the sessions and tokens of your account, and tell whoever owns your sites.']));
    }
}
