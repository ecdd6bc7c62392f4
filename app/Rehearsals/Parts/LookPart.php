<?php

declare(strict_types=1);

namespace App\Rehearsals\Parts;

use App\Rehearsals\Looks\Culprits;
use App\Rehearsals\Looks\Errors;
use App\Rehearsals\Looks\Flicker;
use App\Rehearsals\Outcome;
use App\Rehearsals\Probe;
use App\Rehearsals\Stage;
use App\Rehearsals\Styles;
use App\Rehearsals\Visitor;
use Pellix\Core\Chain\Link;
use Pellix\Core\Experiments\Change;
use Pellix\Core\Rehearsal\ChangeJudge;
use Pellix\Core\Rehearsal\ChangeSeen;
use Pellix\Core\Rehearsal\CheckCode;
use Pellix\Core\Rehearsal\ErrorJudge;
use Pellix\Core\Rehearsal\Finding;
use Pellix\Core\Rehearsal\Screen;
use Pellix\Core\Wiring\Findings\Severity;

/** What a variant looks like: its changes, on every screen, for some seconds; and what was painted before they were made. */
final class LookPart implements Part
{
    /** So long a change has to stay in effect. */
    private const SECONDS = 5.0;

    private const MOST_FRAMES = 60;

    /** @var array<string, array<string, mixed>> screen => what stood where, when the picture was taken */
    private array $places = [];

    public function play(Stage $stage, ?string $variant): Outcome
    {
        $outcome = new Outcome();
        if (! $stage->runs()) {
            return $outcome;
        }
        $declared = $stage->variant((string) $variant);
        // Of the control is asked whether what others change can be seen there at all.
        $changes = $declared->variant->isControl ? self::ofOthers($stage) : $declared->made();
        $visitors = $said = [];
        foreach ($stage->screens() as $screen) {
            $stage->say("“{$declared->name}” on {$screen->label()}: loading the page");
            $visitor = $this->load($stage, $outcome, (string) $variant, $screen, $changes);
            if ($visitor !== null) {
                $visitors[$screen->value] = $visitor;
                $said[$screen->value] = microtime(true);
            }
        }
        foreach ($visitors as $key => $visitor) {
            $screen = Screen::from($key);
            $stage->say("“{$declared->name}” on {$screen->label()}: looking at every change");
            $this->judge($stage, $outcome, $visitor, $screen, $changes, $said[$key]);
            $visitor->leave();
        }

        return $outcome;
    }

    /** @param list<Change> $changes */
    private function load(Stage $stage, Outcome $outcome, string $variant, Screen $screen, array $changes): ?Visitor
    {
        $visitor = $stage->visitors->make($variant, $screen);
        if ($visitor->id === null) {
            $visitor->leave();

            return null;
        }
        $tab = $visitor->tab;
        $tab->prepare(Probe::watch($changes));
        $tab->film->record(self::MOST_FRAMES);
        $stage->visitors->open($visitor);
        $isSettled = $tab->settle();
        if ($tab->hangs || ! $isSettled) {
            $outcome->noteAll($tab->watch, $variant, $screen);
            if ($tab->hangs) {
                $outcome->found(new Finding(CheckCode::PageHangs, 'The page hangs: it does not answer any more.', 'A script of the page keeps the browser busy for ever.', 'See which script it is; visitors cannot do anything there either.', $variant, $screen));
                $visitor->leave();

                return null;
            }
            if ($tab->watch->noted('crash') !== null) {
                $visitor->leave();

                return null;
            }
        }
        $stage->awaitRuntime($tab, 2.0);
        $stage->visitors->setOff($tab);
        $stage->variant($variant)->variant->isControl || $tab->await(Flicker::ARE_MADE, Flicker::PATIENCE, true);
        $tab->film->stop();
        $picture = $tab->picture();
        $picture === null || $stage->keep("look-{$variant}-{$screen->value}.png", 'image/png', $picture);
        $this->places[$screen->value] = ['places' => $tab->evaluate('pellixWatch.asked.places()', true) ?? [], 'changed' => $tab->evaluate('pellixWatch.asked.changed()', true) ?? []];
        $frame = $picture === null ? null : $tab->picture('jpeg');
        $frame === null || $stage->keep('now.jpg', 'image/jpeg', $frame);

        return $visitor;
    }

    /** @param list<Change> $changes */
    private function judge(Stage $stage, Outcome $outcome, Visitor $visitor, Screen $screen, array $changes, float $since): void
    {
        $tab = $visitor->tab;
        $variant = $stage->variant($visitor->variant);
        if ($variant->variant->isControl) {
            // Once more: what the page itself does not show twice alike is nobody's change.
            $picture = $tab->picture();
            $picture === null || $stage->keep("again-{$visitor->variant}-{$screen->value}.png", 'image/png', $picture);
        }
        $variant->variant->isControl || $tab->attend(max(0.0, $since + self::SECONDS - microtime(true)));
        $tab->stir();
        $told = (array) $tab->evaluate('pellixWatch.told()', true);
        $details = (array) $tab->evaluate('pellixWatch.asked.details()', true);
        $outcome->noteAll($tab->watch, $visitor->variant, $screen);
        if ($tab->hangs) {
            $outcome->found(new Finding(CheckCode::PageHangs, 'The page hangs after some seconds.', 'A script of the page keeps the browser busy for ever.', 'See which script it is.', $visitor->variant, $screen));

            return;
        }
        if ($variant->variant->isControl) {
            $outcome->figures[$screen->value] = [...$this->places[$screen->value] ?? [], 'errors' => array_keys(ErrorJudge::thrown($tab->watch->console)), 'seen' => array_map(static fn (array $one): bool => $one['elements'] === [] || array_filter($one['elements'], static fn (array $e): bool => $e['visible']) !== [], $details)];

            return;
        }
        if ($stage->variant($visitor->variant)->target !== null) {
            return;
        }
        $failed = $this->failures($stage, $visitor);
        $styles = new Styles($tab);
        $refused = array_values(array_filter((array) ($told['refused'] ?? []), static fn (array $one): bool => ! $one['isReport'] && str_starts_with((string) $one['by'], 'style-src')))[0] ?? null;
        $refused = $refused === null ? null : "{$refused['by']} refuses {$refused['what']}";
        $seen = [];
        foreach ($changes as $i => $change) {
            ['outranked' => $outranked, 'unheeded' => $unheeded, 'styleless' => $styleless, 'unread' => $unread] = $styles->of($change, $i);
            $seen[$i] = new ChangeSeen($i + 1, $told['turns'][$i] ?? [], ['after 5 s, a scroll and another size of the window' => $details[$i] ?? ['stand' => 'none', 'found' => 0, 'understood' => true, 'elements' => [], 'rules' => []]], $outranked, $styleless, $failed[$i + 1] ?? null, null, $this->isSeenInControl($stage, $visitor->variant, $i, $screen), $unheeded, $unread, $refused);
        }
        $seen = Culprits::named($stage, $visitor->variant, $screen, $changes, $seen);
        foreach ($changes as $i => $change) {
            $finding = ChangeJudge::judge($change, $seen[$i], $visitor->variant, $screen);
            if (! $outcome->found($finding)) {
                $outcome->proven(Link::Exposure, 'Change '.($i + 1).' ('.mb_strtolower($change->kind->label()).($change->selector === null ? '' : " on {$change->selector}").') is in effect, and was after 5 s, a scroll and another size of the window.', $visitor->variant, $screen);
            }
        }
        Errors::judge($stage, $outcome, $visitor->variant, $screen, $tab, array_merge(...array_column($stage->figures('look', $stage->control()->variant->key), 'errors'), ...[[]]));
        // What something else than the page view sets off is not there from the beginning.
        $figures = $stage->experiment->trigger === null ? (new Flicker($stage, $visitor->variant, $screen, $changes))->judge($outcome, $visitor, $told) : [];
        $outcome->figures[$screen->value] = [...$this->places[$screen->value] ?? [], ...$figures];
        if (array_filter($outcome->findings, static fn (Finding $one): bool => $one->screen === $screen && $one->severity !== Severity::Note) !== []) {
            $stage->evidence($tab, "look-{$visitor->variant}-{$screen->value}");
        }
    }

    /** @return array<int, string> number of a change => what the runtime said of it */
    private function failures(Stage $stage, Visitor $visitor): array
    {
        $failed = [];
        foreach ($stage->received->events((string) $visitor->id) as $event) {
            if ($event->name === 'change_failed' && $event->text('experiment') === $stage->experiment->key) {
                $failed[(int) $event->number('change')] = (string) $event->text('message');
            }
        }

        return $failed;
    }

    private function isSeenInControl(Stage $stage, string $variant, int $change, Screen $screen): bool
    {
        $place = $change;
        foreach ($stage->experiment->variants as $other) {
            if ($other->variant->key === $variant) {
                break;
            }
            $place += count($other->made());
        }

        return $stage->figures('look', $stage->control()->variant->key)[$screen->value]['seen'][$place] ?? true;
    }

    /** @return list<Change> */
    private static function ofOthers(Stage $stage): array
    {
        return array_merge(...array_map(static fn ($variant): array => $variant->made(), $stage->experiment->variants));
    }
}
