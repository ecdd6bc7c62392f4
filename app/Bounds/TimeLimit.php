<?php

namespace App\Bounds;

/** Ends a work that takes too long, where it is: whoever asked for it goes on. On the command line and in workers alone. */
final class TimeLimit
{
    /**
     * @template T
     *
     * @param callable(): T $work
     *
     * @return T
     *
     * @throws TookTooLong
     */
    public static function within(int $seconds, callable $work): mixed
    {
        if (! function_exists('pcntl_alarm')) {
            return $work();
        }
        // A queue worker has an alarm of its own for the whole job, which must not be lost.
        $earlier = pcntl_signal_get_handler(SIGALRM);
        $wasAsync = pcntl_async_signals(true);
        $begin = hrtime(true);
        pcntl_signal(SIGALRM, static fn () => throw new TookTooLong($seconds));
        $left = pcntl_alarm($seconds);
        try {
            return $work();
        } finally {
            pcntl_alarm(0);
            pcntl_signal(SIGALRM, $earlier ?: SIG_DFL);
            pcntl_async_signals($wasAsync);
            if ($left > 0) {
                pcntl_alarm(max(1, $left - intdiv(hrtime(true) - $begin, 1_000_000_000)));
            }
        }
    }
}
