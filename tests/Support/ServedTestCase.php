<?php

declare(strict_types=1);

namespace Tests\Support;

use Demo\Library;
use GuzzleHttp\Client;
use PDO;
use PHPUnit\Framework\TestCase;
use Psr\Http\Message\ResponseInterface;
use Symfony\Component\Process\Process;

/** A served copy with the demo's data, as its users meet it: nginx, php-fpm and MariaDB, all real. */
abstract class ServedTestCase extends TestCase
{
    protected function origin(): string
    {
        return (string) getenv('PELLIX_TEST_ORIGIN');
    }

    protected function demo(): string
    {
        return (string) getenv('PELLIX_TEST_DEMO_ORIGIN');
    }

    /** The served copy's database, to count what really is in it. */
    protected function db(): PDO
    {
        static $pdo = null;
        try {
            $pdo?->query('select 1');
        } catch (\PDOException) {
            // Another test has killed the server meanwhile.
            $pdo = null;
        }

        return $pdo ??= new PDO(
            'mysql:unix_socket='.getenv('PELLIX_TEST_SOCKET').';dbname=pellix;charset=utf8mb4',
            'pellix',
            (string) getenv('PELLIX_TEST_DB_PASSWORD'),
            [PDO::ATTR_ERRMODE => PDO::ERRMODE_EXCEPTION, PDO::ATTR_DEFAULT_FETCH_MODE => PDO::FETCH_ASSOC],
        );
    }

    protected function scalar(string $sql, mixed ...$values): mixed
    {
        $statement = $this->db()->prepare($sql);
        $statement->execute($values);

        return $statement->fetchColumn();
    }

    /** How many events of a name the figures know, once they know so many, or after half a minute. */
    protected function counted(string $name, int $expected): int
    {
        for ($i = 0; $i < 150; $i++) {
            $n = (int) $this->scalar('select coalesce(sum(n), 0) from volumes where `by` = "event" and item = ?', $name);
            if ($n >= $expected) {
                break;
            }
            usleep(200_000);
        }

        return $n;
    }

    protected function post(string $body): ResponseInterface
    {
        static $client = new Client(['http_errors' => false, 'timeout' => 30]);

        return $client->post($this->origin().'/c', ['body' => $body, 'headers' => ['Content-Type' => 'text/plain', 'Origin' => $this->demo()]]);
    }

    /** @param list<mixed> $events */
    protected function beacon(array $events, array $change = []): ResponseInterface
    {
        return $this->post((string) json_encode([
            'pellix' => 1, 'site' => Library::SITE_KEY, 'sent' => gmdate('Y-m-d\TH:i:s\Z'), 'events' => $events, ...$change,
        ]));
    }

    /** @param array<string, mixed> $change */
    protected function event(string $id, array $change = []): array
    {
        return [
            'id' => $id, 'visitor' => 'tester', 'time' => gmdate('Y-m-d\TH:i:s\Z'), 'name' => 'page_view', 'url' => $this->demo().'/join',
            'referrer' => '', 'props' => (object) [], ...$change,
        ];
    }

    /** @param list<string> $arguments */
    protected function pellix(array $arguments, string $input = '', int $timeout = 120): Process
    {
        $process = new Process([dirname(__DIR__, 2).'/bin/pellix', ...$arguments], env: ['PELLIX_DATA' => getenv('PELLIX_TEST_DATA')], input: $input, timeout: $timeout);
        $process->run();

        return $process;
    }
}
