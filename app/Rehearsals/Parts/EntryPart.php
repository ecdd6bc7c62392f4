<?php

declare(strict_types=1);

namespace App\Rehearsals\Parts;

use App\Rehearsals\Outcome;
use App\Rehearsals\Probe;
use App\Rehearsals\Stage;
use App\Rehearsals\Visitor;
use Pellix\Core\Chain\Link;
use Pellix\Core\Experiments\EntryTrace;
use Pellix\Core\Rehearsal\Cast;
use Pellix\Core\Rehearsal\CheckCode;
use Pellix\Core\Rehearsal\Finding;
use Pellix\Core\Rehearsal\Guest;
use Pellix\Core\Rehearsal\Screen;
use Pellix\Core\Wiring\Findings\Severity;

/** Whether those enter who should, and nobody else: one visitor for each condition of the audience, with whom exactly that one fails. */
final readonly class EntryPart implements Part
{
    private const MOST_GUESTS = 12;

    /** So many things are pressed that look like a yes. */
    private const MOST_PRESSED = 6;

    /** So long is waited for an exposure that is to come, and for one that is not. */
    private const PATIENCE = 4.0;
    private const QUIET = 1.2;

    public function play(Stage $stage, ?string $variant): Outcome
    {
        $outcome = new Outcome();
        if (! $stage->runs()) {
            return $outcome;
        }
        if ($stage->site->settings()->asksConsent) {
            $stage->say('Who enters: is consent ever given?');
            $this->consent($stage, $outcome);
        }
        if ($stage->guest === null) {
            $outcome->found(new Finding(CheckCode::EntryRefused, 'Nobody could be made who belongs to the audience and is on a page of the experiment.', 'The page rule and the audience ask for something that no browser here can be, or for two things at once.', 'Look through both rules; what only real visitors can have is not rehearsed.'));

            return $outcome;
        }
        if ($stage->screens() === []) {
            $outcome->found(new Finding(CheckCode::EntryRefused, 'What variants look like was not looked at: nobody of the audience is on the screens that were asked for.', 'The audience asks for the device '.($stage->guest->made['device'] ?? '').'.', 'Rehearse it on that screen, too.', evidence: ['step' => 'screens'], severity: Severity::Warning));
        }
        $stage->say('Who enters: somebody of the audience');
        $this->enters($stage, $outcome);
        foreach (array_slice(Cast::refused($stage->pages[0], $stage->experiment->pages, $stage->experiment->audience), 0, self::MOST_GUESTS) as $guest) {
            $stage->say("Who enters: with whom fails {$guest->fails}");
            $this->refused($stage, $outcome, $guest);
        }

        return $outcome;
    }

    private function enters(Stage $stage, Outcome $outcome): void
    {
        $visitor = $stage->visitors->make($this->anyVariant($stage), $stage->screen());
        $stage->visitors->open($visitor);
        $visitor->tab->settle();
        if (! $stage->awaitRuntime($visitor->tab, 3.0)) {
            // What keeps the runtime from running is told elsewhere.
            $visitor->leave();

            return;
        }
        $stage->visitors->setOff($visitor->tab);
        $entered = $stage->awaitReceived($visitor->tab, fn (): ?true => $this->exposed($stage, $visitor) ? true : null, self::PATIENCE);
        if ($entered === null) {
            $outcome->found(new Finding(CheckCode::EntryRefused, 'Somebody who belongs to the audience does not enter.', $this->trace($stage, $stage->guest), 'See whether the page says what the rule asks for by the time the snippet runs, and what the trigger waits for.', evidence: ['step' => 'enters', 'made' => $stage->guest->made ?? [], 'url' => $stage->page()]));
            $stage->evidence($visitor->tab, 'entry');
        } else {
            $outcome->proven(Link::Entry, 'Somebody who belongs to the audience enters.');
        }
        $visitor->leave();
    }

    private function refused(Stage $stage, Outcome $outcome, Guest $guest): void
    {
        $device = $guest->made['device'] ?? null;
        $visitor = $stage->visitors->make($this->anyVariant($stage), is_string($device) ? (Screen::tryFrom($device) ?? $stage->screen()) : $stage->screen(), null, $guest);
        $stage->visitors->open($visitor, $guest);
        $visitor->tab->settle();
        $stage->awaitRuntime($visitor->tab, 3.0);
        $stage->visitors->setOff($visitor->tab);
        $visitor->tab->attend(self::QUIET);
        if ($this->exposed($stage, $visitor)) {
            $outcome->found(new Finding(CheckCode::EntryGranted, "Somebody enters who does not belong to the audience: {$guest->fails}.", $this->trace($stage, $guest), 'See whether the page itself says so of every visitor, such as by a cookie or the data layer.', evidence: ['step' => (string) $guest->fails, 'made' => $guest->made, 'url' => $guest->url]));
            $stage->evidence($visitor->tab, 'entry-let-in');
        } else {
            $outcome->proven(Link::Entry, "Whoever lacks one condition does not enter: {$guest->fails}.");
        }
        $visitor->leave();
    }

    private function anyVariant(Stage $stage): string
    {
        foreach ($stage->experiment->variants as $variant) {
            if ($variant->variant->weight > 0 && $variant->target === null) {
                return $variant->variant->key;
            }
        }

        return $stage->control()->variant->key;
    }

    private function exposed(Stage $stage, Visitor $visitor): bool
    {
        $id = $visitor->known($stage->page()) ?? $visitor->id;

        return $id !== null && $stage->received->exposures($id, $stage->experiment->key) !== [];
    }

    private function trace(Stage $stage, ?Guest $guest): string
    {
        return $guest === null ? '' : 'By the rules this visitor '.EntryTrace::of($stage->experiment->pages, $stage->experiment->audience, $guest, static fn (): bool => true)->words.'.';
    }

    /** A visitor who was asked nothing yet, and presses what looks like a yes. */
    private function consent(Stage $stage, Outcome $outcome): void
    {
        $visitor = $stage->visitors->make($this->anyVariant($stage), $stage->screen());
        array_map(fn (string $name) => $stage->visitors->takeAway($visitor->tab, $name), ['plx_consent', 'plx_visitor']);
        $stage->visitors->open($visitor);
        $visitor->tab->settle();
        $stage->awaitRuntime($visitor->tab, 3.0);
        $given = $this->given($stage, $visitor);
        $pressed = [];
        while (! self::isEnough($given) && count($pressed) < self::MOST_PRESSED) {
            $text = $visitor->tab->evaluate(Probe::call('agree', $pressed), true);
            if (! is_string($text)) {
                break;
            }
            $pressed[] = $text;
            $visitor->tab->attend(0.4);
            $given = $this->given($stage, $visitor);
        }
        if (self::isEnough($given)) {
            $outcome->proven(Link::Entry, 'Consent is given by “'.(end($pressed) ?: 'the page itself').'”, and counts from then on.');
        } else {
            $outcome->found(new Finding(CheckCode::ConsentMissing, 'Nobody enters: this site waits for consent, and the page never gives it.', $given !== null ? "The page gives consent to “{$given}”, and statistics is not among it." : ($pressed === [] ? 'Nothing on the page looks as if it asked for consent, and pellix("consent", …) was not called.' : 'Pressed were '.implode(', ', array_map(static fn (string $one): string => "“{$one}”", $pressed)).'; pellix("consent", …) was not called.'), 'Have the page call pellix("consent", ["statistics"]) when a visitor agrees; or, where a step of the script has to come first, write it there.', evidence: ['step' => 'consent', 'pressed' => $pressed]));
            $stage->evidence($visitor->tab, 'consent');
        }
        $visitor->leave();
    }

    private static function isEnough(?string $given): bool
    {
        return $given !== null && in_array('statistics', explode('.', $given), true);
    }

    private function given(Stage $stage, Visitor $visitor): ?string
    {
        return $visitor->tab->cookies($stage->page())['plx_consent']['value'] ?? null;
    }
}
