<?php

use App\Bounds\TimeLimit;
use App\Bounds\TookTooLong;
use Illuminate\Contracts\Debug\ExceptionHandler;
use Illuminate\Http\Request;
use Symfony\Component\ErrorHandler\Error\FatalError;

it('ends what takes too long, and leaves the alarm of a worker as it was', function () {
    $rang = false;
    pcntl_signal(SIGALRM, function () use (&$rang): void {
        $rang = true;
    });
    pcntl_alarm(60);
    expect(fn () => TimeLimit::within(1, function (): void {
        for ($i = 0; ; $i++) {
            md5((string) $i);
        }
    }))->toThrow(TookTooLong::class)
        ->and(TimeLimit::within(1, fn (): int => 7))->toBe(7)
        ->and(fn () => TimeLimit::within(1, fn () => throw new LogicException('its own')))->toThrow(LogicException::class);
    expect(pcntl_alarm(0))->toBeGreaterThan(50);
    posix_kill(posix_getpid(), SIGALRM);
    pcntl_signal_dispatch();
    expect($rang)->toBeTrue();
    pcntl_signal(SIGALRM, SIG_DFL);
});

it('logs where a query failed, and not what it asked for', function () {
    Illuminate\Support\Facades\File::ensureDirectoryExists(storage_path('logs'));
    $log = storage_path('logs/laravel.log');
    $size = is_file($log) ? filesize($log) : 0;
    try {
        Illuminate\Support\Facades\DB::select('select * from events where visitor = ? and nothing = 1', ['somebody-in-particular']);
    } catch (Illuminate\Database\QueryException $e) {
        app(ExceptionHandler::class)->report($e);
    }
    $written = (string) file_get_contents($log, offset: $size);
    expect($written)->toContain('A query failed with 42S22: select * from events where visitor = ?')->not->toContain('somebody');
});

it('says that a request was too much, and calls nothing else so', function (string $message, int $status) {
    $error = new FatalError($message, 0, ['type' => E_ERROR, 'message' => $message, 'file' => __FILE__, 'line' => 1]);
    $answer = app(ExceptionHandler::class)->render(Request::create('/api/sites/x/inspections', 'POST'), $error);
    expect($answer->getStatusCode())->toBe($status);
})->with([
    ['Maximum execution time of 30 seconds exceeded', 422],
    ['Allowed memory size of 268435456 bytes exhausted (tried to allocate 20480 bytes)', 422],
    ['Uncaught Error: Call to undefined function', 500],
]);

it('says of an outage of what it stands on that it is one, and of a mistake that it is none', function (Throwable $trouble, int $status) {
    Route::get('api/troubled', static fn () => throw $trouble);
    $answer = $this->getJson('/api/troubled')->assertStatus($status);
    $status === 503 && $answer->assertHeader('Retry-After', 3)->assertJsonPath('message', fn (string $words): bool => str_contains($words, 'try again in a moment'));
})->with(static function (): array {
    $database = static function (int $number): PDOException {
        $e = new PDOException('of the tests');
        $e->errorInfo = ['HY000', $number, ''];

        return $e;
    };
    $redis = (new ReflectionClass(Predis\Connection\Resource\Exception\StreamInitException::class))->newInstanceWithoutConstructor();

    return [
        'gone' => [$database(2006), 503], 'a node that is not ready' => [new Illuminate\Database\QueryException('mariadb', 'select 1', [], $database(1047)), 503], 'another node was faster' => [new Illuminate\Database\QueryException('mariadb', 'select 1', [], $database(1213)), 503],
        'Redis' => [$redis, 503], 'a mistake' => [new Illuminate\Database\QueryException('mariadb', 'select', [], $database(1064)), 500], 'another' => [new LogicException('x'), 500],
    ];
});
