<?php

namespace App\Providers;

use App\Companion;
use App\Experiments\TakeoverRound;
use App\Experiments\Timetable;
use App\Fetching\PageFetcher;
use App\Inventory\CoverageRound;
use App\Logbook\Watched;
use App\Measures\PlanRound;
use App\Metrics\Measurements;
use App\Models\AccessToken;
use App\Notices\Outbox;
use App\Notices\WebhookHosts;
use App\ReadModel\Round;
use App\ReadModel\Rounds;
use App\Readouts\Proposer;
use App\Readouts\ReadoutMaker;
use App\SignIn\Current;
use App\SignIn\OpenId;
use App\SignIn\Passwords;
use GuzzleHttp\Client;
use Illuminate\Cache\RateLimiting\Limit;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;
use Illuminate\Support\Facades\Mail;
use Illuminate\Support\Facades\RateLimiter;
use Illuminate\Support\Facades\Route;
use Illuminate\Support\Facades\URL;
use Illuminate\Support\ServiceProvider;
use Laravel\Sanctum\Sanctum;
use Pellix\Core\Rules\AddressFacts;
use Pellix\Core\SignIn\PasswordRules;

class AppServiceProvider extends ServiceProvider
{
    private const ASCII = '[\x21-\x2e\x30-\x7e]{1,200}';

    public function register(): void
    {
        $companion = config('pellix.companion');
        if (is_string($companion) && is_subclass_of($companion, Companion::class)) {
            $this->app->singleton(Companion::class, $companion);
            $this->commands((new $companion())->commands());
        }
        $this->app->singleton(Current::class);
        $this->app->bind(Measurements::class, Measurements::here(...));
        $this->app->singleton(PasswordRules::class, Passwords::rules(...));
        $this->app->tag([CoverageRound::class, PlanRound::class, Timetable::class, TakeoverRound::class, ReadoutMaker::class, Proposer::class], Round::class);
        $this->app->when(Rounds::class)->needs('$rounds')->giveTagged(Round::class);
        $this->app->bind(PageFetcher::class, static fn (): PageFetcher => new PageFetcher(
            new Client(),
            (bool) config('pellix.fetch_private'),
            // The demo's own host is on this machine, and nothing else is reached for its sake.
            array_filter([AddressFacts::of((string) config('pellix.demo_origin'))->host]),
        ));
        $this->app->bind(OpenId::class, fn (): OpenId => new OpenId(new Client(['timeout' => 8, 'connect_timeout' => 3, 'allow_redirects' => false, 'proxy' => '']), $this->app->make('cache.store')));
        $this->app->bind(WebhookHosts::class, static fn (): WebhookHosts => new WebhookHosts(config('pellix.webhook_hosts')));
    }

    public function boot(): void
    {
        Sanctum::usePersonalAccessTokenModel(AccessToken::class);
        Sanctum::authenticateAccessTokensUsing(static fn (AccessToken $token, bool $isValid): bool => $isValid && $token->tokenable->deactivated_at === null);
        Mail::extend('outbox', static fn (): Outbox => new Outbox());
        JsonResource::withoutWrapping();
        // A proxy that ends TLS speaks http to this server; browsers do not.
        str_starts_with((string) config('app.url'), 'https://') && URL::forceScheme('https');

        foreach (array_keys(Watched::COLUMNS) as $model) {
            $model::observe(Watched::class);
        }

        // Keys and ids are ASCII, and so are the columns that hold them: the database cannot even compare them with more.
        Route::pattern('site', 'plx_[a-z0-9]{16}');
        Route::pattern('experiment', self::ASCII);
        Route::pattern('goal', self::ASCII);
        Route::pattern('event', self::ASCII);
        Route::pattern('key', self::ASCII);

        // Somebody else's server, or mailbox, gets them.
        RateLimiter::for('loupe', static fn (Request $request): Limit => Limit::perMinute(600)->by("loupe:{$request->ip()}"));
        RateLimiter::for('tests', static fn (Request $request): Limit => Limit::perMinute(10)->by("tests:{$request->user()?->id}"));
        RateLimiter::for('links', static fn (Request $request): Limit => Limit::perMinute(30)->by("links:{$request->ip()}"));
    }
}
