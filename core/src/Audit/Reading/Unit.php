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

    /** Its id, without what tells visitors from users: the first letter of its key. */
    public readonly string $id;

    /** @var list<list<string>> cells of its events (see `Row`), each id once, in the order of time */
    public readonly array $rows;

    /** @var list<int> their times, in milliseconds */
    public readonly array $times;

    /** @var list<What> */
    public readonly array $whats;

    /** @var list<int> positions of those that may be a hit of a goal; and of orders */
    public array $hits = [];

    /** @var list<int> */
    public array $orders = [];

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

    /** @var array<int, array<mixed>> what was asked for of `extra()` */
    private array $extras = [];

    /** @param list<string> $lines as `Intake` has put them aside, in any order */
    public function __construct(public readonly string $key, array $lines, private readonly Setup $setup)
    {
        $this->id = substr($key, 1);
        if (isset($lines[1])) {
            // In the order of time; copies lie together, the first received before the others; what is the same is the same in any order of the lines.
            sort($lines, SORT_STRING);
        }
        $once = $kept = $whats = $copies = $seen = [];
        $cut = $marks = $i = 0;
        foreach ($lines as $line) {
            $row = explode("\t", $line, Row::CELLS);
            if (isset($seen[$row[Row::ID]])) {
                $copies[] = $row;
                continue;
            }
            $seen[$row[Row::ID]] = true;
            if ($i >= self::MOST_EVENTS) {
                $cut++;
                continue;
            }
            $once[] = $row;
            $kept[] = $time = (int) $row[Row::TIME] - Row::SINCE;
            $whats[] = $what = What::of($row[Row::WHAT]);
            $marks |= $what->flags;
            if ($what->goals !== 0) {
                $this->hits[] = $i;
            }
            if ($what->name === 'exposure') {
                $this->exposures[] = $i;
            } elseif ($what->name === 'order') {
                $this->orders[] = $i;
            } elseif ($this->viewedAt === null && ($what->flags & Row::ELIGIBLE) !== 0 && $what->name === 'page_view' && $this->isDuring($time)) {
                $this->viewedAt = $i;
            }
            $i++;
        }
        $this->rows = $once;
        $this->times = $kept;
        $this->whats = $whats;
        $this->copies = $copies;
        $this->cut = $cut;
        $this->isCrawler = ($marks & Row::CRAWLER) !== 0;
        $this->isInternal = ($marks & Row::INTERNAL) !== 0;
        $this->isInhuman = $cut > 0 || ($i > self::VIEWS_A_MINUTE && $this->isTooFast());
        if ($this->exposures !== []) {
            $all = $this->exposures;
            $this->exposures = [];
            foreach ($all as $i) {
                $this->expose($i);
            }
        }
        $this->finish();
    }

    public function isDuring(int $time): bool
    {
        return $this->setup->isDuring($time);
    }

    private function expose(int $i): void
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
            $this->epoch = $this->keptSince($variant, $this->setup->epochAt($this->times[$i]));
        }
    }

    /**
     * The epoch that gave it the variant: it may have kept one from an earlier epoch, in which its exposure was lost, and that nobody is
     * assigned to any more.
     */
    private function keptSince(string $variant, int $epoch): int
    {
        if (! $this->setup->settings->isRecomputed) {
            return $epoch;
        }
        for ($at = $epoch; $at > 0; $at--) {
            if ($this->setup->assigner($at)->variantOf($this->id) === $variant) {
                return $at;
            }
        }

        return $epoch > 0 && $this->setup->assigner(0)->variantOf($this->id) !== $variant ? $epoch : 0;
    }

    private function finish(): void
    {
        $assigner = $this->setup->settings->isRecomputed && $this->viewedAt !== null ? $this->setup->assigner($this->setup->epochAt($this->times[$this->viewedAt])) : null;
        $this->due = $assigner?->variantOf($this->id);
        $at = $this->exposedAt ?? $this->viewedAt;
        if ($at === null) {
            return;
        }
        // Where it came first, and with what: an event that does not say leaves it to the others.
        $this->context = $this->whats[$at]->context;
        $parts = $this->whats[$at]->parts;
        foreach (in_array('', $parts, true) ? $this->whats : [] as $what) {
            foreach ($what->parts as $i => $part) {
                if ($parts[$i] === '' && $part !== '') {
                    $parts[$i] = $part;
                    $this->context = implode(Row::PART, $parts);
                }
            }
        }
        $idle = 60_000 * $this->setup->settings->sessionMinutes;
        for ($i = 1; $i <= $at; $i++) {
            if ($this->times[$i] - $this->times[$i - 1] >= $idle) {
                $this->isReturning = true;
                break;
            }
        }
        $page = Row::text($this->whats[$at]->page);
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
        if (! isset($this->extras[$i])) {
            $json = $this->rows[$i][Row::EXTRA] ?? '';
            $this->extras[$i] = $json === '' ? [] : (array) json_decode($json, true, 64);
        }

        return $this->extras[$i];
    }

    /** Whether an event is one of those that tell what a visitor did. */
    public static function isOwn(string $name): bool
    {
        return isset(self::OWN[$name]);
    }

    private function isTooFast(): bool
    {
        $n = count($this->rows);
        for ($i = self::EVENTS_IN_TEN_SECONDS; $i < $n; $i++) {
            if ($this->times[$i] - $this->times[$i - self::EVENTS_IN_TEN_SECONDS] < 10_000) {
                return true;
            }
        }
        if ($n <= self::VIEWS_A_MINUTE) {
            return false;
        }
        $views = [];
        foreach ($this->whats as $i => $what) {
            if ($what->name === 'page_view') {
                $views[] = $this->times[$i];
            }
        }
        for ($i = self::VIEWS_A_MINUTE; $i < count($views); $i++) {
            if ($views[$i] - $views[$i - self::VIEWS_A_MINUTE] < 60_000) {
                return true;
            }
        }

        return false;
    }

    /** @return list<string> what an event has in common with others, beside what its unit has: its own page, and its name */
    public function keysOf(int $i): array
    {
        return $this->keysOfWhat($this->whats[$i]);
    }

    /** @return list<string> */
    public function keysOfWhat(What $what): array
    {
        return Keys::of($this->context === '' ? $what->context : $this->context, Row::text($what->page), $this->isReturning, $what->name);
    }
}
