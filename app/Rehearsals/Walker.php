<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Rehearsals\Browser\CommandFailed;
use App\Rehearsals\Browser\Tab;
use Closure;
use Facebook\WebDriver\Exception\NoSuchElementException;
use Facebook\WebDriver\Exception\WebDriverException;
use Facebook\WebDriver\Interactions\WebDriverActions;
use Facebook\WebDriver\WebDriverSelect;
use Pellix\Core\Rehearsal\Aim;
use Pellix\Core\Rehearsal\MadeUp;
use Pellix\Core\Rehearsal\Step;
use Pellix\Core\Rehearsal\StepKind;

/** Does the steps of a script on a visitor's page, as a visitor's hands would. */
final class Walker
{
    private const PATIENCE = 6.0;

    private const LOADS = 12.0;

    /** @var list<string> what was typed into fields */
    public array $typed = [];

    /** @var list<array{method: string, url: string, body: string|null}> of all pages of the walk */
    public array $requests = [];

    private readonly MadeUp $madeUp;

    /** What was said of the last step, besides that it was done. */
    private string $remark = '';

    public function __construct(private readonly Stage $stage, public Tab $tab)
    {
        $this->madeUp = new MadeUp(substr(preg_replace('/[^a-z]/', '', $stage->anyId().'qwerty') ?? 'qwerty', 0, 6));
    }

    /**
     * @return array{done: bool, words: string} whether it could be done, and if not why; or what is to be known of it
     */
    public function do(Step $step): array
    {
        $this->remark = '';
        try {
            $why = match ($step->kind) {
                StepKind::Open => $this->begin($this->stage->address((string) $step->name)),
                StepKind::Follow => $this->follow($step),
                StepKind::Click => $this->click((string) $step->element),
                StepKind::Type => $this->type((string) $step->element, (string) $step->value),
                StepKind::Choose => $this->choose((string) $step->element, (string) $step->value),
                StepKind::Submit => $this->submit((string) $step->element),
                StepKind::Scroll => $this->scroll($step),
                StepKind::Hover => $this->hover((string) $step->element),
                StepKind::Wait => $this->wait($step),
                StepKind::Back => $this->load(fn () => $this->tab->evaluate('history.back()')),
                StepKind::Reload => $this->load(fn () => $this->tab->execute('Page.reload')),
                StepKind::NewTab => $this->newTab(),
                StepKind::ClearCookies => $this->clearCookies(),
                StepKind::Consent => $this->consent($step->categories),
                StepKind::Expect => $this->expect($step),
            };
        } catch (NoSuchElementException) {
            $why = "there is no element {$step->element}";
        } catch (WebDriverException $e) {
            $why = self::inWords($e, (string) $step->element);
        } catch (CommandFailed $e) {
            $why = $e->getMessage();
        }
        $this->gather();

        return ['done' => $why === null, 'words' => $why ?? $this->remark];
    }

    /** Types made-up data into whatever a form still wants. */
    public function fillForm(string $form): void
    {
        $selector = json_encode($form, JSON_THROW_ON_ERROR);
        $fields = (array) $this->tab->evaluate("(() => { const found = document.querySelector({$selector}); const form = found && (found.form || found.closest('form') || found); return form && form.elements ? Array.from(form.elements).filter((one) => one.willValidate && !one.value && one.required && /^(?:input|textarea)$/.test(one.localName)).map((one, i) => { one.setAttribute('data-pellix-field', String(i)); return [one.type, one.name + ' ' + one.id + ' ' + one.autocomplete]; }) : []; })()", true);
        foreach ($fields as $i => [$type, $name]) {
            in_array($type, ['checkbox', 'radio', 'file', 'hidden'], true) || $this->type("[data-pellix-field=\"{$i}\"]", $this->madeUp->for((string) $type, (string) $name));
        }
        $this->tab->evaluate('document.querySelectorAll("[data-pellix-field]").forEach((one) => one.removeAttribute("data-pellix-field"))', true);
    }

    /** Takes note of what was asked for, before the next page is told apart from it. */
    public function gather(): void
    {
        foreach ($this->tab->watch->requests as $request) {
            $this->requests[$request['id'].$request['url']] = ['method' => $request['method'], 'url' => $request['url'], 'body' => $request['body']];
        }
        $this->requests = array_slice($this->requests, -2000);
    }

    /** Opens a page; of the experiment's own, what sets it off is done there, too. */
    private function begin(string $url): ?string
    {
        $why = $this->open($url);
        if ($why === null && $this->stage->experiment->pages->matches($url)) {
            $this->stage->setOff($this->tab);
        }

        return $why;
    }

    private function open(string $url): ?string
    {
        return $this->load(fn () => $this->tab->go($url));
    }

    private function load(Closure $act): ?string
    {
        $before = count($this->tab->watch->addresses);
        $act();
        $this->tab->attend(0.1);
        $settled = $this->tab->settle(self::LOADS);
        $this->stage->awaitRuntime($this->tab, 1.5);

        return match (true) {
            $this->tab->hangs => 'the page hangs',
            $this->tab->watch->noted('crash') !== null => 'the page crashed',
            ! $settled && count($this->tab->watch->addresses) === $before => 'the page was not loaded within '.self::LOADS.' s',
            default => null,
        };
    }

    /** Goes on by a link, by a form, by what visitors clicked there, and in the end by the address. */
    private function follow(Step $step): ?string
    {
        $there = json_encode($this->stage->address((string) $step->name), JSON_THROW_ON_ERROR);
        $found = $this->tab->evaluate("(() => {
            const there = new URL({$there}, location.href);
            const is = (url) => { try { const one = new URL(url, location.href); return one.origin + one.pathname.replace(/\\/\$/, '') === there.origin + there.pathname.replace(/\\/\$/, ''); } catch { return false; } };
            const seen = (one) => one.checkVisibility({ opacityProperty: true, visibilityProperty: true }) && one.getClientRects().length > 0;
            const link = Array.from(document.querySelectorAll('a[href], area[href]')).find((one) => is(one.href) && seen(one));
            const form = Array.from(document.forms).find((one) => is(one.getAttribute('action') ?? location.href));
            const one = link ?? form;
            one?.setAttribute('data-pellix-way', '');
            return link ? 'link' : form ? 'form' : '';
        })()", true);
        $before = $this->tab->address();
        if ($found === 'link') {
            $why = $this->click('[data-pellix-way]');
        } elseif ($found === 'form') {
            $why = $this->submit('[data-pellix-way]');
        } elseif ($step->element !== null && $this->tab->evaluate('!!document.querySelector('.json_encode($step->element, JSON_THROW_ON_ERROR).')', true) === true) {
            $why = $this->click($step->element);
        } else {
            $why = 'no link leads there';
        }
        $this->tab->evaluate('document.querySelector("[data-pellix-way]")?.removeAttribute("data-pellix-way")', true);
        if ($this->tab->address() !== $before) {
            return null;
        }
        $this->remark = "{$step->name} was opened by its address, since ".($why ?? 'what was clicked did not lead there');

        return $this->open($this->stage->address((string) $step->name));
    }

    private function click(string $selector): ?string
    {
        $this->await($selector);
        $element = $this->tab->element($selector);
        $this->tab->evaluate('document.querySelector('.json_encode($selector, JSON_THROW_ON_ERROR).')?.scrollIntoView({ block: "center", behavior: "instant" })', true);
        if ($this->tab->evaluate('(() => { const one = document.querySelector('.json_encode($selector, JSON_THROW_ON_ERROR).'); return !!one && !!one.form && (one.type === "submit" || one.type === "image"); })()', true) === true) {
            $this->fillForm($selector);
        }
        $element->click();

        return $this->afterwards();
    }

    private function submit(string $selector): ?string
    {
        $this->await($selector);
        $this->fillForm($selector);
        $quoted = json_encode($selector, JSON_THROW_ON_ERROR);
        $button = $this->tab->evaluate("(() => { const found = document.querySelector({$quoted}); const form = found && (found.localName === 'form' ? found : found.closest('form')); const button = form && Array.from(form.elements).find((one) => one.type === 'submit' && !one.disabled && one.getClientRects().length > 0); button?.setAttribute('data-pellix-send', ''); if (form && !button) { form.requestSubmit(); } return button ? true : !!form; })()", true);
        if ($button !== true) {
            return "{$selector} is in no form";
        }
        if ($this->tab->evaluate('!!document.querySelector("[data-pellix-send]")', true) === true) {
            $element = $this->tab->element('[data-pellix-send]');
            $this->tab->evaluate('document.querySelector("[data-pellix-send]").removeAttribute("data-pellix-send")', true);
            $element->click();
        }

        return $this->afterwards();
    }

    /** What was done may lead to another page, or do something on this one. */
    private function afterwards(): ?string
    {
        $this->tab->attend(0.1);
        $this->tab->settle(self::LOADS);
        $this->stage->awaitRuntime($this->tab, 1.5);

        return match (true) {
            $this->tab->hangs => 'the page hangs',
            $this->tab->watch->noted('crash') !== null => 'the page crashed',
            default => null,
        };
    }

    private function type(string $selector, string $text): null
    {
        $this->await($selector);
        $filled = $this->madeUp->fill($text);
        $element = $this->tab->element($selector);
        $element->clear();
        $element->sendKeys($filled);
        $this->typed[] = $filled;

        return null;
    }

    private function choose(string $selector, string $option): ?string
    {
        $this->await($selector);
        $select = new WebDriverSelect($this->tab->element($selector));
        try {
            $select->selectByValue($option);
        } catch (NoSuchElementException) {
            try {
                $select->selectByVisibleText($option);
            } catch (NoSuchElementException) {
                return "{$selector} has no choice “{$option}”";
            }
        }

        return null;
    }

    private function scroll(Step $step): ?string
    {
        if ($step->element !== null) {
            $this->await($step->element);
            $found = $this->tab->evaluate('(() => { const one = document.querySelector('.json_encode($step->element, JSON_THROW_ON_ERROR).'); one?.scrollIntoView({ block: "center", behavior: "instant" }); return !!one; })()', true);
            $this->tab->attend(0.2);

            return $found === true ? null : "there is no element {$step->element}";
        }
        $part = ((float) $step->amount) / 100;
        $this->tab->evaluate("window.scrollTo({ top: {$part} * (document.documentElement.scrollHeight - innerHeight), behavior: 'instant' })", true);
        $this->tab->attend(0.2);

        return null;
    }

    private function hover(string $selector): null
    {
        $this->await($selector);
        (new WebDriverActions($this->tab->driver()))->moveToElement($this->tab->element($selector))->perform();
        $this->tab->attend(0.2);

        return null;
    }

    private function wait(Step $step): ?string
    {
        if ($step->aim === Aim::Seconds) {
            $this->tab->attend((float) $step->amount);

            return null;
        }
        if ($step->aim === Aim::Element) {
            return $this->await((string) $step->element) ? null : "there is no element {$step->element}";
        }
        $id = $this->visitor();
        $found = $id === null ? null : $this->stage->awaitReceived($this->tab, fn (): ?true => in_array($step->name, array_map(static fn ($event): string => $event->name, $this->stage->received->events($id)), true) ? true : null, self::PATIENCE);

        return $found === null ? "no event {$step->name} has come" : null;
    }

    private function newTab(): ?string
    {
        $url = $this->tab->address();
        $tab = $this->tab->another();
        $this->stage->connect($tab);
        $this->tab = $tab;

        return $this->open($url);
    }

    private function clearCookies(): null
    {
        $url = $this->stage->page();
        foreach ($this->tab->cookies($url) as $name => $cookie) {
            $this->tab->execute('Network.deleteCookies', ['name' => $name, 'url' => $url]);
            $this->tab->execute('Network.deleteCookies', ['name' => $name, 'domain' => $cookie['domain'], 'path' => $cookie['path']]);
        }

        return null;
    }

    /** @param list<string> $categories */
    private function consent(array $categories): null
    {
        $json = json_encode($categories, JSON_THROW_ON_ERROR);
        if ($this->tab->evaluate("typeof window.pellix === 'function' && (window.pellix('consent', {$json}), true)") !== true) {
            $this->stage->give($this->tab, 'plx_consent', implode('.', $categories) ?: 'none');
        }
        $this->tab->attend(0.1);

        return null;
    }

    /** Of goals is asked by whoever walks: only they know since when. */
    private function expect(Step $step): ?string
    {
        $is = match ($step->aim) {
            Aim::Element => $this->element($step),
            Aim::Address => $this->address($step),
            Aim::Cookie => $this->cookie($step),
            Aim::Event, Aim::Tag => $this->event($step),
            default => null,
        };

        return $step->not ? ($is === null ? "there is {$step->aim?->label()} as was not to be" : null) : $is;
    }

    private function element(Step $step): ?string
    {
        $quoted = json_encode($step->element, JSON_THROW_ON_ERROR);
        if ($step->not && $step->value === null) {
            $this->tab->attend(0.3);

            return $this->tab->evaluate("Array.from(document.querySelectorAll({$quoted})).some((one) => one.checkVisibility({ opacityProperty: true, visibilityProperty: true }))", true) === true ? null : 'there is none';
        }
        if (! $this->await((string) $step->element)) {
            return "there is no element {$step->element}";
        }
        $wanted = json_encode($step->value, JSON_THROW_ON_ERROR);
        if ($step->style !== null) {
            $style = json_encode($step->style, JSON_THROW_ON_ERROR);
            $probe = "(() => { const one = document.querySelector({$quoted}); const probe = one.cloneNode(false); probe.style.setProperty({$style}, {$wanted}, 'important'); probe.removeAttribute('id'); one.parentNode?.insertBefore(probe, one); const wanted = getComputedStyle(probe).getPropertyValue({$style}); probe.remove(); const is = getComputedStyle(one).getPropertyValue({$style}); return is === wanted || is === {$wanted} ? true : is; })()";
            $is = $this->tab->await("{$probe} === true", 2.0, true) ? true : $this->tab->evaluate($probe, true);

            return $is === true ? null : "its {$step->style} is “".(is_scalar($is) ? (string) $is : '').'”';
        }
        if ($step->value === null) {
            return null;
        }
        $text = "document.querySelector({$quoted})?.textContent.replace(/\\s+/g, ' ').trim()";
        $holds = $this->tab->await("({$text}) === {$wanted}.replace(/\\s+/g, ' ').trim()", 3.0, true);

        return $holds ? null : 'its text is “'.mb_substr((string) $this->tab->evaluate($text, true), 0, 200).'”';
    }

    private function address(Step $step): ?string
    {
        $wanted = (string) $step->name;
        $is = fn (): string => str_starts_with($wanted, '/') ? (string) $this->tab->evaluate('location.pathname'.(str_contains($wanted, '?') ? ' + location.search' : '').(str_contains($wanted, '#') ? ' + location.hash' : '')) : $this->tab->address();
        for ($until = microtime(true) + 3; microtime(true) < $until; $this->tab->attend(0.1)) {
            if ($is() === $wanted) {
                return null;
            }
        }

        return "the address is {$this->tab->address()}";
    }

    private function cookie(Step $step): ?string
    {
        $cookie = $this->tab->cookies($this->tab->address())[(string) $step->name] ?? null;

        return match (true) {
            $cookie === null => "there is no cookie {$step->name}",
            $step->value !== null && $cookie['value'] !== $step->value => "its value is “{$cookie['value']}”",
            default => null,
        };
    }

    private function event(Step $step): ?string
    {
        $id = $this->visitor();
        $name = $step->aim === Aim::Tag ? 'tag_fired' : $step->name;
        $wanted = $step->aim === Aim::Tag ? ['tag' => $step->name] : $step->props;
        $last = 0;
        $probe = function () use ($id, $name, $wanted, $step, &$last): ?true {
            $found = array_filter($id === null ? [] : $this->stage->received->events($id), static fn ($event): bool => $event->name === $name && array_intersect_assoc(array_filter($event->props, is_scalar(...)), $wanted) == $wanted);
            $last = count($found);

            return $last >= ($step->times ?? 1) ? true : null;
        };
        $this->stage->awaitReceived($this->tab, $probe, $step->not ? 1.5 : self::PATIENCE);
        if ($step->times !== null && ! $step->not) {
            $this->tab->attend(0.5);
            $probe();
        }

        return match (true) {
            $last === 0 => "no {$step->aim?->value} {$step->name} has come",
            $step->times !== null && $last !== $step->times => "it has come {$last} times",
            default => null,
        };
    }

    private function visitor(): ?string
    {
        return $this->tab->cookies($this->stage->page())['plx_visitor']['value'] ?? null;
    }

    private function await(string $selector): bool
    {
        return $this->tab->await('!!document.querySelector('.json_encode($selector, JSON_THROW_ON_ERROR).')', self::PATIENCE, true);
    }

    private static function inWords(WebDriverException $e, string $element): string
    {
        $message = strtok($e->getMessage(), "\n") ?: '';

        return match (true) {
            preg_match('/Other element would receive the click: (.+)\z/', $message, $m) === 1 => "{$element} cannot be clicked: ".mb_substr($m[1], 0, 150).' lies over it',
            str_contains($message, 'element not interactable') => "{$element} cannot be used: it is not shown",
            str_contains($message, 'invalid selector') => "{$element} is no selector",
            str_contains($message, 'stale element') => "{$element} was taken away while it was used",
            default => mb_substr($message, 0, 200),
        };
    }
}
