<?php

use App\Http\Controllers\HealthController;
use App\Http\Controllers\LoupeController;
use App\Http\Controllers\MetricsController;
use App\Http\Middleware\AskFirst;
use App\Http\Middleware\KeepSignIn;
use App\Http\Middleware\ReadableJson;
use App\Http\Middleware\RequireConfirmation;
use App\Http\Middleware\RequireRight;
use App\Http\Middleware\RequireSignIn;
use App\Http\Middleware\SecurityHeaders;
use App\Http\Outage;
use Illuminate\Contracts\Auth\Middleware\AuthenticatesRequests;
use Illuminate\Database\QueryException;
use Illuminate\Foundation\Application;
use Illuminate\Foundation\Configuration\Exceptions;
use Illuminate\Foundation\Configuration\Middleware;
use Illuminate\Http\Middleware\HandleCors;
use Illuminate\Http\Request;
use Illuminate\Routing\Middleware\SubstituteBindings;
use Illuminate\Support\Facades\Log;
use Illuminate\Support\Facades\Route;
use Predis\CommunicationException;
use Predis\Connection\Resource\Exception\StreamInitException;
use Symfony\Component\ErrorHandler\Error\FatalError;

/*
 * Everything that one running copy writes lies under its own data folder, so that several copies (the demo, the tests)
 * can share this code: configuration, caches, storage, the database.
 */
$data = getenv('PELLIX_DATA') ?: dirname(__DIR__).'/var/main';
is_dir("{$data}/cache") || mkdir("{$data}/cache", recursive: true);
foreach (['CONFIG', 'ROUTES', 'EVENTS', 'SERVICES', 'PACKAGES'] as $cache) {
    // Both, since a variable that was inherited from a parent process stands in one of them.
    $_SERVER["APP_{$cache}_CACHE"] = $_ENV["APP_{$cache}_CACHE"] = $data.'/cache/'.strtolower($cache).'.php';
}

// Arguments of functions are visitors' data as often as not, and traces go to the log.
ini_set('zend.exception_ignore_args', '1');

$app = Application::configure(basePath: dirname(__DIR__))
    ->withRouting(
        web: __DIR__.'/../routes/web.php',
        api: __DIR__.'/../routes/api.php',
        commands: __DIR__.'/../routes/console.php',
        // Asked by machines, and from other people's pages: no session, no cookie.
        then: static function (): void {
            Route::get('health', HealthController::class);
            Route::get('metrics', MetricsController::class);
            Route::prefix('loupe')->middleware('throttle:loupe')->group(static function (): void {
                Route::post('open', [LoupeController::class, 'open']);
                Route::post('heard', [LoupeController::class, 'heard']);
                Route::post('draft', [LoupeController::class, 'draft']);
                Route::post('keep', [LoupeController::class, 'keep']);
                Route::post('goal', [LoupeController::class, 'goal']);
                Route::post('script', [LoupeController::class, 'script']);
            });
        },
    )
    ->withMiddleware(function (Middleware $middleware): void {
        // The collector answers other origins itself (public/collect.php); the interface and its API are same-origin.
        $middleware->remove(HandleCors::class);
        $middleware->alias(['right' => RequireRight::class, 'signed-in' => RequireSignIn::class, 'confirmed' => RequireConfirmation::class, 'ask-first' => AskFirst::class]);
        $middleware->statefulApi();
        $middleware->appendToGroup('api', KeepSignIn::class);
        $middleware->appendToGroup('web', KeepSignIn::class);
        // Whether a session still holds is known before anybody asks whose it is.
        $middleware->prependToPriorityList(AuthenticatesRequests::class, KeepSignIn::class);
        // What is there and what is not is told only to whoever may ask for it.
        foreach ([RequireRight::class, RequireSignIn::class, RequireConfirmation::class, AskFirst::class] as $guard) {
            $middleware->prependToPriorityList(SubstituteBindings::class, $guard);
        }
        // Of the API, whoever is not signed in gets 401, also where they did not say that they read JSON.
        $middleware->redirectGuestsTo('/sign-in');
        $middleware->prepend(ReadableJson::class);
        $middleware->append(SecurityHeaders::class);
    })
    ->withExceptions(function (Exceptions $exceptions): void {
        $exceptions->shouldRenderJsonWhen(fn (Request $request): bool => $request->is('api/*') || $request->expectsJson());
        // The database's own words hold what was asked for and kept: visitors, addresses, orders. A log holds where it went wrong.
        $exceptions->report(static function (QueryException $e): bool {
            Log::error("A query failed with {$e->getCode()}: {$e->getSql()}", ['at' => $e->getTrace()[1]['file'] ?? null, 'trace' => $e->getTraceAsString()]);

            return false;
        });
        // What everything stands on is being started again, or another machine takes over: whoever asks again in a moment is served.
        $exceptions->render(static fn (PDOException|CommunicationException|StreamInitException $e) => Outage::isOne($e) ? response()->json(['message' => Outage::WORDS], 503, ['Retry-After' => (string) Outage::SECONDS]) : null);
        // What was sent was too much for one request. It is whoever sent it who can do something about that.
        $exceptions->render(static fn (FatalError $e) => preg_match('/^(Maximum execution time|Allowed memory size)/', $e->getMessage()) === 1
            ? response()->json(['message' => 'This took more time or memory than one request may have. Send less at a time; bin/pellix takes files of any size.'], 422) : null);
    })
    ->create();

$app->useEnvironmentPath($data);
$app->useStoragePath("{$data}/storage");

return $app;
