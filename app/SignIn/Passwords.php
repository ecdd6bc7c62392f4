<?php

namespace App\SignIn;

use App\Models\User;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\Hash;
use Pellix\Core\SignIn\CommonPasswords;
use Pellix\Core\SignIn\PasswordRules;

/** Checks and sets passwords. */
final class Passwords
{
    /** Whose password this is: nobody's. An account that is not there takes as long as one that is. */
    private const NOBODY = '$argon2id$v=19$m=19456,t=2,p=1$c2FsdHNhbHRzYWx0c2FsdA$pwWnLMDyfOZ8N2Xn4S5x7J8VbGQkq0T1oY3mJw9vE6g';

    public function __construct(private readonly PasswordRules $rules)
    {
    }

    public static function rules(): PasswordRules
    {
        return new PasswordRules(CommonPasswords::of((string) file_get_contents(resource_path('passwords/common.txt'))));
    }

    public function isOf(?User $person, string $typed): bool
    {
        $password = PasswordRules::normal($typed) ?? '';
        $right = Hash::check($password, $person->password ?? self::NOBODY);
        if ($right && $person !== null && Hash::needsRehash($person->password)) {
            $person->forceFill(['password' => $password])->saveQuietly();
        }

        return $right && $person !== null;
    }

    /**
     * @param list<string> $words what else everybody knows about the account, such as names of sites
     *
     * @return string|null what is wrong with it
     */
    public function wrong(string $typed, string $name, string $email, array $words = []): ?string
    {
        return $this->rules->wrong($typed, [$name, $email, (string) config('app.name'), ...$words]);
    }

    public function set(User $person, string $typed, CarbonImmutable $now): void
    {
        $person->forceFill(['password' => PasswordRules::normal($typed) ?? $typed, 'password_at' => $now])->save();
    }
}
