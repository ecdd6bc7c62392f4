<?php

declare(strict_types=1);

namespace App\Rehearsals\Parts;

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
use Pellix\Core\Rehearsal\Finding;
use Pellix\Core\Rehearsal\FlickerJudge;
use Pellix\Core\Rehearsal\Screen;
use Pellix\Core\Wiring\Findings\Severity;

/** What a variant looks like: its changes, on every screen, for some seconds; and what was painted before they were made. */
final class LookPart implements Part
{
    /** So long a change has to stay in effect. */
    private const SECONDS = 5.0;

    /** So long a change may take. */
    private const PATIENCE = 3.0;

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
        $tab->record(self::MOST_FRAMES);
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
        $stage->variant($variant)->variant->isControl || $tab->await('pellixWatch.asked.stands().every((state) => state === "made" || state === "unknown")', self::PATIENCE, true);
        $tab->stopRecording();
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
        // A scroll to the end and back, and a page that is laid out anew.
        $tab->evaluate('window.scrollTo(0, document.documentElement.scrollHeight)', true);
        $tab->attend(0.15);
        $tab->evaluate('window.scrollTo(0, 0)', true);
        foreach ([$screen->width() - 40, $screen->width()] as $width) {
            $tab->execute('Emulation.setDeviceMetricsOverride', ['width' => $width, 'height' => $screen->height(), 'deviceScaleFactor' => 1, 'mobile' => $screen->isMobile()]);
            $tab->attend(0.1);
        }
        $told = (array) $tab->evaluate('pellixWatch.told()', true);
        $details = (array) $tab->evaluate('pellixWatch.asked.details()', true);
        $outcome->noteAll($tab->watch, $visitor->variant, $screen);
        if ($tab->hangs) {
            $outcome->found(new Finding(CheckCode::PageHangs, 'The page hangs after some seconds.', 'A script of the page keeps the browser busy for ever.', 'See which script it is.', $visitor->variant, $screen));

            return;
        }
        if ($variant->variant->isControl) {
            $outcome->figures[$screen->value] = [...$this->places[$screen->value] ?? [], 'seen' => array_map(static fn (array $one): bool => $one['elements'] === [] || array_filter($one['elements'], static fn (array $e): bool => $e['visible']) !== [], $details)];

            return;
        }
        if ($stage->variant($visitor->variant)->target !== null) {
            return;
        }
        $failed = $this->failures($stage, $visitor);
        $styles = new Styles($tab);
        $seen = [];
        foreach ($changes as $i => $change) {
            ['outranked' => $outranked, 'unheeded' => $unheeded, 'styleless' => $styleless, 'unread' => $unread] = $styles->of($change, $i);
            $seen[$i] = new ChangeSeen($i + 1, $told['turns'][$i] ?? [], ['after 5 s, a scroll and another size of the window' => $details[$i] ?? ['stand' => 'none', 'found' => 0, 'understood' => true, 'elements' => [], 'rules' => []]], $outranked, $styleless, $failed[$i + 1] ?? null, null, $this->isSeenInControl($stage, $visitor->variant, $i, $screen), $unheeded, $unread);
        }
        $seen = $this->withCulprits($stage, $visitor, $screen, $changes, $seen);
        foreach ($changes as $i => $change) {
            $finding = ChangeJudge::judge($change, $seen[$i], $visitor->variant, $screen);
            if (! $outcome->found($finding)) {
                $outcome->proven(Link::Exposure, 'Change '.($i + 1).' ('.mb_strtolower($change->kind->label()).($change->selector === null ? '' : " on {$change->selector}").') is in effect, and was after 5 s, a scroll and another size of the window.', $visitor->variant, $screen);
            }
        }
        // What something else than the page view sets off is not there from the beginning.
        $stage->experiment->trigger === null ? $this->flicker($stage, $outcome, $visitor, $screen, $changes, $told) : $outcome->figures[$screen->value] = $this->places[$screen->value] ?? [];
        if (array_filter($outcome->findings, static fn (Finding $one): bool => $one->screen === $screen && $one->severity !== Severity::Note) !== []) {
            $stage->evidence($tab, "look-{$visitor->variant}-{$screen->value}");
        }
    }

    /**
     * @param list<Change>         $changes
     * @param array<string, mixed> $told
     */
    private function flicker(Stage $stage, Outcome $outcome, Visitor $visitor, Screen $screen, array $changes, array $told): void
    {
        $worst = null;
        foreach ($changes as $i => $change) {
            $painted = FlickerJudge::painted($told['frames'] ?? [], $i, (float) ($told['now'] ?? 0));
            if ($painted !== null && ($worst === null || $painted['ms'] > $worst[1]['ms'])) {
                $worst = [$i + 1, $painted];
            }
        }
        $hasGuard = array_filter((array) ($told['scripts'] ?? []), static fn (array $one): bool => (bool) $one[2]) !== [];
        $outcome->figures[$screen->value] = [...$this->places[$screen->value] ?? [], 'flicker_ms' => $worst[1]['ms'] ?? 0.0, 'shown_ms' => FlickerJudge::shownAfter($told['frames'] ?? []), 'paints' => $told['paints'] ?? [], 'shifts' => $told['shifts'] ?? [], 'guard' => $hasGuard];
        if ($worst === null) {
            $without = $hasGuard && $screen === $stage->screen() ? $this->withoutGuard($stage, $visitor->variant, $screen, $changes) : null;
            $without === null || $outcome->figures[$screen->value]['without_guard_ms'] = $without;
            $outcome->proven(Link::Exposure, 'Nothing of the control was painted before the changes.'.match (true) {
                $without === null => '',
                $without > 0 => ' Without the flicker guard it would have been seen for '.round($without).' ms.',
                default => ' Neither was it in a visit without the flicker guard.',
            }, $visitor->variant, $screen);

            return;
        }
        [$number, $painted] = $worst;
        $this->keepFrame($stage, $visitor, $screen, $painted['from']);
        [$x, $y, $width, $height] = $painted['box'];
        $outcome->found(new Finding(
            CheckCode::FlickerPainted,
            'Visitors see the control for '.round($painted['ms'])." ms before “{$visitor->variant}”: it was painted from ".round($painted['from']).' ms after the page began.',
            $hasGuard ? 'The flicker guard let the page go before the change was made.' : 'The page has no flicker guard, so nothing hides it until the changes are made.',
            $hasGuard ? 'See how long our file takes, and set the guard’s time accordingly.' : 'Put the flicker guard into the head, before the snippet.',
            $visitor->variant,
            $screen,
            null,
            ['change' => $number, 'from_ms' => $painted['from'], 'ms' => $painted['ms'], 'box' => "{$width} × {$height} at {$x}, {$y}", 'guard' => $hasGuard],
        ));
    }

    /**
     * The same once more without the guard, for comparison.
     *
     * @param list<Change> $changes
     *
     * @return float|null milliseconds that the control would have been seen; null where that could not be told
     */
    private function withoutGuard(Stage $stage, string $variant, Screen $screen, array $changes): ?float
    {
        $visitor = $stage->visitors->make($variant, $screen);
        $visitor->tab->prepare(Probe::text('unguarded'));
        $visitor->tab->prepare(Probe::watch($changes));
        $stage->visitors->open($visitor);
        $visitor->tab->settle();
        $stage->awaitRuntime($visitor->tab, 2.0);
        $visitor->tab->await('pellixWatch.asked.stands().every((state) => state === "made" || state === "unknown")', self::PATIENCE, true);
        $visitor->tab->attend(0.1);
        $told = (array) $visitor->tab->evaluate('pellixWatch.told()', true);
        $visitor->leave();
        if (($told['frames'] ?? []) === []) {
            return null;
        }

        return max(array_map(static fn (int $i): float => FlickerJudge::painted($told['frames'], $i, (float) $told['now'])['ms'] ?? 0.0, array_keys($changes)) ?: [0.0]);
    }

    private function keepFrame(Stage $stage, Visitor $visitor, Screen $screen, float $from): void
    {
        $origin = (float) $visitor->tab->evaluate('performance.timeOrigin', true) / 1000;
        foreach ($visitor->tab->frames as $frame) {
            if ($frame['at'] >= $origin + $from / 1000) {
                $stage->keep("flicker-{$visitor->variant}-{$screen->value}.jpg", 'image/jpeg', $frame['data']);

                return;
            }
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

    /**
     * Asks in another visit which script took away what was changed.
     *
     * @param list<Change>     $changes
     * @param list<ChangeSeen> $seen
     *
     * @return list<ChangeSeen>
     */
    private function withCulprits(Stage $stage, Visitor $visitor, Screen $screen, array $changes, array $seen): array
    {
        $lost = array_filter($seen, static fn (ChangeSeen $one): bool => $one->lostAfter() !== null);
        if ($lost === []) {
            return $seen;
        }
        $selectors = array_values(array_filter(array_map(static fn (int $i): ?string => $changes[$i]->selector, array_keys($lost))));
        $again = $stage->visitors->make($visitor->variant, $screen);
        $again->tab->execute('Page.addScriptToEvaluateOnNewDocument', ['source' => Probe::call('culprit', $selectors)]);
        $stage->visitors->open($again);
        $again->tab->settle();
        $stage->visitors->setOff($again->tab);
        $again->tab->attend(max(0.5, min(self::SECONDS, max(array_map(static fn (ChangeSeen $one): float => ($one->lostAfter()[0] ?? 0) / 1000, $lost)) + 0.5)));
        $took = [];
        foreach ($again->tab->watch->console as $line) {
            if (str_starts_with($line['text'], 'pellix-rehearsal took ')) {
                [$selector, $url, $number, , $at] = (array) json_decode(substr($line['text'], 22), true) + ['', '', 0, '', 0];
                $took[(string) $selector][] = ['by' => "{$url}, line {$number}", 'at' => (float) $at];
            }
        }
        $again->leave();

        return array_map(static fn (ChangeSeen $one): ChangeSeen => $one->takenBy($took[$changes[$one->number - 1]->selector ?? ''] ?? []), $seen);
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
