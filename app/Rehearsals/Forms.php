<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Rehearsals\Browser\Tab;
use Pellix\Core\Rehearsal\MadeUp;

/** Fills in forms with made-up data, as somebody would who wants to send them. */
final class Forms
{
    /** @var list<string> what was typed */
    public array $typed = [];

    public function __construct(public readonly MadeUp $madeUp)
    {
    }

    /** Types into whatever the form of an element still wants. @param string $selector of the form, or of something in it */
    public function fill(Tab $tab, string $selector): void
    {
        foreach ((array) $tab->evaluate(Probe::call('form', $selector), true) as $i => $field) {
            $text = $this->madeUp->for((string) $field['type'], (string) $field['called'], (string) $field['least']);
            $this->type($tab, "[data-pellix-field=\"{$i}\"]", $field['longest'] === null ? $text : mb_substr($text, 0, (int) $field['longest']));
        }
        $tab->evaluate('document.querySelectorAll("[data-pellix-field]").forEach((one) => one.removeAttribute("data-pellix-field"))', true);
    }

    /** Types a text, with its placeholders filled in. */
    public function type(Tab $tab, string $selector, string $text): void
    {
        $filled = $this->madeUp->fill($text);
        $element = $tab->element($selector);
        $type = $element->getAttribute('type');
        if (in_array($type, ['date', 'time', 'month', 'week', 'datetime-local', 'color', 'range'], true)) {
            // What such a field takes from a keyboard hangs on the language of the browser.
            $tab->evaluate('(() => { const one = document.querySelector('.Probe::json($selector).'); one.value = '.Probe::json($filled).'; ["input", "change"].forEach((type) => one.dispatchEvent(new Event(type, { bubbles: true }))); })()', true);
        } else {
            $element->clear();
            $element->sendKeys($filled);
        }
        in_array($filled, $this->typed, true) || $this->typed[] = $filled;
    }
}
