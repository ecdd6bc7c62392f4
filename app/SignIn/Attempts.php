<?php

namespace App\SignIn;

use App\Logbook\SecurityLog;
use Illuminate\Support\Facades\RateLimiter;
use Pellix\Core\SignIn\AccountName;
use Pellix\Core\SignIn\SecurityMatter;
use Symfony\Component\HttpKernel\Exception\TooManyRequestsHttpException;

/**
 * How often somebody may guess: by the account, whether it is there or not, and by the client. Each try is counted before it is looked
 * at, so that many at once are no way around it; what was right is taken back.
 */
final readonly class Attempts
{
    private const MINUTE = 60;
    private const HOUR = 3600;

    /** In a minute and in an hour, for one account; in a minute, for one client. */
    private const OF_ACCOUNT = 5;
    private const OF_ACCOUNT_IN_HOUR = 30;
    private const OF_CLIENT = 30;

    /** NIST SP 800-63B-4, section 3.2.2: after a hundred in a row, only a link by mail opens the account. */
    private const IN_A_ROW = 100;
    private const ROW_DAYS = 30;

    public function __construct(private SecurityLog $log)
    {
    }

    /** @throws TooManyRequestsHttpException where it is too many: nothing was looked at, and nothing may be */
    public function count(string $name, string $client): void
    {
        $account = self::account($name);
        $wait = match (true) {
            RateLimiter::hit('guess:client:'.self::client($client), self::MINUTE) > self::OF_CLIENT => RateLimiter::availableIn('guess:client:'.self::client($client)),
            RateLimiter::hit("guess:minute:{$account}", self::MINUTE) > self::OF_ACCOUNT => RateLimiter::availableIn("guess:minute:{$account}"),
            RateLimiter::hit("guess:hour:{$account}", self::HOUR) > self::OF_ACCOUNT_IN_HOUR => RateLimiter::availableIn("guess:hour:{$account}"),
            RateLimiter::hit("guess:row:{$account}", self::ROW_DAYS * 86400) > self::IN_A_ROW => 0,
            default => null,
        };
        if ($wait !== null) {
            $this->log->note(SecurityMatter::SignInSlowed);
            throw new TooManyRequestsHttpException(max(1, $wait), $wait === 0
                ? 'There were too many wrong tries. Ask for a new password below; its link opens the account again.'
                : "There were too many wrong tries. Wait {$wait} s, then try again.");
        }
    }

    public function wasRight(string $name, string $client): void
    {
        $this->forgive($name);
        RateLimiter::decrement('guess:client:'.self::client($client), self::MINUTE);
    }

    /** Whoever has set a new password by a link starts anew. */
    public function forgive(string $name): void
    {
        foreach (['minute', 'hour', 'row'] as $of) {
            RateLimiter::clear("guess:{$of}:".self::account($name));
        }
    }

    private static function account(string $name): string
    {
        return hash('sha256', AccountName::of($name));
    }

    /** Whoever has one IPv6 address has a whole /64 of them. */
    private static function client(string $address): string
    {
        $bytes = @inet_pton($address);

        return $bytes !== false && strlen($bytes) === 16 ? bin2hex(substr($bytes, 0, 8)) : $address;
    }
}
