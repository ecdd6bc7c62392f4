<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Reading;

use Pellix\Core\Audit\Setup;
use Pellix\Core\Audit\Sums\Cohorts;

/** What one unit (a visitor, or a user) did, in the order of time, and what follows from it for the experiment. */
final class Unit
{
    /** Whoever sends more is no person: the first so many, by time, are looked at. */
    public const MOST_EVENTS = 10_000;

    /** More page views in a minute, or events in ten seconds, than a person makes (common practice, no source). */
    private const VIEWS_A_MINUTE = 40;
    private const EVENTS_IN_TEN_SECONDS = 60;

    /** What the runtime tells of its own doings is nothing that a visitor did. */
    private const OWN = ['exposure' => true, 'change_applied' => true, 'change_missed' => true, 'change_reverted' => true, 'change_failed' => true];

    /** Its id, without what tells visitors from users. */
    public readonly string $id;

    /** @var list<list<string>> cells of its events (see `Row`), each id once, in the order of time */
    public readonly array $rows;

    /** @var list<int> their times, in milliseconds */
    public readonly array $times;

    /** @var list<list<string>> copies: events whose id came before */
    public readonly array $copies;

    public readonly bool $isCrawler;
    public readonly bool $isInhuman;
    public readonly bool $isInternal;

    /** Events beyond those that are looked at. */
    public readonly int $cut;

    /** @var list<int> positions of exposures of this experiment */
    public array $exposures = [];

    /** Position of the first exposure to a declared variant during the run, its place among the variants, and its epoch. */
    public ?int $exposedAt = null;
    public int $variant = Cohorts::NONE;
    public int $epoch = 0;

    /** @var array<int, true> places of the declared variants that it was exposed to */
    public array $met = [];

    /** Position of its first page view during the run that the rules let in, and the variant that it was to get there (null for none). */
    public ?int $viewedAt = null;
    public ?string $due = null;

    /** @var array<string, string> other experiments => variant that it was first exposed to there */
    public array $others = [];

    /** @var list<string> what it has in common with others; see `Cohorts` */
    public array $keys = [''];

    /** Device, browser, source and country. */
    public string $context = '';

    public bool $isReturning = false;

    /** @param list<string> $lines as `Intake` has put them aside, in any order */
    public function __construct(string $unit, array $lines, private readonly Setup $setup)
    {
        $this->id = substr($unit, 1);
        $rows = [];
        foreach ($lines as $line) {
            $rows[] = explode("\t", $line, 13);
        }
        if (count($rows) > 1) {
            // Copies lie together then, the first received before the others; what is the same is the same in any order.
            usort($rows, static fn (array $a, array $b): int => (int) $a[1] <=> (int) $b[1] ?: $a[3] <=> $b[3] ?: (int) $a[2] <=> (int) $b[2] ?: $a <=> $b);
        }
        $once = $times = $copies = $seen = [];
        $cut = 0;
        foreach ($rows as $row) {
            if (isset($seen[$row[3]])) {
                $copies[] = $row;
            } elseif (count($once) >= self::MOST_EVENTS) {
                $cut++;
            } else {
                $once[] = $row;
                $times[] = (int) $row[1];
            }
            $seen[$row[3]] = true;
        }
        $this->rows = $once;
        $this->times = $times;
        $this->copies = $copies;
        $this->cut = $cut;
        [$this->isCrawler, $this->isInternal] = $this->look();
        $this->isInhuman = $cut > 0 || self::isTooFast($once, $times);
        $this->finish();
    }

    /** @return array{bool, bool} whether it is a crawler, and one of one's own people */
    private function look(): array
    {
        $crawler = $internal = false;
        foreach ($this->rows as $i => $row) {
            $flags = (int) $row[7];
            if (($flags & (Row::CRAWLER | Row::INTERNAL)) !== 0) {
                $crawler = $crawler || ($flags & Row::CRAWLER) !== 0;
                $internal = $internal || ($flags & Row::INTERNAL) !== 0;
            }
            if ($row[4] === 'exposure') {
                $this->expose($i, $row);
            } elseif ($this->viewedAt === null && $row[4] === 'page_view' && ($flags & Row::ELIGIBLE) !== 0 && $this->isDuring($this->times[$i])) {
                $this->viewedAt = $i;
            }
        }

        return [$crawler, $internal];
    }

    public function isDuring(int $time): bool
    {
        return $time >= $this->setup->from && $time <= $this->setup->to;
    }

    /** @param list<string> $row */
    private function expose(int $i, array $row): void
    {
        $props = $this->props($i);
        $experiment = $props['experiment'] ?? null;
        $variant = $props['variant'] ?? null;
        $variant = is_string($variant) || is_int($variant) ? (string) $variant : '';
        if ($experiment !== $this->setup->experiment->key) {
            if (is_string($experiment) && $experiment !== '' && $variant !== '') {
                $this->others[$experiment] ??= $variant;
            }

            return;
        }
        $this->exposures[] = $i;
        $place = array_search($variant, $this->setup->variants, true);
        if ($place === false || ! $this->isDuring($this->times[$i])) {
            return;
        }
        $this->met[$place] = true;
        if ($this->exposedAt === null) {
            $this->exposedAt = $i;
            $this->variant = $place;
            $this->epoch = $this->setup->epochAt($this->times[$i]);
        }
    }

    private function finish(): void
    {
        $assigner = $this->setup->settings->isRecomputed && $this->viewedAt !== null ? $this->setup->experiment->assignerIn($this->setup->epochAt($this->times[$this->viewedAt])) : null;
        $this->due = $assigner?->variantOf($this->id);
        $at = $this->exposedAt ?? $this->viewedAt;
        if ($at === null) {
            return;
        }
        // Where it came first, and with what: an event that does not say leaves it to the others.
        $parts = explode(Row::PART, $this->rows[$at][6]) + ['', '', '', ''];
        if (in_array('', $parts, true)) {
            foreach ($this->rows as $row) {
                foreach (explode(Row::PART, $row[6]) as $i => $part) {
                    $parts[$i] = $parts[$i] === '' ? $part : $parts[$i];
                }
            }
        }
        $this->context = implode(Row::PART, $parts);
        $idle = 60_000 * $this->setup->settings->sessionMinutes;
        for ($i = 1; $i <= $at; $i++) {
            if ($this->times[$i] - $this->times[$i - 1] >= $idle) {
                $this->isReturning = true;
                break;
            }
        }
        $page = Row::text($this->rows[$at][5]);
        $this->keys = Keys::of($this->context, $page, $this->isReturning);
    }

    /** The variant that it counts for: none where it was exposed to none, or to several. */
    public function counted(): ?int
    {
        return $this->exposedAt !== null && count($this->met) === 1 ? $this->variant : null;
    }

    /** @return array<string, mixed> properties of an event, where they were kept */
    public function props(int $i): array
    {
        $extra = $this->extra($i);

        /** @var array<string, mixed> $props */
        $props = is_array($extra['props'] ?? null) ? $extra['props'] : [];

        return $props;
    }

    /** @return array<mixed> */
    public function extra(int $i): array
    {
        $json = $this->rows[$i][12] ?? '';

        return $json === '' ? [] : (array) json_decode($json, true, 64);
    }

    /** Whether an event is one of those that tell what a visitor did. */
    public static function isOwn(string $name): bool
    {
        return isset(self::OWN[$name]);
    }

    /**
     * @param list<list<string>> $rows
     * @param list<int>          $times
     */
    private static function isTooFast(array $rows, array $times): bool
    {
        $n = count($rows);
        for ($i = self::EVENTS_IN_TEN_SECONDS; $i < $n; $i++) {
            if ($times[$i] - $times[$i - self::EVENTS_IN_TEN_SECONDS] < 10_000) {
                return true;
            }
        }
        if ($n <= self::VIEWS_A_MINUTE) {
            return false;
        }
        $views = [];
        foreach ($rows as $i => $row) {
            if ($row[4] === 'page_view') {
                $views[] = $times[$i];
            }
        }
        for ($i = self::VIEWS_A_MINUTE; $i < count($views); $i++) {
            if ($views[$i] - $views[$i - self::VIEWS_A_MINUTE] < 60_000) {
                return true;
            }
        }

        return false;
    }
}
