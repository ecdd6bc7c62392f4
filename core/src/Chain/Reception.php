<?php

declare(strict_types=1);

namespace Pellix\Core\Chain;

/** What arrives of an experiment that runs: "running" alone says nothing of whether anybody meets it. */
final readonly class Reception
{
    /** So long nothing need arrive (common practice, no source). */
    private const PATIENCE_SECONDS = 300;

    /** At night fewer come: this part of the mean rate is counted on (common practice, no source). */
    private const QUIET = 0.25;

    /** Silence that chance makes as rarely is no chance. */
    private const IMPROBABLE = 0.001;

    /** @param bool $isSilent whether so little arrives that nobody should call it running */
    private function __construct(public bool $isSilent, public string $words)
    {
    }

    /** @param \DateTimeImmutable $began when it started, or went on */
    public static function of(Observations $seen, \DateTimeImmutable $began): self
    {
        $last = $seen->entered->last;
        $since = $last === null || $last < $began ? $began : $last;
        $silence = max(0, $seen->now->getTimestamp() - $since->getTimestamp());
        if ($silence >= self::PATIENCE_SECONDS && ($last === null || self::isImprobable($seen, $silence))) {
            return new self(true, 'running, nothing received for '.self::duration($silence));
        }

        return new self(false, $seen->entered->nothing()
            ? 'running, nothing received yet'
            : 'running, '.Words::count($seen->exposedVisitors(), 'visitor').', the last '.self::duration($silence).' ago');
    }

    /** Exposures that come by chance at a steady rate leave such a gap with the probability e^(-rate x gap) (Poisson process). */
    private static function isImprobable(Observations $seen, int $silence): bool
    {
        $elapsed = max(1, $seen->now->getTimestamp() - $silence - $seen->changed->getTimestamp());
        $rate = self::QUIET * $seen->entered->count / $elapsed;

        return exp(-$rate * $silence) < self::IMPROBABLE;
    }

    private static function duration(int $seconds): string
    {
        return match (true) {
            $seconds < 60 => Words::count($seconds, 'second'),
            $seconds < 2 * 3600 => Words::count(intdiv($seconds, 60), 'minute'),
            $seconds < 2 * 86400 => Words::count(intdiv($seconds, 3600), 'hour'),
            default => Words::count(intdiv($seconds, 86400), 'day'),
        };
    }
}
