<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Sums;

use Pellix\Core\Audit\Reading\Row;
use Pellix\Core\Audit\Reading\Unit;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Formats\Spool;

/** What was recorded of the assignment beside what it should have been. */
final class AssignmentSum
{
    private const MOST_NAMES = 200;

    /** Why an exposure should not be. */
    public const REASONS = ['page', 'audience', 'run', 'share'];

    /** Units that were exposed at all. */
    public int $exposed = 0;

    /** Of those whose variant is not the one that the assignment gives. */
    public Cohorts $wrong;

    /** Of those that met several. */
    public Cohorts $switched;

    /** @var array<string, Cohorts> reason => units */
    public array $outside = [];

    /** @var array<string, int> key that nobody declared => units */
    public array $unknown = [];

    public Cohorts $strange;

    /** @var array<string, array<int, array<string, int>>> other experiment => place of the variant here => variant there => units */
    public array $others = [];

    public function __construct()
    {
        $this->wrong = new Cohorts();
        $this->switched = new Cohorts();
        $this->strange = new Cohorts();
        foreach (self::REASONS as $reason) {
            $this->outside[$reason] = new Cohorts();
        }
    }

    public function add(Unit $unit, Setup $setup, Spool $users): void
    {
        if ($unit->exposures === []) {
            return;
        }
        $this->strangers($unit, $setup);
        $this->outside($unit, $setup);
        $at = $unit->exposedAt;
        if ($at === null) {
            return;
        }
        $hour = intdiv($unit->times[$at], 3_600_000);
        $this->exposed++;
        if (count($unit->met) > 1 && ! self::wereMoved($unit, $setup)) {
            $this->switched->add($unit->keys, $unit->epoch, $hour, $unit->variant);
        }
        if ($setup->settings->isRecomputed) {
            $due = self::due($unit, $setup);
            if ($due === []) {
                $this->outside['share']->add($unit->keys, $unit->epoch, $hour, $unit->variant);
            } elseif (! isset($due[$setup->variants[$unit->variant]])) {
                $this->wrong->add($unit->keys, $unit->epoch, $hour, $unit->variant);
            }
        }
        foreach ($unit->counted() === null ? [] : $unit->others as $experiment => $variant) {
            $experiment = (string) $experiment;
            if (isset($this->others[$experiment]) || count($this->others) < self::MOST_NAMES) {
                $cell = $this->others[$experiment][$unit->variant] ?? [];
                if (isset($cell[$variant]) || count($cell) < self::MOST_NAMES) {
                    $this->others[$experiment][$unit->variant][$variant] = ($cell[$variant] ?? 0) + 1;
                }
            }
        }
        $user = $unit->rows[$at][Row::USER];
        for ($i = 0; $user === '' && $i < count($unit->rows); $i++) {
            $user = $unit->rows[$i][Row::USER];
        }
        if ($user !== '' && $setup->experiment->unit === 'visitor') {
            // Of each user the visitor ids come together again later.
            $users->add(crc32($user), implode("\t", [$user, $unit->variant, $unit->times[$at]])."\n");
        }
    }

    /** @return array<string, true> variants that the assignment may have given it: in the epoch of its exposure, or kept from an earlier one */
    private static function due(Unit $unit, Setup $setup): array
    {
        $due = [];
        for ($epoch = $unit->epoch; $epoch >= 0; $epoch--) {
            $variant = $setup->assigner($epoch)->variantOf($unit->id);
            if ($variant !== null) {
                $due[$variant] = true;
            }
        }

        return $due;
    }

    /** Whether all variants but one were stopped, and their visitors given another. */
    private static function wereMoved(Unit $unit, Setup $setup): bool
    {
        $stay = array_filter(array_keys($unit->met), static fn (int $place): bool => ! $setup->experiment->variants[$place]->moves);

        return count($stay) < 2;
    }

    private function strangers(Unit $unit, Setup $setup): void
    {
        $seen = [];
        foreach ($unit->exposures as $i) {
            $variant = $unit->props($i)['variant'] ?? null;
            $variant = is_string($variant) || is_int($variant) ? (string) $variant : '';
            if (in_array($variant, $setup->variants, true)) {
                continue;
            }
            $variant = mb_strcut(mb_scrub($variant), 0, 60);
            if (! isset($seen["#{$variant}"])) {
                $seen["#{$variant}"] = true;
                if (isset($this->unknown[$variant]) || count($this->unknown) < self::MOST_NAMES) {
                    $this->unknown[$variant] = ($this->unknown[$variant] ?? 0) + 1;
                }
                count($seen) === 1 && $this->strange->add($unit->keys, $setup->epochAt($unit->times[$i]), intdiv($unit->times[$i], 3_600_000), Cohorts::NONE);
            }
        }
    }

    private function outside(Unit $unit, Setup $setup): void
    {
        $told = [];
        foreach ($unit->exposures as $i) {
            $what = $unit->whats[$i];
            $reason = match (true) {
                ! $unit->isDuring($unit->times[$i]) => 'run',
                ! $what->has(Row::ON_PAGE) => 'page',
                ! $what->has(Row::IN_AUDIENCE) => 'audience',
                default => null,
            };
            if ($reason !== null && ! isset($told[$reason])) {
                $told[$reason] = true;
                $this->outside[$reason]->add($unit->keysOf($i), $setup->epochAt($unit->times[$i]), intdiv($unit->times[$i], 3_600_000), $unit->variant);
            }
        }
    }

    /** @param int $sign see `Counts` */
    public function plus(self $other, int $sign = Counts::PLUS): void
    {
        $this->exposed += $sign * $other->exposed;
        $this->wrong->plus($other->wrong, $sign);
        $this->switched->plus($other->switched, $sign);
        $this->strange->plus($other->strange, $sign);
        foreach (self::REASONS as $reason) {
            $this->outside[$reason]->plus($other->outside[$reason], $sign);
        }
        $this->unknown = Counts::sum($this->unknown, $other->unknown, $sign);
        $this->others = Counts::sum($this->others, $other->others, $sign);
    }

    public function prune(): void
    {
        foreach ([$this->wrong, $this->switched, $this->strange, ...array_values($this->outside)] as $cohorts) {
            $cohorts->prune();
        }
    }
}
