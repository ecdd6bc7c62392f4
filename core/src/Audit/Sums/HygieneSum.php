<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Sums;

use Pellix\Core\Audit\Reading\Row;
use Pellix\Core\Audit\Reading\Unit;
use Pellix\Core\Audit\Reading\What;
use Pellix\Core\Audit\Setup;

/** Events that should not be in a log, or not so. */
final class HygieneSum extends CohortSums
{
    /** The same event of the same visitor on the same page within so many milliseconds is one that fired twice (common practice, no source). */
    private const TWICE = 500;

    private const MOST_HOSTS = 500;

    /** Copies of an id; events that fired twice; that the plan does not know so; with personal data. By what they are. */
    public Cohorts $copies;
    public Cohorts $twice;
    public Cohorts $offPlan;
    public Cohorts $personal;

    /** Exposures that lie after their effect, by units. */
    public Cohorts $disorder;

    /** Sessions, and views that break one. */
    public int $sessions = 0;
    public Cohorts $broken;

    /** @var array<string, array{int, int}> host that visitors came from => in the middle of a session, and at the beginning of one */
    public array $referrers = [];

    /** Units that are programs, or one's own people; all of them. */
    public int $units = 0;
    public int $crawlers = 0;
    public int $inhuman = 0;
    public Cohorts $insiders;

    protected static function names(): array
    {
        return ['copies', 'twice', 'offPlan', 'personal', 'disorder', 'broken', 'insiders'];
    }

    public function add(Unit $unit, Setup $setup): void
    {
        $this->units++;
        $this->crawlers += $unit->isCrawler ? 1 : 0;
        $this->inhuman += ! $unit->isCrawler && $unit->isInhuman ? 1 : 0;
        if ($unit->isInternal) {
            $this->insiders->add($unit->keys, 0, intdiv($unit->times[0], 3_600_000), $unit->variant);
        }
        foreach ($unit->copies as $row) {
            $this->event($this->copies, $unit, What::of($row[Row::WHAT]), Row::time($row));
        }
        if ($unit->isCrawler || $unit->isInhuman) {
            return;
        }
        $idle = 60_000 * $setup->settings->sessionMinutes;
        $last = [];
        $before = null;
        foreach ($unit->rows as $i => $row) {
            $time = $unit->times[$i];
            $what = $unit->whats[$i];
            $same = $last[$what->event] ?? null;
            if ($same !== null && $time - $same <= self::TWICE && (! Unit::isOwn($what->name) || ($what->name === 'exposure' && $this->isSameExposure($unit, $i)))) {
                $this->event($this->twice, $unit, $what, $time);
            }
            $last[$what->event] = $time;
            if ($what->has(Row::PERSONAL | Row::OFF_PLAN)) {
                $what->has(Row::PERSONAL) && $this->event($this->personal, $unit, $what, $time);
                $what->has(Row::OFF_PLAN) && $this->event($this->offPlan, $unit, $what, $time);
            }
            $isNew = $before === null || $time - $before >= $idle;
            $this->sessions += $isNew ? 1 : 0;
            if ($row[Row::REFERRER] !== '') {
                $this->referred($unit, $i, $isNew, $setup);
            }
            $before = $time;
        }
        $this->disorder($unit);
    }

    /** Two experiments on one page are no exposure that fired twice. */
    private function isSameExposure(Unit $unit, int $i): bool
    {
        $mine = $unit->props($i);
        for ($k = $i - 1; $k >= 0 && $unit->times[$i] - $unit->times[$k] <= self::TWICE; $k--) {
            if ($unit->whats[$k]->name === 'exposure' && $unit->whats[$k]->page === $unit->whats[$i]->page && ($unit->props($k)['experiment'] ?? null) === ($mine['experiment'] ?? null)) {
                return true;
            }
        }

        return false;
    }

    private function event(Cohorts $of, Unit $unit, What $what, int $time): void
    {
        $of->add($unit->keysOfWhat($what), 0, intdiv($time, 3_600_000), $unit->variant);
    }

    private function referred(Unit $unit, int $i, bool $isNew, Setup $setup): void
    {
        $host = Row::text($unit->rows[$i][Row::REFERRER]);
        if ($host === $unit->whats[$i]->host) {
            return;
        }
        if (isset($this->referrers[$host]) || count($this->referrers) < self::MOST_HOSTS) {
            $this->referrers[$host] ??= [0, 0];
            $this->referrers[$host][$isNew ? 1 : 0]++;
        }
        if (in_array($host, $setup->settings->sisters, true)) {
            $this->event($this->broken, $unit, $unit->whats[$i], $unit->times[$i]);
        }
    }

    /** A change that was applied, or anything received later that lies before the exposure on the same page. */
    private function disorder(Unit $unit): void
    {
        $at = $unit->exposedAt;
        if ($at === null) {
            return;
        }
        $exposure = $unit->rows[$at];
        $received = Row::received($exposure);
        for ($i = $at - 1; $i >= 0; $i--) {
            $row = $unit->rows[$i];
            [$name, $page] = [$unit->whats[$i]->name, $unit->whats[$i]->page];
            $isEffect = $name === 'change_applied'
                || ($received !== null && $row[Row::DELAY] !== '' && $name !== 'page_view' && $name !== 'exposure' && Row::received($row) > $received && Row::delay($row) < 60_000);
            if ($isEffect && $unit->times[$i] < $unit->times[$at] && $page === $unit->whats[$at]->page) {
                $this->disorder->add($unit->keys, $unit->epoch, intdiv($unit->times[$at], 3_600_000), $unit->variant);

                return;
            }
        }
    }

    /** @param int $sign see `Counts` */
    public function plus(self $other, int $sign = Counts::PLUS): void
    {
        $this->join($other, $sign);
        foreach (['sessions', 'units', 'crawlers', 'inhuman'] as $name) {
            $this->{$name} += $sign * $other->{$name};
        }
        foreach ($other->referrers as $host => [$middle, $begin]) {
            $both = [($this->referrers[$host][0] ?? 0) + $sign * $middle, ($this->referrers[$host][1] ?? 0) + $sign * $begin];
            if (max($both) > 0) {
                $this->referrers[$host] = [max(0, $both[0]), max(0, $both[1])];
            } else {
                unset($this->referrers[$host]);
            }
        }
    }
}
