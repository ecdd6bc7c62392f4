<?php

declare(strict_types=1);

namespace Pellix\Core\Counting;

use Pellix\Core\Events\LogEvent;

use Pellix\Core\Events\OwnProps;
use Pellix\Core\Experiments\DeclaredVariant;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Experiments\Periods;
use Pellix\Core\Segments\Segments;

/**
 * What one unit did in one experiment while it ran. This is the one place that says what an exposure is, when a unit is
 * eligible, and when it has crossed over from one variant to another:
 *
 * - *eligible*: it viewed a page that the page rule of that time matches, and that the audience rule does not rule out;
 * - *exposed*: an `exposure` event names the experiment and one of its declared variants;
 * - *crossed*: it was exposed to more than one of them; such a unit counts for none. It was *moved* where all but the last of
 *   them were stopped with their visitors to be given another.
 */
final readonly class Participation
{
    /**
     * @param int                     $views     page views that made it eligible
     * @param int                     $exposures exposure events, of any variant
     * @param int                     $applied   events that confirm that every change was made
     * @param int                     $missed    events that report a missing element
     * @param string|null             $variant   the one that it was exposed to first
     * @param int|null                $epoch     position of the epoch of its first exposure
     * @param \DateTimeImmutable|null $first     first exposure
     * @param \DateTimeImmutable|null $last      last exposure
     * @param string|null             $page      address of the first exposure
     * @param Segments|null           $segments  of the first exposure
     * @param int                     $reverted  events that report that the page took changes back for good
     * @param int                     $failed    events that report a change that ran into an error
     * @param bool                    $moved     whether it crossed because its variant was stopped
     */
    public function __construct(
        public int $views,
        public int $exposures,
        public int $applied,
        public int $missed,
        public ?string $variant,
        public bool $crossed,
        public ?int $epoch,
        public ?\DateTimeImmutable $first,
        public ?\DateTimeImmutable $last,
        public ?string $page = null,
        public ?Segments $segments = null,
        public int $reverted = 0,
        public int $failed = 0,
        public bool $moved = false,
    ) {
    }

    /** Null where the unit has nothing to do with the experiment. */
    public static function of(Experiment $experiment, Periods $ran, VisitorLog $log): ?self
    {
        $views = count(self::views($experiment, $ran, $log));
        $exposures = self::about($experiment, $ran, $log, 'exposure');
        if ($views === 0 && $exposures === []) {
            return null;
        }
        $first = $exposures[0] ?? null;
        $variants = [];
        foreach ($exposures as $exposure) {
            $variants[(string) OwnProps::key($exposure->props, 'variant')] = true;
        }

        return new self(
            $views,
            count($exposures),
            count(self::about($experiment, $ran, $log, 'change_applied')),
            count(self::about($experiment, $ran, $log, 'change_missed')),
            $first === null ? null : OwnProps::key($first->props, 'variant'),
            count($variants) > 1,
            $first === null ? null : $experiment->epochAt($first->time),
            $first?->time,
            $first === null ? null : $exposures[count($exposures) - 1]->time,
            $first?->url,
            $first === null ? null : Segments::of($first->props, $first->agent),
            count(self::about($experiment, $ran, $log, 'change_reverted')),
            count(self::about($experiment, $ran, $log, 'change_failed')),
            count($variants) > 1 && self::wereStopped($experiment, array_keys($variants)),
        );
    }

    /** @param list<int|string> $variants in the order in which the unit met them; array keys, so numbers where they read like one */
    private static function wereStopped(Experiment $experiment, array $variants): bool
    {
        array_pop($variants);
        $stopped = array_map(static fn (DeclaredVariant $one): string => $one->variant->key, array_filter($experiment->variants, static fn (DeclaredVariant $one): bool => $one->moves));

        return array_diff(array_map(strval(...), $variants), $stopped) === [];
    }

    /** @return list<LogEvent> the page views that make a unit eligible */
    public static function views(Experiment $experiment, Periods $ran, VisitorLog $log): array
    {
        $found = [];
        foreach ($log->named['page_view'] ?? [] as $view) {
            if ($experiment->isEligible($view) && $ran->contain($view->time)) {
                $found[] = $view;
            }
        }

        return $found;
    }

    /** @return list<LogEvent> events of one name that speak of a declared variant of the experiment */
    public static function about(Experiment $experiment, Periods $ran, VisitorLog $log, string $name): array
    {
        $found = [];
        foreach ($log->named[$name] ?? [] as $event) {
            if (($event->props['experiment'] ?? null) === $experiment->key && $experiment->hasVariant(OwnProps::key($event->props, 'variant')) && $ran->contain($event->time)) {
                $found[] = $event;
            }
        }

        return $found;
    }

    public function isExposed(): bool
    {
        return $this->first !== null;
    }

    /** The variant that it counts for: none where it was not exposed, or to several. */
    public function counts(): ?string
    {
        return $this->crossed ? null : $this->variant;
    }
}
