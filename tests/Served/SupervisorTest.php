<?php

it('says what lives', function () {
    $answer = (new GuzzleHttp\Client(['http_errors' => false]))->get($this->origin().'/health');
    $health = json_decode((string) $answer->getBody(), true);
    expect($answer->getStatusCode())->toBe(200, (string) $answer->getBody())->and($health['well'])->toBeTrue()->and($health['database'])->toBeTrue()
        ->and($health['processes'])->toBe(['auditor' => true, 'gatherer' => true, 'mariadb' => true, 'nginx' => true, 'php-fpm' => true, 'rehearser' => true, 'scheduler' => true, 'worker' => true])
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
        ->and((string) file_get_contents(getenv('PELLIX_TEST_DATA').'/log/supervisor.log'))->toContain("exited: {$name} (terminated by SIGKILL");
})->with(['php-fpm', 'nginx', 'worker', 'gatherer', 'scheduler', 'mariadb']);

it('runs everything as the one user who runs the tests, never with root beside it, and gives nobody else a look into its data', function () {
    $own = posix_geteuid();
    // One that was killed just now may still be on its way.
    for ($until = time() + 20, $running = 0; $running < 7 && time() < $until; usleep(200_000)) {
        $running = 0;
        foreach (glob('/proc/[0-9]*') as $folder) {
            $command = strtr((string) @file_get_contents("{$folder}/cmdline"), "\0", ' ');
            if (str_contains($command, getenv('PELLIX_TEST_DATA').'/') || is_readable("{$folder}/environ") && str_contains((string) @file_get_contents("{$folder}/environ"), 'PELLIX_DATA='.getenv('PELLIX_TEST_DATA')."\0")) {
                expect(@fileowner($folder) ?: $own)->toBe($own, $command);
                $running++;
            }
        }
    }
    expect($running)->toBeGreaterThan(6)->and(fileperms((string) getenv('PELLIX_TEST_DATA')) & 0o077)->toBe(0);
    foreach (['.env', 'secret-app', 'secret-database', 'accounts.sql', 'mysql'] as $name) {
        expect(fileperms(getenv('PELLIX_TEST_DATA')."/{$name}") & 0o007)->toBe(0, $name);
    }
});

it('goes on after its supervisor was killed, and its start command', function () {
    $data = getenv('PELLIX_TEST_DATA').'/killed';
    $free = static fn (): int => (int) substr(strrchr((string) stream_socket_get_name(stream_socket_server('tcp://127.0.0.1:0'), false), ':'), 1);
    [$port, $demo] = [$free(), $free()];
    $well = function () use ($port): bool {
        for ($until = time() + 20; time() < $until; usleep(200_000)) {
            if (str_contains((string) @file_get_contents("http://127.0.0.1:{$port}/health"), '"well":true')) {
                return true;
            }
        }

        return false;
    };
    $pid = static fn (string $file): int => (int) file_get_contents($file);
    $process = copyThatMayDie($data, $port, $demo);
    try {
        expect($well())->toBeTrue();
        $run = dirname((string) (parse_ini_file("{$data}/.env", scanner_mode: INI_SCANNER_RAW)['DB_SOCKET'] ?? ''));
        $before = $pid("{$run}/supervisor.pid");
        posix_kill($before, SIGKILL);
        for ($i = 0; $i < 200 && (! is_file("{$run}/supervisor.pid") || $pid("{$run}/supervisor.pid") === $before); $i++) {
            usleep(100_000);
        }
        expect($pid("{$run}/supervisor.pid"))->not->toBe($before)->and($well())->toBeTrue();

        // What it started goes on without it; the next start takes over.
        $process->signal(SIGKILL);
        $process->wait();
        expect($well())->toBeTrue();
        $process = copyThatMayDie($data, $port, $demo);
        expect($well())->toBeTrue();
    } finally {
        $process->signal(SIGTERM);
        $process->wait();
    }
    expect(is_dir($run))->toBeFalse();
});
