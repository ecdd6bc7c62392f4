<?php

declare(strict_types=1);

namespace Pellix\Core\Reconcile;

use Pellix\Core\Formats\Spool;

/** What differs between matched orders, and which have no match: counted, and the first of each kind listed. */
final class OrderDifferences
{
    /** So many of each kind are listed. */
    public const LISTED = 10_000;

    public int $matched = 0;

    /** @var array<string, int> kind of difference => how many, also of those that are not listed */
    public array $counts = ['missing' => 0, 'surplus' => 0, 'value_differs' => 0, 'currency_differs' => 0, 'time_differs' => 0, 'doubled' => 0, 'outside' => 0];

    /** @var array<string, list<array<string, mixed>>> */
    public array $lists = ['missing' => [], 'surplus' => [], 'value_differs' => [], 'currency_differs' => [], 'time_differs' => [], 'doubled' => []];

    /** @var array<string, array<string, int>> day => '' => orders here */
    public array $ourDays = [];

    /** @var array<string, array<string, int>> and there */
    public array $theirDays = [];

    /** Sums of the values of matched orders. */
    public float $ours = 0.0;
    public float $theirs = 0.0;

    public Concentration $missing;
    public Concentration $surplus;

    /** @var array<string, array{int, int}> variant, where their file tells it => orders that are missing here, and others */
    public array $missingBy = [];

    /** @var array<string, array{int, int}> variant => orders that are missing there, and others */
    public array $surplusBy = [];

    /** @var array<string, array{int, int}> variant => orders of another value there, and others */
    public array $valueBy = [];

    /**
     * @param int $window milliseconds that the times of one order may differ by, beyond what the clocks do
     * @param int $shift  milliseconds that their clock is ahead of ours
     * @param int $from   first moment of our log, and the last
     */
    private function __construct(private readonly Calendar $calendar, private readonly int $window, private readonly int $shift, private readonly int $from, private readonly int $to)
    {
        $this->missing = new Concentration();
        $this->surplus = new Concentration();
    }

    /** @param int $window seconds */
    public static function of(OrderMatch $match, Calendar $calendar, int $window, int $from, int $to): self
    {
        $differences = new self($calendar, 1000 * $window, Presence::begin($match->ahead), $from, $to);
        $differences->counts['doubled'] = $match->doubled;
        $differences->lists['doubled'] = $match->twice;
        $differences->look($match->pairs, $match->left);

        return $differences;
    }

    /** Orders of days that the other side does not cover are no differences. */
    private function look(Spool $pairs, Spool $left): void
    {
        $shift = $this->shift;
        $days = ['least' => null, 'most' => null];
        foreach ([[$pairs, 1], [$left, 0]] as [$spool, $place]) {
            foreach (self::lines($spool) as $cells) {
                [$side, $row] = OrderRow::of($cells[$place === 1 ? 2 : 1]);
                if ($side === 't' && $row->time !== null) {
                    $day = $this->day($row->time - $shift);
                    $days = ['least' => min($days['least'] ?? $day, $day), 'most' => max($days['most'] ?? $day, $day)];
                }
            }
        }
        foreach (self::lines($pairs) as [, $json, $other]) {
            $this->both(OrderRow::of($json)[1], OrderRow::of($other)[1]);
        }
        foreach (self::lines($left) as [, $json]) {
            [$side, $row] = OrderRow::of($json);
            $this->alone($side, $row, $days);
        }
        foreach ($this->lists as $name => $list) {
            usort($list, static fn (array $a, array $b): int => strcmp(is_string($a['time'] ?? null) ? $a['time'] : '', is_string($b['time'] ?? null) ? $b['time'] : '') ?: strcmp(json_encode($a, JSON_THROW_ON_ERROR), json_encode($b, JSON_THROW_ON_ERROR)));
            $this->lists[$name] = $list;
        }
    }

    /** @return \Generator<int, list<string>> cells */
    private static function lines(Spool $spool): \Generator
    {
        $file = $spool->part(0);
        while (($line = fgets($file)) !== false) {
            yield explode("\t", rtrim($line, "\n"));
        }
    }

    private function both(OrderRow $own, OrderRow $their): void
    {
        $shift = $this->shift;
        $this->matched++;
        $id = $own->id === '' ? $their->id : $own->id;
        $isOther = $own->value !== null && $their->value !== null && ! $own->isSameValue($their) || $own->value === null && $their->value !== null;
        if ($isOther) {
            $this->list('value_differs', ['order_id' => $id, 'ours' => $own->value, 'theirs' => $their->value]);
        }
        if ($own->currency !== '' && $their->currency !== '' && $own->currency !== $their->currency) {
            $this->list('currency_differs', ['order_id' => $id, 'ours' => $own->currency, 'theirs' => $their->currency]);
        }
        if ($own->time !== null && $their->time !== null && abs($their->time - $shift - $own->time) > $this->window) {
            $this->list('time_differs', ['order_id' => $id, 'ours' => self::time($own->time), 'theirs' => self::time($their->time)]);
        }
        $this->ours += $own->value ?? 0.0;
        $this->theirs += $their->value ?? 0.0;
        $day = $this->day($own->time ?? (int) $their->time - $shift);
        self::add($this->ourDays, $day);
        self::add($this->theirDays, $day);
        $this->missing->add($this->partsOf($their->parts, $their->time === null ? $own->time : $their->time - $shift), false);
        $this->surplus->add($this->partsOf($own->parts, $own->time), false);
        self::count($this->missingBy, $their->variant, false);
        self::count($this->surplusBy, $own->variant, false);
        self::count($this->valueBy, $own->variant, $isOther);
    }

    /** @param array{least: string|null, most: string|null} $days */
    private function alone(string $side, OrderRow $row, array $days): void
    {
        $time = $row->time === null ? null : $row->time - ($side === 't' ? $this->shift : 0);
        $day = $time === null ? null : $this->day($time);
        $isOutside = $day !== null && ($side === 't' ? $day < $this->day($this->from) || $day > $this->day($this->to) : $days['least'] !== null && ($day < $days['least'] || $day > $days['most']));
        if ($isOutside) {
            $this->counts['outside']++;

            return;
        }
        $this->list($side === 't' ? 'missing' : 'surplus', ['order_id' => $row->id === '' ? null : $row->id, 'time' => $row->time === null ? null : self::time($row->time), 'value' => $row->value, 'currency' => $row->currency === '' ? null : $row->currency]);
        if ($side === 't') {
            $this->missing->add($this->partsOf($row->parts, $time), true);
            self::count($this->missingBy, $row->variant, true);
        } else {
            $this->surplus->add($this->partsOf($row->parts, $time), true);
            self::count($this->surplusBy, $row->variant, true);
        }
        if ($day !== null) {
            $side === 't' ? self::add($this->theirDays, $day) : self::add($this->ourDays, $day);
        }
    }

    /** @param array<string, array<string, int>> $days */
    private static function add(array &$days, string $day): void
    {
        $days[$day][''] = ($days[$day][''] ?? 0) + 1;
    }

    /** @param array<string, array{int, int}> $by */
    private static function count(array &$by, string $variant, bool $isMarked): void
    {
        if ($variant !== '') {
            $by[$variant] = [($by[$variant][0] ?? 0) + ($isMarked ? 1 : 0), ($by[$variant][1] ?? 0) + ($isMarked ? 0 : 1)];
        }
    }

    /**
     * @param array<string, string> $parts
     *
     * @return array<string, string>
     */
    private function partsOf(array $parts, ?int $time): array
    {
        if ($time !== null) {
            $at = $this->calendar->at($time);
            $parts += ['day' => $at->format('Y-m-d'), 'weekday' => strtolower($at->format('l')), 'hour' => $at->format('H')];
        }

        return $parts;
    }

    private function day(int $milliseconds): string
    {
        return $this->calendar->at($milliseconds)->format('Y-m-d');
    }

    private static function time(int $milliseconds): string
    {
        return gmdate('Y-m-d\TH:i:s', (int) floor($milliseconds / 1000)).'Z';
    }

    /** @param array<string, mixed> $one */
    public function list(string $name, array $one): void
    {
        $this->counts[$name]++;
        if (count($this->lists[$name]) < self::LISTED) {
            $this->lists[$name][] = $one;
        }
    }

    /** @return array{int, int} orders here and there, of days that both cover */
    public function total(): array
    {
        return [$this->matched + $this->counts['surplus'], $this->matched + $this->counts['missing']];
    }
}
