<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Reading;

use Pellix\Core\Audit\Exclusions\Exclusions;
use Pellix\Core\Audit\Setup;
use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Events\LogColumns;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Events\LogReader;
use Pellix\Core\Events\PlainRow;
use Pellix\Core\Events\TrackingPlan;
use Pellix\Core\Formats\Instants;
use Pellix\Core\Formats\PlainJson;
use Pellix\Core\Goals\Step;
use Pellix\Core\Rules\AddressFacts;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Rules\Rule;
use Pellix\Core\Segments\Agent;

/**
 * Makes the few cells of an event that are looked at later. Whatever needs the whole event (the rules of pages, audience and goals, the
 * tracking plan) is asked here.
 */
final class Cells
{
    private const MOST_REMEMBERED = 50_000;
    private const LONGEST_PAGE = 200;

    /** Whether a page is one of them is remembered of so many epochs. */
    private const MOST_EPOCHS = 48;

    /** Events whose properties are looked at later, beside those that name an order. */
    private const KEPT = ['exposure' => true, 'order' => true, 'change_applied' => true];

    /** Events that were made, and those after the moment of the audit. */
    public int $events = 0;
    public int $later = 0;

    /** Of all events, whatever their order: eight bytes. */
    public string $fingerprint = "\0\0\0\0\0\0\0\0";

    private readonly Instants $instants;
    private readonly bool $isByUser;
    private readonly bool $asksAudience;
    private readonly bool $hasEpochs;
    private readonly ?Rule $internal;
    private readonly ?TrackingPlan $plan;
    private readonly Exclusions $exclusions;
    private readonly int $until;

    /** @var array<string, list<array{int, Step}>> name of events => goals (by their place) and steps that look at them */
    private array $steps = [];

    /** @var list<array{int, Step}> the same of steps that the address of a page alone decides on */
    private array $pages = [];

    /** Bit by bit, the goals of several steps; and those that take their value from a property. */
    private int $sequences = 0;
    private int $valued = 0;

    /** @var array<string, array{string, int, int}> address => page, flags, goals of page views there */
    private array $addresses = [];

    /** @var array<string, array{string, string, int}> user agent => device, browser, flags */
    private array $agents = [];

    /** @var array<string, array<string, array<string, array{string, int}>>> agent, source, country => context, flags */
    private array $contexts = [];
    private int $remembered = 0;

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
        $this->instants = new Instants();
        $this->isByUser = $setup->experiment->unit === 'user';
        $asked = array_filter([$setup->experiment->audience, ...array_map(static fn ($epoch) => $epoch->audience, $setup->experiment->epochs)]);
        $this->asksAudience = $asked !== [] && $setup->experiment->recordsTellAudience;
        $this->internal = $setup->settings->internal;
        $this->plan = $setup->plan;
        $this->exclusions = $setup->settings->exclusions;
        $this->until = $setup->until ?? PHP_INT_MAX;
        $this->hasEpochs = count($setup->epochs) > 1;
        $this->insiders = array_fill_keys(array_map(static fn (string $id): string => "#{$id}", $setup->settings->insiders), true);
        foreach ($setup->goals as $place => $goal) {
            foreach ($goal->steps as $step) {
                if ($step->kind->value === 'page') {
                    $this->pages[] = [$place, $step];
                } else {
                    $this->steps[$step->recordedAs][] = [$place, $step];
                }
            }
            $this->sequences |= $goal->kind === 'steps' ? 1 << $place : 0;
            $this->valued |= $goal->valueProp !== null ? 1 << $place : 0;
        }
    }

    /**
     * One event as it is put aside.
     *
     * @param mixed $row what `LogReader` gives
     *
     * @return array{string, string, string, string}|null its unit; its cells (see `Row`), parted by tabs; eight bytes of a hash of its id; and the
     *                                            visitor. Null where it lies after the moment of the audit
     *
     * @throws InvalidLog
     */
    public function of(int $line, mixed $row): ?array
    {
        $micros = PlainRow::is($row) ? $this->instants->of($row['time']) : null;
        if ($micros === null) {
            if (is_array($row)) {
                $row['time'] = LogColumns::moment($row['time'] ?? null);
                $row['received'] = isset($row['received']) ? LogColumns::moment($row['received']) : null;
            }
            PlainRow::is($row) || LogReader::event($line, $row);
            /** @var array{id: string, visitor: string, name: string, url: string, time: string} $row now that it was looked at */
            $micros = $this->instants->of($row['time']);
        }
        ['id' => $id, 'visitor' => $visitor, 'name' => $name, 'url' => $url] = $row;
        $micros ?? throw new InvalidLog('A time in RFC 3339 is needed, such as "2026-03-02T14:05:00Z", or seconds or milliseconds since 1970; where times are written in another way or do not say their zone, a mapping tells (--propose-map).', "{$line}.time");
        $at = intdiv($micros - ($micros < 0 ? 999 : 0), 1000);
        if ($at > $this->until) {
            $this->later++;

            return null;
        }
        $this->events++;
        /** @var array{props?: array<mixed>|null, agent?: string, referrer?: string, received?: mixed, user?: string} $row now that it was looked at */
        $props = $row['props'] ?? [];
        $agent = ($row['agent'] ?? '') === '' ? null : substr($row['agent'], 0, 1000);
        [$context, $flags] = $this->context($agent ?? '', $props);
        [$page, $onPage, $goals] = $this->addresses[$url] ??= $this->address($url);
        $epoch = $this->hasEpochs ? $this->setup->epochAt($at) : 0;
        $flags |= ($epoch < self::MOST_EPOCHS ? ($onPage >> 8 & 1 << $epoch) !== 0 : $this->isPage($this->setup->experiment->epochs[$epoch]->pages ?? $this->setup->experiment->pages, $url)) ? Row::ON_PAGE : 0;
        $flags |= $onPage & (Row::GOAL_PAGE | Row::PERSONAL);
        $isView = $name === 'page_view';
        if (! $isView) {
            $goals = 0;
        }
        $event = null;
        if (isset($this->steps[$name])) {
            $event = self::event($row, $id, $visitor, $name, $url);
            foreach ($this->steps[$name] as [$place, $step]) {
                $goals |= $step->matches($event) ? 1 << $place : 0;
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
        $marks = $this->exclusions->isNone() ? 0 : $this->exclusions->marks($at, $visitor, $flags, static fn () => ($event ?? self::event($row, $id, $visitor, $name, $url))->facts());
        if ($props !== [] && Personal::isInProps($props)) {
            $flags |= Row::PERSONAL;
        }
        if ($this->plan !== null && $this->isOffPlan($name, $props)) {
            $flags |= Row::OFF_PLAN;
        }
        $received = isset($row['received']) && is_string($row['received']) && $row['received'] !== '' ? $this->instants->of($row['received']) : null;
        $user = isset($row['user']) && $row['user'] !== '' ? $row['user'] : '';
        $unit = $this->isByUser && $user !== '' ? "u{$user}" : "v{$visitor}";
        $hash = hash('xxh64', $id, true);
        $extra = '';
        if (isset(self::KEPT[$name]) || ($name === 'engaged' && $this->setup->readsVisits) || isset($props['order_id']) || ($goals !== 0 && (! $isView || ($goals & ($this->sequences | $this->valued)) !== 0))) {
            // In one order, whatever that of the log: the same events have the same fingerprint.
            ksort($props);
            $extra = PlainJson::of(($goals & $this->sequences) !== 0 ? ['props' => $props, 'url' => $url, 'referrer' => $row['referrer'] ?? null, 'agent' => $agent] : ['props' => $props]);
        }
        $referrer = '';
        if ($isView && ($row['referrer'] ?? '') !== '') {
            $referrer = $this->referrers[$row['referrer']] ??= $this->host($row['referrer']);
        }

        $before = (strpbrk($unit, Row::MARKS) === false ? $unit : Row::cell($unit))."\t".($at + Row::SINCE)."\t".bin2hex($hash)."\t".Row::delayCell($received === null ? null : intdiv($received - $micros, 1000))
            ."\t".($this->names[$name] ??= $this->name($name)).Row::BREAK.$page.Row::BREAK.$context.Row::BREAK;
        $after = Row::BREAK.$goals."\t{$referrer}\t".($user === '' ? '' : Row::cell($user))."\t{$extra}";
        $text = $before.$flags.$after;
        $this->fingerprint ^= hash('xxh64', $text, true);
        if ($marks !== 0) {
            // What is left out makes no other log of it: the fingerprint is that of the events alone.
            $text = $before.($flags | $marks).$after;
        }

        return [$unit, $text, $hash, $visitor];
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
     * @return array{string, int, int} page; whether the page rule matches, from bit 8 on by epoch, whether the primary goal can be
     *                                 reached there, and whether it has personal data in it; goals of page views there
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
        foreach ($this->pages as [$place, $step]) {
            $goals |= $step->pages?->matches($url) === true ? 1 << $place : 0;
        }
        $flags |= Personal::isInAddress($url) ? Row::PERSONAL : 0;
        $steps = $this->setup->primary()->steps ?? [];
        $last = end($steps);
        $flags |= $last !== false && $last->pages !== null && $last->kind->value !== 'page' && $last->pages->matches($url) ? Row::GOAL_PAGE : 0;

        return [Row::cell(mb_strcut(mb_scrub(str_replace([Row::PART, Row::BREAK], '', $page), 'UTF-8'), 0, self::LONGEST_PAGE, 'UTF-8')), $flags, $goals];
    }

    /** Variants of a redirect test are exposed where they lead to. */
    private function isPage(PageRule $rule, string $url): bool
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
    private function isOffPlan(string $name, array $props): bool
    {
        $key = "{$name} ".PlainJson::of($props);
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

    /**
     * What its properties say of device, browser, source and country, else its agent of the first two; and flags of the agent.
     *
     * @param array<mixed> $props
     *
     * @return array{string, int}
     */
    private function context(string $agent, array $props): array
    {
        $source = $props['source'] ?? '';
        $country = $props['country'] ?? '';
        if (isset($props['device']) || isset($props['browser']) || ! is_string($source) || ! is_string($country)) {
            return $this->contextOf($agent, $props);
        }

        // Nearly always these alone tell, and the same few come again and again.
        return $this->contexts[$agent][$source][$country] ?? $this->remembered($agent, $source, $country);
    }

    /** @return array{string, int} */
    private function remembered(string $agent, string $source, string $country): array
    {
        if (++$this->remembered > self::MOST_REMEMBERED) {
            $this->contexts = [];
            $this->remembered = 1;
        }

        return $this->contexts[$agent][$source][$country] = $this->contextOf($agent, ['source' => $source, 'country' => $country]);
    }

    /**
     * @param array<mixed> $props
     *
     * @return array{string, int}
     */
    private function contextOf(string $agent, array $props): array
    {
        [$device, $browser, $flags] = $agent === '' ? ['', '', 0] : ($this->agents[$agent] ??= $this->agent($agent));

        return [implode(Row::PART, [self::part($props['device'] ?? null, $device), self::part($props['browser'] ?? null, $browser), self::part($props['source'] ?? null, ''), self::part($props['country'] ?? null, '')]), $flags];
    }

    private static function part(mixed $value, string $otherwise): string
    {
        if (! is_string($value) || $value === '') {
            return $otherwise;
        }
        $value = strlen($value) > 40 ? mb_strcut($value, 0, 40, 'UTF-8') : $value;

        return strpbrk($value, "\t\n\\\x1f\x1e") === false ? $value : Row::cell(str_replace([Row::PART, Row::BREAK], '', $value));
    }
}
