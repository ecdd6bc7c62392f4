<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Rehearsals\Browser\Tab;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Rehearsal\Aim;
use Pellix\Core\Rehearsal\Step;

/** Whether what a step waits for or expects is there: an element, an address, a cookie, or an event that has arrived. */
final readonly class Expecting
{
    public const PATIENCE = 6.0;

    private const NOTHING_FOR = 1.5;

    public function __construct(private Stage $stage)
    {
    }

    /** @return string|null why it is not there; null where it is. Of goals is asked by whoever walks: only they know since when. */
    public function expect(Tab $tab, Step $step): ?string
    {
        $is = match ($step->aim) {
            Aim::Element => $this->element($tab, $step),
            Aim::Address => $this->address($tab, $step),
            Aim::Cookie => $this->cookie($tab, $step),
            Aim::Event, Aim::Tag => $this->event($tab, $step),
            default => null,
        };

        return $step->not ? ($is === null ? "there is {$step->aim?->label()} as was not to be" : null) : $is;
    }

    public function wait(Tab $tab, Step $step): ?string
    {
        if ($step->aim === Aim::Seconds) {
            $tab->attend((float) $step->amount);

            return null;
        }
        if ($step->aim === Aim::Element) {
            return $this->await($tab, (string) $step->element) ? null : "there is no element {$step->element}";
        }
        $id = $this->visitor($tab);
        $found = $id === null ? null : $this->stage->awaitReceived($tab, fn (): ?true => in_array($step->name, array_map(static fn (LogEvent $event): string => $event->name, $this->stage->received->events($id)), true) ? true : null, self::PATIENCE);

        return $found === null ? "no event {$step->name} has come" : null;
    }

    public function await(Tab $tab, string $selector): bool
    {
        return $tab->await('!!document.querySelector('.Probe::json($selector).')', self::PATIENCE, true);
    }

    private function element(Tab $tab, Step $step): ?string
    {
        $quoted = Probe::json($step->element);
        if ($step->not && $step->value === null) {
            $tab->attend(0.3);

            return $tab->evaluate("Array.from(document.querySelectorAll({$quoted})).some((one) => one.checkVisibility({ opacityProperty: true, visibilityProperty: true }))", true) === true ? null : 'there is none';
        }
        if (! $this->await($tab, (string) $step->element)) {
            return "there is no element {$step->element}";
        }
        $wanted = Probe::json($step->value);
        if ($step->style !== null) {
            $style = Probe::json($step->style);
            $probe = "(() => { const one = document.querySelector({$quoted}); const probe = one.cloneNode(false); probe.style.setProperty({$style}, {$wanted}, 'important'); probe.removeAttribute('id'); one.parentNode?.insertBefore(probe, one); const wanted = getComputedStyle(probe).getPropertyValue({$style}); probe.remove(); const is = getComputedStyle(one).getPropertyValue({$style}); return is === wanted || is === {$wanted} ? true : is; })()";
            $is = $tab->await("{$probe} === true", 2.0, true) ? true : $tab->evaluate($probe, true);

            return $is === true ? null : "its {$step->style} is “".(is_scalar($is) ? (string) $is : '').'”';
        }
        if ($step->value === null) {
            return null;
        }
        $text = "document.querySelector({$quoted})?.textContent.replace(/\\s+/g, ' ').trim()";
        $holds = $tab->await("({$text}) === {$wanted}.replace(/\\s+/g, ' ').trim()", 3.0, true);

        return $holds ? null : 'its text is “'.mb_substr((string) $tab->evaluate($text, true), 0, 200).'”';
    }

    private function address(Tab $tab, Step $step): ?string
    {
        $wanted = (string) $step->name;
        $is = static fn (): string => str_starts_with($wanted, '/') ? (string) $tab->evaluate('location.pathname'.(str_contains($wanted, '?') ? ' + location.search' : '').(str_contains($wanted, '#') ? ' + location.hash' : '')) : $tab->address();
        for ($until = microtime(true) + 3; microtime(true) < $until; $tab->attend(0.1)) {
            if ($is() === $wanted) {
                return null;
            }
        }

        return "the address is {$tab->address()}";
    }

    private function cookie(Tab $tab, Step $step): ?string
    {
        $cookie = $tab->cookies($tab->address())[(string) $step->name] ?? null;

        return match (true) {
            $cookie === null => "there is no cookie {$step->name}",
            $step->value !== null && $cookie['value'] !== $step->value => "its value is “{$cookie['value']}”",
            default => null,
        };
    }

    private function event(Tab $tab, Step $step): ?string
    {
        $id = $this->visitor($tab);
        $name = $step->aim === Aim::Tag ? 'tag_fired' : $step->name;
        $wanted = $step->aim === Aim::Tag ? ['tag' => $step->name] : $step->props;
        $last = 0;
        $probe = function () use ($id, $name, $wanted, $step, &$last): ?true {
            $found = array_filter($id === null ? [] : $this->stage->received->events($id), static fn (LogEvent $event): bool => $event->name === $name && array_intersect_assoc(array_filter($event->props, is_scalar(...)), $wanted) == $wanted);
            $last = count($found);

            return $last >= ($step->times ?? 1) ? true : null;
        };
        $this->stage->awaitReceived($tab, $probe, $step->not ? self::NOTHING_FOR : self::PATIENCE);
        if ($step->times !== null && ! $step->not) {
            $tab->attend(0.5);
            $probe();
        }

        return match (true) {
            $last === 0 => "no {$step->aim?->value} {$step->name} has come",
            $step->times !== null && $last !== $step->times => "it has come {$last} times",
            default => null,
        };
    }

    private function visitor(Tab $tab): ?string
    {
        return $tab->cookies($this->stage->page())['plx_visitor']['value'] ?? null;
    }
}
