<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Reading;

use Pellix\Core\Audit\Setup;
use Pellix\Core\Events\CutLog;
use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Events\LogColumns;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Events\LogReader;
use Pellix\Core\Events\TrackingPlan;
use Pellix\Core\Formats\Instants;
use Pellix\Core\Formats\Spool;
use Pellix\Core\Goals\Step;
use Pellix\Core\Rules\AddressFacts;
use Pellix\Core\Rules\Rule;
use Pellix\Core\Segments\Agent;

/**
 * One piece of a log, put aside on disk by its units, and the ids of its events by the id. Whatever needs the whole event (the
 * rules of pages, audience and goals, the tracking plan) is asked here, so that later only a few cells are looked at.
 */
final class Intake
{
    /** Parts of the units, and of the ids. */
    public const PARTS = 128;
    public const ID_PARTS = 32;

    private const TOLD_EVERY = 65_536;
    /** Where so many of the lines cannot be read it is no event log. */
    private const NO_LOG = 0.95;

    private const MOST_REMEMBERED = 50_000;
    private const LONGEST_PAGE = 200;

    /** Whether a page is one of them is remembered of so many epochs. */
    private const MOST_EPOCHS = 48;

    /** Events whose properties are looked at later. */
    private const KEPT = ['exposure' => true, 'order' => true, 'change_applied' => true];

    public readonly Spool $log;
    public readonly Spool $ids;

    /** Hashes of visitors, where the units are users. */
    public readonly Spool $visitors;

    public int $lines = 0;
    public int $events = 0;
    public int $later = 0;
    public Skipped $skipped;

    private readonly Instants $instants;
    private readonly bool $isByUser;
    private readonly bool $asksAudience;
    private readonly bool $hasEpochs;
    private readonly ?Rule $internal;
    private readonly ?TrackingPlan $plan;
    private readonly int $until;

    /** @var array<string, list<array{int, Step}>> name of events => goals (by their place) and steps that look at them */
    private array $steps = [];

    /** Bit by bit, the goals of several steps; and those that take their value from a property. */
    private int $sequences = 0;
    private int $valued = 0;

    /** @var array<string, array{string, int, int}> address => page, flags, goals of page views there */
    private array $addresses = [];

    /** @var array<string, array{string, string, int}> user agent => device, browser, flags */
    private array $agents = [];

    /** @var array<string, string> name of events => the same as a cell */
    private array $names = [];

    /** @var array<string, string> referrer => its host */
    private array $referrers = [];

    /** @var array<string, bool> what was asked of the plan => whether it says no */
    private array $planned = [];

    /** @var array<string, true> */
    private readonly array $insiders;

    public function __construct(private readonly Setup $setup)
    {
        $this->log = new Spool(self::PARTS);
        $this->ids = new Spool(self::ID_PARTS);
        $this->visitors = new Spool(self::ID_PARTS);
        $this->skipped = new Skipped();
        $this->instants = new Instants();
        $this->isByUser = $setup->experiment->unit === 'user';
        $asked = array_filter([$setup->experiment->audience, ...array_map(static fn ($epoch) => $epoch->audience, $setup->experiment->epochs)]);
        $this->asksAudience = $asked !== [] && $setup->experiment->recordsTellAudience;
        $this->internal = $setup->settings->internal;
        $this->plan = $setup->plan;
        $this->until = $setup->until ?? PHP_INT_MAX;
        $this->hasEpochs = count($setup->epochs) > 1;
        $this->insiders = array_fill_keys(array_map(static fn (string $id): string => "#{$id}", $setup->settings->insiders), true);
        foreach ($setup->goals as $place => $goal) {
            foreach ($goal->steps as $step) {
                $this->steps[$step->recordedAs][] = [$place, $step];
            }
            $this->sequences |= $goal->kind === 'steps' ? 1 << $place : 0;
            $this->valued |= $goal->valueProp !== null ? 1 << $place : 0;
        }
    }

    /**
     * @param iterable<int, mixed>  $rows     line number => what the line holds, or an `InvalidLog` of why it holds nothing
     * @param callable(int): void $progress is told now and then how many lines were read
     */
    public function read(iterable $rows, callable $progress): void
    {
        foreach ($rows as $line => $row) {
            if (++$this->lines % self::TOLD_EVERY === 0) {
                $progress($this->lines);
                if ($this->skipped->lines > self::NO_LOG * $this->lines) {
                    $this->skipped->add($line, 'Nearly no line up to here is an event, so the rest is not read.');
                    $this->skipped->isCut = true;
                    break;
                }
            }
            try {
                $this->take($line, $row);
            } catch (InvalidLog $e) {
                $this->skipped->add($line, self::reason($e));
                $this->skipped->isCut = $this->skipped->isCut || $e instanceof CutLog;
            }
        }
        $this->log->flush();
        $this->ids->flush();
        $this->visitors->flush();
    }

    /** @throws InvalidLog */
    private function take(int $line, mixed $row): void
    {
        $cells = $this->cells($line, $row instanceof InvalidLog ? throw $row : $row);
        if ($cells === null) {
            return;
        }
        [$unit, $text, $id, $who, $visitor] = $cells;
        if ($this->isByUser) {
            $known = hash('xxh64', $visitor, true);
            $this->visitors->add(ord($known[7]), $known);
        }
        $this->ids->add(ord($id[15]) * 16 + ord($id[14]), $id.pack('V', $who));
        $this->log->add(crc32($unit), (strpbrk($unit, Row::MARKS) === false ? $unit : Row::cell($unit))."\t{$text}\n");
    }

    /**
     * One event as it is put aside.
     *
     * @param mixed $row what `LogReader` gives
     *
     * @return array{string, string, string, int, string}|null its unit; its cells from the time on (see `Row`), parted by tabs; a hash of its id; one of its visitor; and the visitor. Null where
     *                                                 it lies after the moment of the audit
     *
     * @throws InvalidLog
     */
    public function cells(int $line, mixed $row): ?array
    {
        if (is_array($row) && (! is_string($row['time'] ?? null) || ctype_digit($row['time']))) {
            $row['time'] = LogColumns::moment($row['time'] ?? null);
            $row['received'] = isset($row['received']) ? LogColumns::moment($row['received']) : null;
        }
        // What is surely right is not read in the careful way, which costs more than all the rest.
        if (! is_array($row) || ! is_string($id = $row['id'] ?? null) || ! is_string($visitor = $row['visitor'] ?? null) || ! is_string($name = $row['name'] ?? null)
            || ! is_string($time = $row['time'] ?? null) || ! is_string($url = $row['url'] ?? null) || $id === '' || $visitor === '' || $name === '' || $url === ''
            || strlen($id) > 200 || strlen($visitor) > 200 || strlen($name) > 200 || strlen($url) > 2000
            || (isset($row['props']) && (! is_array($row['props']) || array_is_list($row['props']) && $row['props'] !== []))
            || (isset($row['user']) && ! is_string($row['user'])) || (isset($row['referrer']) && ! is_string($row['referrer'])) || (isset($row['agent']) && ! is_string($row['agent']))) {
            $event = LogReader::event($line, $row);
            [$id, $visitor, $name, $url, $time] = [$event->id, $event->visitor, $event->name, $event->url, is_array($row) && is_string($row['time'] ?? null) ? $row['time'] : ''];
        }
        $micros = $this->instants->of($time) ?? throw new InvalidLog('A time in RFC 3339 is needed, such as "2026-03-02T14:05:00Z", or seconds or milliseconds since 1970; where times are written in another way or do not say their zone, a mapping tells (--propose-map).', "{$line}.time");
        $at = intdiv($micros - ($micros < 0 ? 999 : 0), 1000);
        if ($at > $this->until) {
            $this->later++;

            return null;
        }
        $this->events++;
        /** @var array{props?: array<mixed>|null, agent?: string, referrer?: string, received?: mixed, user?: string} $row now that it was looked at */
        $props = $row['props'] ?? [];
        $agent = ($row['agent'] ?? '') === '' ? null : substr($row['agent'], 0, 1000);
        [$device, $browser, $flags] = $agent === null ? ['', '', 0] : ($this->agents[$agent] ??= $this->agent($agent));
        [$page, $onPage, $goals] = $this->addresses[$url] ??= $this->address($url);
        $epoch = $this->hasEpochs ? $this->setup->epochAt($at) : 0;
        $flags |= ($epoch < self::MOST_EPOCHS ? ($onPage >> 8 & 1 << $epoch) !== 0 : $this->isPage($this->setup->experiment->epochs[$epoch]->pages ?? $this->setup->experiment->pages, $url)) ? Row::ON_PAGE : 0;
        $flags |= $onPage & Row::GOAL_PAGE;
        $isView = $name === 'page_view';
        if (! $isView) {
            $goals = 0;
        }
        $event = null;
        if (isset($this->steps[$name])) {
            foreach ($this->steps[$name] as [$place, $step]) {
                if (! $isView || $step->kind->value !== 'page') {
                    $event ??= self::event($row, $id, $visitor, $name, $url);
                    $goals |= $step->matches($event) ? 1 << $place : 0;
                }
            }
        }
        if ($isView || $name === 'exposure') {
            $flags |= ! $this->asksAudience || $this->isInAudience($epoch, $event ?? self::event($row, $id, $visitor, $name, $url)) ? Row::IN_AUDIENCE : 0;
            $flags |= ($flags & (Row::ON_PAGE | Row::IN_AUDIENCE)) === (Row::ON_PAGE | Row::IN_AUDIENCE) ? Row::ELIGIBLE : 0;
        }
        if (isset($props['internal']) && $props['internal'] === true || ($this->insiders !== [] && isset($this->insiders["#{$visitor}"]))
            || ($this->internal !== null && $this->internal->matches(($event ?? self::event($row, $id, $visitor, $name, $url))->facts()))) {
            $flags |= Row::INTERNAL;
        }
        if (str_contains($url, '@') || str_contains($url, '%') || self::mayBePersonal($props)) {
            $flags |= self::isPersonal($url, $props) ? Row::PERSONAL : 0;
        }
        if ($this->plan !== null && $this->isOffPlan($name, $props)) {
            $flags |= Row::OFF_PLAN;
        }
        $received = isset($row['received']) && is_string($row['received']) && $row['received'] !== '' ? $this->instants->of($row['received']) : null;
        $user = isset($row['user']) && $row['user'] !== '' ? $row['user'] : '';
        $unit = $this->isByUser && $user !== '' ? "u{$user}" : "v{$visitor}";
        $hash = hash('xxh64', $id);
        $who = crc32($visitor);
        $extra = '';
        if (isset(self::KEPT[$name]) || ($goals !== 0 && (! $isView || ($goals & ($this->sequences | $this->valued)) !== 0))) {
            $extra = self::json(($goals & $this->sequences) !== 0 ? ['props' => $props, 'url' => $url, 'referrer' => $row['referrer'] ?? null, 'agent' => $agent] : ['props' => $props]);
        }
        $referrer = '';
        if ($isView && ($row['referrer'] ?? '') !== '') {
            $referrer = $this->referrers[$row['referrer']] ??= $this->host($row['referrer']);
        }
        return [$unit, "{$at}\t".($received === null ? '' : (string) intdiv($received - $micros, 1000))."\t{$hash}\t".($this->names[$name] ??= $this->name($name))
            .Row::BREAK.$page.Row::BREAK.(isset($props['device']) ? self::context($props['device'], $device) : $device).Row::PART.(isset($props['browser']) ? self::context($props['browser'], $browser) : $browser)
            .Row::PART.(isset($props['source']) ? self::context($props['source'], '') : '').Row::PART.(isset($props['country']) ? self::context($props['country'], '') : '')
            ."\t{$flags}\t{$goals}\t{$referrer}\t".($user === '' ? '' : Row::cell($user))."\t{$extra}", $hash, $who, $visitor];
    }

    private static function reason(InvalidLog $e): string
    {
        [, $field] = explode('.', $e->field, 2) + [1 => ''];

        return ($field === '' ? '' : "Field {$field}: ").$e->getMessage();
    }

    /** @param array<mixed> $row */
    private static function event(array $row, string $id, string $visitor, string $name, string $url): LogEvent
    {
        /** @var \DateTimeImmutable|null $noTime */
        static $noTime = null;
        $noTime ??= new \DateTimeImmutable('@0');
        $props = $row['props'] ?? [];
        $text = static fn (mixed $value): ?string => is_string($value) && $value !== '' ? $value : null;

        /** @var array<string, mixed> $props */
        return new LogEvent($id, $visitor, $noTime, $name, $url, $props, $text($row['referrer'] ?? null), $text($row['agent'] ?? null), $text($row['user'] ?? null));
    }

    /** @return array{string, string, int} */
    private function agent(string $agent): array
    {
        if (count($this->agents) >= self::MOST_REMEMBERED) {
            $this->agents = [];
        }

        return [Agent::device($agent), Agent::browser($agent), Agent::isCrawler($agent) ? Row::CRAWLER : 0];
    }

    /**
     * @return array{string, int, int} page; whether the page rule matches, from bit 8 on by epoch, and whether the primary goal
     *                                 can be reached there; goals of page views there
     */
    private function address(string $url): array
    {
        if (count($this->addresses) >= self::MOST_REMEMBERED) {
            $this->addresses = [];
        }
        $facts = AddressFacts::of($url);
        $page = $facts->host === '' ? $url : $facts->host.$facts->path;
        $flags = 0;
        foreach ($this->setup->experiment->epochs ?: [null] as $i => $epoch) {
            $flags |= $i < self::MOST_EPOCHS && $this->isPage($epoch->pages ?? $this->setup->experiment->pages, $url) ? 1 << (8 + $i) : 0;
        }
        $goals = 0;
        foreach ($this->steps['page_view'] ?? [] as [$place, $step]) {
            $goals |= $step->kind->value === 'page' && $step->pages?->matches($url) === true ? 1 << $place : 0;
        }
        $steps = $this->setup->primary()->steps ?? [];
        $last = end($steps);
        $flags |= $last !== false && $last->pages !== null && $last->kind->value !== 'page' && $last->pages->matches($url) ? Row::GOAL_PAGE : 0;

        return [Row::cell(mb_strcut(mb_scrub(str_replace([Row::PART, Row::BREAK], '', $page), 'UTF-8'), 0, self::LONGEST_PAGE, 'UTF-8')), $flags, $goals];
    }

    /** Variants of a redirect test are exposed where they lead to. */
    private function isPage(\Pellix\Core\Rules\PageRule $rule, string $url): bool
    {
        if ($rule->matches($url)) {
            return true;
        }
        $facts = AddressFacts::of($url);
        foreach ($this->setup->experiment->variants as $variant) {
            if ($variant->target !== null) {
                $target = AddressFacts::of($variant->target);
                if (($target->host === '' && $facts->path === strtok($variant->target, '?#')) || ($target->host !== '' && $target->host === $facts->host && $target->path === $facts->path)) {
                    return true;
                }
            }
        }

        return false;
    }

    private function isInAudience(int $epoch, LogEvent $event): bool
    {
        $audience = $this->setup->experiment->epochs[$epoch]->audience ?? $this->setup->experiment->audience;

        // What the log does not tell rules nobody out.
        return $audience === null || $audience->judge($event->facts(), $event->facts()->isKnown(...)) !== false;
    }

    /** @param array<mixed> $props */
    private static function mayBePersonal(array $props): bool
    {
        foreach ($props as $value) {
            if (is_string($value) ? strpbrk($value, '@+') !== false : is_array($value)) {
                return true;
            }
        }

        return false;
    }

    /**
     * Addresses of e-mail (RFC 5322, 3.4.1, as they are mostly written) and telephone numbers (E.164 with its plus).
     *
     * @param array<mixed> $props
     */
    private static function isPersonal(string $url, array $props): bool
    {
        $text = str_contains($url, '@') || str_contains($url, '%40') || str_contains($url, '%2B') ? rawurldecode($url) : '';
        foreach ($props as $value) {
            if (is_string($value) && (str_contains($value, '@') || str_contains($value, '+'))) {
                $text .= " {$value}";
            } elseif (is_array($value)) {
                $text .= ' '.json_encode($value, JSON_PARTIAL_OUTPUT_ON_ERROR | JSON_UNESCAPED_SLASHES, 8);
            }
        }

        return $text !== '' && preg_match('/[A-Za-z0-9._+-]{1,64}@[A-Za-z0-9-]{1,63}(?:\.[A-Za-z0-9-]{1,63})*\.[A-Za-z]{2,24}\b|(?<![\w+])\+[1-9]\d{1,2}[ ()\/-]{0,2}\d(?:[ ()\/-]?\d){6,11}(?!\d)/', substr($text, 0, 8000)) === 1;
    }

    /** @param array<mixed> $props */
    private function isOffPlan(string $name, array $props): bool
    {
        $key = "{$name} ".self::json($props);
        if (! isset($this->planned[$key])) {
            if (count($this->planned) >= self::MOST_REMEMBERED) {
                $this->planned = [];
            }
            /** @var array<string, mixed> $props */
            $this->planned[$key] = $this->plan?->judge($name, $props)['verdict'] !== 'conforms';
        }

        return $this->planned[$key];
    }

    private function name(string $name): string
    {
        if (count($this->names) >= self::MOST_REMEMBERED) {
            $this->names = [];
        }

        return Row::cell($name);
    }

    private function host(string $referrer): string
    {
        if (count($this->referrers) >= self::MOST_REMEMBERED) {
            $this->referrers = [];
        }

        return Row::cell(substr(AddressFacts::of($referrer)->host, 0, 255));
    }

    private static function context(mixed $value, string $otherwise): string
    {
        if (! is_string($value) || $value === '') {
            return $otherwise;
        }
        $value = strlen($value) > 40 ? mb_strcut($value, 0, 40, 'UTF-8') : $value;

        return strpbrk($value, "\t\n\\\x1f\x1e") === false ? $value : Row::cell(str_replace([Row::PART, Row::BREAK], '', $value));
    }

    /** @param array<mixed> $value */
    private static function json(array $value): string
    {
        $json = json_encode($value, JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_PRESERVE_ZERO_FRACTION);
        if ($json === false) {
            // A number that is too large for one, such as 1e999: none that could be added up.
            array_walk_recursive($value, static function (mixed &$one): void {
                $one = is_float($one) && ! is_finite($one) ? 'no number' : $one;
            });
            $json = json_encode($value, JSON_PARTIAL_OUTPUT_ON_ERROR);
        }

        return (string) $json;
    }
}
