<?php

namespace App\Logbook;

use App\Models\Activity;
use App\Models\User;
use Carbon\CarbonImmutable;
use Illuminate\Contracts\Auth\Factory;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Http\Request;
use Pellix\Core\Formats\Differences;
use Pellix\Core\Vocabulary\Thing;

/** Writes down who changed what, when, and from where. Entries are never changed, but for what somebody writes in one go. */
final readonly class Logbook
{
    /** Changes of one thing by one person, so close to one another, are one entry. */
    public const ONE_GO_MINUTES = 10;

    /** Commands that nobody types. */
    private const BY_THEMSELVES = ['pellix:gather', 'pellix:due', 'queue:work', 'schedule:work', 'schedule:run'];

    public function __construct(private Factory $auth)
    {
    }

    /**
     * @param string                                                       $key     what tells the thing from others of its kind
     * @param string                                                       $event   `created`, `changed`, `deleted`, `started`, …
     * @param list<array{field: string, before: mixed, after: mixed}>      $changes
     * @param User|null                                                    $person  null for whoever is signed in, and for Pellix itself where nobody is
     * @param string                                                       $note    why, or what else is to be known
     */
    public function note(int $site, Thing $thing, string $key, string $name, string $event, array $changes = [], ?User $person = null, string $note = '', ?Model $subject = null): void
    {
        $person ??= $this->signedIn();
        if ($event === 'changed' && $this->goesOn($site, $thing, $key, $person, $changes)) {
            return;
        }
        activity($this->origin())
            ->when($subject !== null, static fn ($logger) => $logger->performedOn($subject))
            ->when($person !== null, static fn ($logger) => $logger->causedBy($person))
            ->event($event)
            ->withProperties(['changes' => $changes])
            ->tap(static function (Activity $entry) use ($site, $thing, $key, $name, $person): void {
                $entry->forceFill([
                    'site_id' => $site, 'thing' => $thing->value, 'thing_key' => mb_strcut($key, 0, 140, 'UTF-8'), 'thing_name' => mb_substr($name, 0, 200),
                    'person' => $person->name ?? 'Pellix', 'created_at' => CarbonImmutable::now('UTC'),
                ]);
            })
            ->log($note);
    }

    /**
     * Whether the newest entry on a thing is of the same person, a change, and not long ago: then it takes in what is new.
     *
     * @param list<array{field: string, before: mixed, after: mixed}> $changes
     */
    private function goesOn(int $site, Thing $thing, string $key, ?User $person, array $changes): bool
    {
        $last = $person === null ? null : Activity::query()->where('site_id', $site)->where('thing', $thing->value)->where('thing_key', $key)->orderByDesc('id')->first();
        if ($last === null || $last->event !== 'changed' || (int) $last->causer_id !== $person->id || $last->log_name !== $this->origin()
            || $last->created_at < CarbonImmutable::now('UTC')->subMinutes(self::ONE_GO_MINUTES)) {
            return false;
        }
        $joined = Differences::joined($last->changesMade(), $changes);
        $joined === [] ? $last->delete() : $last->update(['properties' => ['changes' => $joined]]);

        return true;
    }

    private function signedIn(): ?User
    {
        $user = $this->auth->guard()->user();

        return $user instanceof User ? $user : null;
    }

    /** `interface`, `api` (with a token), `command`, or `pellix` for what is done by itself. */
    private function origin(): string
    {
        if ($this->signedIn() !== null) {
            return app(Request::class)->bearerToken() === null ? 'interface' : 'api';
        }

        return app()->runningInConsole() && ! in_array($_SERVER['argv'][1] ?? '', self::BY_THEMSELVES, true) ? 'command' : 'pellix';
    }
}
