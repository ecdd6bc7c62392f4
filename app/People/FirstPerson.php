<?php

namespace App\People;

use App\Models\User;
use App\SignIn\Passwords;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Illuminate\Validation\ValidationException;

/** The one account that nobody invites: whoever set this copy up has a link for it, which is good until it is used. */
final readonly class FirstPerson
{
    public function __construct(private Passwords $passwords)
    {
    }

    public static function isAwaited(): bool
    {
        return (string) config('pellix.setup_code') !== '' && ! DB::table('users')->exists();
    }

    public static function knows(string $code): bool
    {
        return self::isAwaited() && hash_equals((string) config('pellix.setup_code'), $code);
    }

    /** @throws ValidationException */
    public function make(string $name, string $email, string $password): User
    {
        $wrong = $this->passwords->wrong($password, $name, $email);
        $wrong === null || throw ValidationException::withMessages(['password' => $wrong]);

        return DB::transaction(function () use ($name, $email, $password): User {
            // Of two who come first, one does.
            DB::select('select id from users limit 1 for update') === [] || throw ValidationException::withMessages(['code' => 'Somebody has made the first account meanwhile. Sign in, or ask them to invite you.']);
            $person = new User(['name' => $name, 'email' => $email, 'makes_sites' => true]);
            $this->passwords->set($person, $password, CarbonImmutable::now('UTC'));

            return $person;
        });
    }
}
