<?php

namespace App\SignIn;

use App\Logbook\SecurityLog;
use App\Models\User;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\SignIn\Base32;
use Pellix\Core\SignIn\RecoveryCodes;
use Pellix\Core\SignIn\SecurityMatter;
use Pellix\Core\SignIn\TimeCode;
use Random\Engine\Secure;

/** One-time codes of a person: set up, asked for, and what helps where the authenticator is lost. */
final readonly class Codes
{
    public function __construct(private SecurityLog $log)
    {
    }

    /**
     * A new secret, that counts once a code of it was typed.
     *
     * @return array{secret: string, address: string}
     */
    public function prepare(User $person): array
    {
        $secret = random_bytes(TimeCode::SECRET_BYTES);
        $person->forceFill(['codes_secret' => Base32::encode($secret)])->save();

        return ['secret' => rtrim(Base32::encode($secret), '='), 'address' => (new TimeCode($secret))->address((string) config('app.name'), $person->email)];
    }

    /** @return list<string>|null recovery codes, shown once; null where the code is not of the prepared secret */
    public function switchOn(User $person, string $code, CarbonImmutable $now): ?array
    {
        $step = self::timeCode($person)?->accepted(self::digits($code), $now->getTimestamp());
        if ($step === null) {
            $this->log->note(SecurityMatter::CodeRefused, $person);

            return null;
        }
        $person->forceFill(['codes_since' => $now, 'codes_step' => $step])->save();
        $this->log->note(SecurityMatter::CodesOn, $person);

        return $this->makeRecoveryCodes($person);
    }

    public function switchOff(User $person): void
    {
        $person->forceFill(['codes_secret' => null, 'codes_since' => null, 'codes_step' => null, 'recovery_codes' => null])->save();
        $this->log->note(SecurityMatter::CodesOff, $person);
    }

    /** @return list<string> those of before count no longer */
    public function makeRecoveryCodes(User $person): array
    {
        $codes = RecoveryCodes::make(new Secure());
        $person->forceFill(['recovery_codes' => array_map(RecoveryCodes::hash(...), $codes)])->save();
        $this->log->note(SecurityMatter::RecoveryCodesMade, $person);

        return $codes;
    }

    /** @return string|null what it was that let them in, `code` or `recovery-code`; null for a refusal, which is written down */
    public function take(User $person, string $typed, CarbonImmutable $now): ?string
    {
        // The row is taken first: of two who send one code at once, one is late.
        return DB::transaction(function () use ($person, $typed, $now): ?string {
            $kept = User::query()->lockForUpdate()->findOrFail($person->id);
            $step = self::timeCode($kept)?->accepted(self::digits($typed), $now->getTimestamp(), $kept->codes_step);
            if ($step !== null) {
                $kept->forceFill(['codes_step' => $step])->save();

                return 'code';
            }
            $left = RecoveryCodes::without(mb_scrub($typed, 'UTF-8'), $kept->recovery_codes ?? []);
            if ($left !== null) {
                $kept->forceFill(['recovery_codes' => $left])->save();
                $this->log->note(SecurityMatter::RecoveryCodeUsed, $kept, note: count($left).' are left');

                return 'recovery-code';
            }
            $this->log->note(SecurityMatter::CodeRefused, $kept);

            return null;
        });
    }

    private static function timeCode(User $person): ?TimeCode
    {
        $secret = Base32::decode((string) $person->codes_secret);

        return $secret === null || $secret === '' ? null : new TimeCode($secret);
    }

    /** Authenticators show codes in two groups. */
    private static function digits(string $typed): string
    {
        return (string) preg_replace('/[\s-]+/', '', $typed);
    }
}
