<?php

declare(strict_types=1);

namespace Pellix\Core\Counting;

use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Formats\Spool;

/** Does the two halves of a work at the same time, the second in a process of its own; one after the other where that cannot be. */
final class TwoAtOnce
{
    /**
     * @template T
     *
     * @param callable(int): T $work told which half it is to do: 0 or 1; what it changes of itself is lost, what it returns is not
     * @param bool             $isMuch whether it is worth a process
     *
     * @return array{T, T}
     *
     * @throws InvalidLog       of the first half, else of the second
     * @throws \RuntimeException where the other process could not go on
     */
    public static function run(callable $work, bool $isMuch = true): array
    {
        $child = -1;
        if ($isMuch && function_exists('pcntl_fork') && function_exists('posix_kill')) {
            $answer = Spool::file();
            $child = pcntl_fork();
        }
        if ($child === -1) {
            return [$work(0), $work(1)];
        }
        if ($child === 0) {
            fwrite($answer, serialize(self::answer($work)));
            // At once: whatever the first process is to do at its end is not this one's.
            posix_kill((int) posix_getpid(), SIGKILL);
        }
        try {
            $first = $work(0);
        } catch (\Throwable $e) {
            posix_kill($child, SIGKILL);
            throw $e;
        } finally {
            pcntl_waitpid($child, $status);
        }
        rewind($answer);
        /** @var array{T, array{string, string}|null, string|null}|false $second */
        $second = @unserialize((string) stream_get_contents($answer));
        if ($second === false) {
            throw new \RuntimeException('A process that counted a part of the log has ended too early: there may be too little memory.');
        }
        [$result, $refused, $failed] = $second;

        return match (true) {
            $refused !== null => throw new InvalidLog(...$refused),
            $failed !== null => throw new \RuntimeException($failed),
            default => [$first, $result],
        };
    }

    /**
     * @param callable(int): mixed $work
     *
     * @return array{mixed, array{string, string}|null, string|null} what it returns; what was wrong with the log, and where; what else went wrong
     */
    private static function answer(callable $work): array
    {
        try {
            return [$work(1), null, null];
        } catch (InvalidLog $e) {
            return [null, [$e->getMessage(), $e->field], null];
        } catch (\Throwable $e) {
            return [null, null, $e->getMessage()];
        }
    }
}
