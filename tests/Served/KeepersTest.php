<?php

it('says what lives', function () {
    $answer = (new GuzzleHttp\Client(['http_errors' => false]))->get($this->origin().'/health');
    $health = json_decode((string) $answer->getBody(), true);
    expect($answer->getStatusCode())->toBe(200, (string) $answer->getBody())->and($health['well'])->toBeTrue()->and($health['database'])->toBeTrue()
        ->and($health['processes'])->toBe(['gatherer' => true, 'mariadb' => true, 'nginx' => true, 'php-fpm' => true, 'scheduler' => true, 'worker' => true])
        ->and($answer->getHeader('Set-Cookie'))->toBe([]);
});

/** Whether the collector takes an event, within so many seconds. */
function takesAgain(Tests\Support\ServedTestCase $test, int $seconds): bool
{
    return (function () use ($seconds): bool {
        for ($until = time() + $seconds; time() < $until; usleep(200_000)) {
            try {
                if ($this->beacon([$this->event(uniqid('again-'))])->getStatusCode() === 200) {
                    return true;
                }
            } catch (GuzzleHttp\Exception\ConnectException) {
                // Not yet.
            }
        }

        return false;
    })->call($test);
}

it('starts a process again that was killed, alone, and says so', function (string $name) {
    $pids = dirname((string) getenv('PELLIX_TEST_SOCKET')).'/pids';
    $others = array_map(file_get_contents(...), array_filter(glob("{$pids}/*"), fn (string $file): bool => basename($file) !== $name));
    $before = (int) file_get_contents("{$pids}/{$name}");
    posix_kill($before, SIGKILL);
    for ($i = 0; $i < 100 && (int) file_get_contents("{$pids}/{$name}") === $before; $i++) {
        usleep(100_000);
    }
    $after = (int) file_get_contents("{$pids}/{$name}");
    expect($after)->not->toBe($before)->and(posix_kill($after, 0))->toBeTrue()->and(takesAgain($this, 20))->toBeTrue()
        // Without the database nobody else can go on for long.
        ->and($name === 'mariadb' ? $others : array_map(file_get_contents(...), array_filter(glob("{$pids}/*"), fn (string $file): bool => basename($file) !== $name)))->toBe($others)
        ->and((string) file_get_contents(getenv('PELLIX_TEST_DATA')."/log/{$name}.log"))->toContain("{$name} ended with 137 and is started again");
})->with(['php-fpm', 'nginx', 'worker', 'gatherer', 'scheduler', 'mariadb']);
