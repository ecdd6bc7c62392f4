<?php

namespace App\SignIn;

use App\Logbook\SecurityLog;
use App\Models\SignIn;
use App\Models\User;
use Carbon\CarbonImmutable;
use Illuminate\Contracts\Session\Session;
use Illuminate\Http\Request;
use Illuminate\Support\Facades\Auth;
use Pellix\Core\SignIn\SecurityMatter;
use Pellix\Core\SignIn\SessionLife;

/** Begins, keeps and ends sign-ins. The session knows the number of its own, and lasts as long as that does. */
final readonly class SignIns
{
    private const KEY = 'sign_in';

    /** A sign of its person is written down so often. */
    private const NOTED_SECONDS = 60;

    public function __construct(private SecurityLog $log, private Current $current)
    {
    }

    /** @param string $method see App\Models\SignIn */
    public function begin(Request $request, User $person, string $method, CarbonImmutable $now): SignIn
    {
        // Another session than before: whoever knows the number of the old one has nothing of it.
        $request->session()->invalidate();
        Auth::guard('web')->login($person);
        $signIn = SignIn::query()->create([
            'user_id' => $person->id, 'method' => $method, 'address' => (string) $request->ip(), 'agent' => mb_substr(mb_scrub((string) $request->userAgent(), 'UTF-8'), 0, 255),
            'at' => $now, 'seen_at' => $now, 'confirmed_at' => $now,
        ]);
        $request->session()->put(self::KEY, $signIn->id);
        $this->current->set($signIn);
        $this->log->note(SecurityMatter::SignedIn, $person, note: $method);

        return $signIn;
    }

    /**
     * The sign-in of a session, where it still holds.
     *
     * @param int $untouched seconds for which the person has not touched the interface: views that refresh themselves are no sign of anybody
     */
    public function alive(Session $session, User $person, int $untouched, CarbonImmutable $now): ?SignIn
    {
        $number = $session->get(self::KEY);
        $signIn = is_int($number) ? SignIn::query()->where('user_id', $person->id)->find($number) : null;
        $sign = $now->subSeconds(max(0, $untouched));
        if ($signIn === null || $signIn->ended_at !== null || $person->deactivated_at !== null
            || ! self::life()->holds($signIn->at->toDateTimeImmutable(), $signIn->seen_at->toDateTimeImmutable(), $sign, $now)) {
            return null;
        }
        if ($signIn->seen_at <= $sign->subSeconds(self::NOTED_SECONDS)) {
            $signIn->update(['seen_at' => $sign]);
        }

        return $signIn;
    }

    public function end(SignIn $signIn, CarbonImmutable $now): void
    {
        $signIn->update(['ended_at' => $now]);
    }

    /** @return int how many were ended: all that hold, but for one */
    public function endOthers(User $person, ?SignIn $but, CarbonImmutable $now): int
    {
        return $person->signIns()->whereNull('ended_at')->when($but !== null, static fn ($others) => $others->whereKeyNot($but?->id))->update(['ended_at' => $now]);
    }

    /** @return list<SignIn> those that hold, the newest first */
    public function open(User $person, CarbonImmutable $now): array
    {
        return array_values($person->signIns()->whereNull('ended_at')
            ->where('at', '>', self::life()->earliestBegin($now))->where('seen_at', '>', self::life()->earliestSign($now))
            ->orderByDesc('id')->limit(100)->get()->all());
    }

    private static function life(): SessionLife
    {
        return new SessionLife((int) config('signing_in.hours'), (int) config('signing_in.idle_minutes'));
    }
}
