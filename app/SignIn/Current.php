<?php

namespace App\SignIn;

use App\Models\SignIn;
use Carbon\CarbonImmutable;

/** The sign-in that a request came with; none where it came with a token, or from nobody. */
final class Current
{
    private ?SignIn $signIn = null;

    public function set(?SignIn $signIn): void
    {
        $this->signIn = $signIn;
    }

    public function get(): ?SignIn
    {
        return $this->signIn;
    }

    /** Whether its person has proved lately who they are. */
    public function isConfirmed(CarbonImmutable $now): bool
    {
        return $this->signIn !== null && $this->signIn->confirmed_at > $now->subMinutes((int) config('signing_in.confirmed_minutes'));
    }
}
