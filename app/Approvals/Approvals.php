<?php

namespace App\Approvals;

use App\Logbook\Logbook;
use App\Models\PublishRequest;
use App\Models\Site;
use App\Models\User;
use App\SignIn\Mail\AccountMail;
use App\SignIn\Told;
use Carbon\CarbonImmutable;
use Illuminate\Http\Exceptions\HttpResponseException;
use Illuminate\Http\Request;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Rights\Right;
use Pellix\Core\Vocabulary\Thing;

/**
 * Who works on a site asks somebody who publishes; on a site that wants two people, everybody asks. Whoever agrees sends what was asked
 * for themselves, with the number of the request: so it is checked, done and written down as if they had made it.
 */
final readonly class Approvals
{
    private const HEADER = 'Pellix-Request';
    private const MOST_OPEN = 50;
    private const MOST_TOLD = 20;
    private const MOST_BYTES = 1_000_000;

    public function __construct(private Logbook $logbook)
    {
    }

    /**
     * @param array<string, mixed> $body
     *
     * @throws ValidationException
     */
    public function ask(Site $site, User $author, string $method, string $path, array $body, string $note): PublishRequest
    {
        $askable = Askable::of($site, $method, $path, $body) ?? throw ValidationException::withMessages(['path' => 'This is nothing that somebody has to be asked for.']);
        $json = self::json($body);
        strlen($json) <= self::MOST_BYTES || throw ValidationException::withMessages(['body' => 'This is too much for a request.']);
        PublishRequest::query()->where('site_id', $site->id)->where('state', 'open')->count() < self::MOST_OPEN || throw ValidationException::withMessages(['note' => self::MOST_OPEN.' requests are open already. Withdraw those that nobody needs.']);
        $request = PublishRequest::query()->create([
            'site_id' => $site->id, 'method' => $method, 'path' => $path, 'body' => $json, 'title' => $askable->title(), 'changes' => $askable->changes(), 'base' => $askable->base(), 'note' => $note,
            'author_id' => $author->id, 'author' => $author->name, 'at' => CarbonImmutable::now('UTC'), 'state' => 'open',
        ]);
        $this->note($site, $request, 'asked for', $note);
        foreach ($this->whoMay($site, $author) as $person) {
            Told::of($person->email, new AccountMail("{$author->name} asks: {$request->title}", [
                "On {$site->name}, {$author->name} has prepared something that you may publish.", ...($note === '' ? [] : ["They write: {$note}"]),
            ], rtrim((string) config('app.url'), '/')."/sites/{$site->key}/requests/{$request->id}"));
        }

        return $request;
    }

    /** Whether somebody may change what a site's pages run without anybody else. */
    public static function mayAlone(User $person, Site $site): bool
    {
        return $person->rightOn($site)?->publishesAlone($site->two_people) === true;
    }

    /** @return list<User> who may publish, but for one */
    public function whoMay(Site $site, User $but): array
    {
        return array_values($site->users()->wherePivotIn('right', [Right::Publish->value, Right::Own->value])->whereKeyNot($but->id)->orderBy('name')->limit(self::MOST_TOLD)->get()->all());
    }

    /**
     * Before something is published: the request that it answers, if it names one.
     *
     * @throws HttpResponseException where somebody else has to be asked first
     */
    public function before(Request $http, Site $site): ?PublishRequest
    {
        [$method, $path, $body] = self::sent($http, $site);
        $askable = Askable::of($site, $method, $path, $body);
        $number = (string) $http->headers->get(self::HEADER, '');
        if ($number === '' && (! $site->two_people || $askable?->onlyStops() === true)) {
            return null;
        }
        // What nobody can be asked for is nothing that one person does alone.
        if ($number === '' || $askable === null) {
            throw new HttpResponseException($this->refusal($site, $http->user(), 'This site wants two people for what its pages run: you may prepare it, and somebody else publishes it.'));
        }
        $asked = PublishRequest::query()->where('site_id', $site->id)->where('state', 'open')->find(preg_match('/\A\d{1,18}\z/', $number) === 1 ? (int) $number : 0);
        abort_if($asked === null, 409, 'This request is not open any more.');
        abort_if($asked->method !== $method || $asked->path !== $path || $asked->body !== self::json($body), 409, 'This is not what was asked for.');
        abort_if($site->two_people && $asked->author_id === $http->user()->id, 403, 'This site wants two people: whoever asked does not agree to it themselves.');
        abort_if($asked->base !== $askable->base(), 409, 'What it changes has changed since it was asked for. Refuse it, and have it asked for anew.');

        return $asked;
    }

    /** What is being done, for whoever reads of it. */
    public static function title(Request $http, Site $site): string
    {
        return Askable::of($site, ...self::sent($http, $site))?->title() ?? '';
    }

    /**
     * A request as controllers read it: with what stands in its address, and the two ways to say that something is replaced as one.
     *
     * @return array{string, string, array<string, mixed>} method, path below the site, and body
     */
    private static function sent(Request $http, Site $site): array
    {
        return [$http->isMethod('PATCH') ? 'PUT' : $http->method(), substr($http->path(), strlen("api/sites/{$site->key}/")), $http->input()];
    }

    public function done(Site $site, PublishRequest $request, User $by): void
    {
        $this->decide($site, $request, $by, 'done', '', 'agreed to');
    }

    public function refuse(Site $site, PublishRequest $request, User $by, string $answer): void
    {
        abort_if($request->state !== 'open', 409, 'This request is not open any more.');
        $own = $request->author_id === $by->id;
        $this->decide($site, $request, $by, $own ? 'withdrawn' : 'refused', $answer, $own ? 'withdrawn' : 'refused');
    }

    /** That somebody may prepare this, and who may publish it. */
    public function refusal(Site $site, User $person, string $message): \Illuminate\Http\JsonResponse
    {
        return response()->json(['message' => $message, 'ask' => array_map(static fn (User $one): string => $one->name, $this->whoMay($site, $person))], 403);
    }

    private function decide(Site $site, PublishRequest $request, User $by, string $state, string $answer, string $event): void
    {
        $changed = PublishRequest::query()->whereKey($request->id)->where('state', 'open')->update(['state' => $state, 'decider_id' => $by->id, 'decider' => $by->name, 'decided_at' => CarbonImmutable::now('UTC'), 'answer' => $answer]);
        if ($changed === 1) {
            $this->note($site, $request, $event, $answer);
            $author = $request->author_id === null || $request->author_id === $by->id ? null : User::query()->find($request->author_id);
            $author === null || Told::of($author->email, new AccountMail("{$by->name} has ".($state === 'done' ? 'agreed to' : 'refused').": {$request->title}", $answer === '' ? ["On {$site->name}."] : ["On {$site->name}.", "They write: {$answer}"], rtrim((string) config('app.url'), '/')."/sites/{$site->key}/requests/{$request->id}"));
        }
    }

    private function note(Site $site, PublishRequest $request, string $event, string $note): void
    {
        $this->logbook->note($site->id, Thing::Published, "request-{$request->id}", $request->title, $event, note: $note);
    }

    /** @param array<string, mixed> $body */
    private static function json(array $body): string
    {
        return json_encode($body, JSON_THROW_ON_ERROR | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_PRESERVE_ZERO_FRACTION);
    }
}
