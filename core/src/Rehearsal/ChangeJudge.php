<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

use Pellix\Core\Experiments\Change;
use Pellix\Core\Experiments\ChangeKind;
use Pellix\Core\Wiring\Findings\Severity;

/**
 * Whether a change is really in effect on a screen, and if not, why: the first reason that holds is the one that is told.
 *
 * @phpstan-import-type Element from ChangeSeen
 */
final class ChangeJudge
{
    /** A page that is built up anew takes a change back once or twice; more often is no accident (common practice, no source). */
    private const OFTEN = 5;

    /** @return Finding|null null where it is in effect */
    public static function judge(Change $change, ChangeSeen $seen, string $variant, Screen $screen): ?Finding
    {
        if ($change->width?->holds($screen->width()) === false) {
            // It is for other screens.
            return null;
        }

        return self::neverMade($change, $seen, $variant, $screen)
            ?? self::notKept($change, $seen, $variant, $screen)
            ?? self::notInEffect($change, $seen, $variant, $screen);
    }

    private static function neverMade(Change $change, ChangeSeen $seen, string $variant, Screen $screen): ?Finding
    {
        if ($seen->failed !== null) {
            return self::found(CheckCode::ChangeFailed, $change, $seen, $variant, $screen, 'runs into an error', $seen->failed, 'Mend the code of the change, and rehearse again.');
        }
        if ($change->kind === ChangeKind::Script || $seen->madeAfter() !== null) {
            return null;
        }
        foreach ($seen->moments as $moment) {
            if (! $moment['understood']) {
                return self::found(CheckCode::ChangeNotUnderstood, $change, $seen, $variant, $screen, "is not understood by the browser: {$change->text('property')}: {$change->text('value')}", 'The property or its value is misspelt, or this browser does not know it.', 'Correct the declaration.');
            }
        }
        $states = array_column($seen->turns, 1);
        if ($change->kind === ChangeKind::Sheet && $seen->refused !== null) {
            return self::found(CheckCode::ChangeNotMade, $change, $seen, $variant, $screen, 'does not count', "The page’s policy refuses it. Content-Security-Policy: {$seen->refused}.", 'Give the snippet the nonce of the page, which it hands on to style sheets; or use changes of the kind style, which no policy refuses.');
        }
        if (in_array('other', $states, true)) {
            return self::found(CheckCode::ChangeNotMade, $change, $seen, $variant, $screen, 'is never made', 'There is an element for it, and the runtime did not change it.', 'See whether the visitor got into the experiment at all, and what the console says.');
        }

        return self::found(CheckCode::ChangeNoElement, $change, $seen, $variant, $screen, 'changes nothing', "No element of the page matches {$change->selector}.", 'Correct the selector, or have the developers tell what the element is called now.');
    }

    private static function notKept(Change $change, ChangeSeen $seen, string $variant, Screen $screen): ?Finding
    {
        $lost = $seen->lostAfter();
        $by = $seen->culprit === null ? 'the page’s own script' : "the page’s own script ({$seen->culprit})";
        if ($lost === null) {
            $taken = $seen->takenBack();

            return count($taken) < self::OFTEN ? null : self::found(CheckCode::ChangeReplaced, $change, $seen, $variant, $screen, 'is taken back again and again: '.count($taken).' times within '.self::seconds(end($taken) - $taken[0]), ucfirst($by).' puts back what was there. It is made again each time, and not for ever.', 'Have the change made in the page’s own script.', ['times' => count($taken), 'by' => $seen->culprit]);
        }
        [$at, $state] = $lost;
        $after = self::seconds($at - (float) $seen->madeAfter());

        return self::found(CheckCode::ChangeReplaced, $change, $seen, $variant, $screen, "is gone after {$after}", $state === 'none'
            ? 'At '.self::seconds($at)." {$by} put something else in the place of the element, which {$change->selector} does not match."
            : 'At '.self::seconds($at)." {$by} put back what was there, more often than it is changed again.", 'Use a selector that also matches what the page puts there, or have the change made in the page’s own script.', ['lost_ms' => $at, 'by' => $seen->culprit]);
    }

    private static function notInEffect(Change $change, ChangeSeen $seen, string $variant, Screen $screen): ?Finding
    {
        foreach ($seen->outranked as ['element' => $element, 'loser' => $loser, 'winner' => $winner]) {
            return self::found(
                CheckCode::ChangeOutranked,
                $change,
                $seen,
                $variant,
                $screen,
                "does not show: {$loser->property} of {$element} is “{$winner->value}”, not “{$loser->value}”",
                "{$winner->place()} wins over {$loser->place()}.",
                Cascade::advice($loser, $winner),
                ['element' => $element, 'property' => $loser->property, 'wanted' => $loser->value, 'is' => $winner->value, 'winner' => ['selector' => $winner->selector, 'sheet' => $winner->sheet, 'line' => $winner->line, 'specificity' => implode(',', $winner->specificity), 'important' => $winner->important]],
            );
        }
        foreach ($seen->unheeded as ['element' => $element, 'property' => $property, 'wanted' => $wanted, 'is' => $is, 'by' => $by]) {
            return self::found(CheckCode::ChangeOutranked, $change, $seen, $variant, $screen, "does not show: {$property} of {$element} is “{$is}”, not “{$wanted}”", $by === null ? 'No rule outranks it: something else sets it, such as a script of the page.' : "{$by} sets it: an animation outranks every rule that is not important.", $by === null ? 'See which script of the page sets it, and when.' : "Write “{$property}: {$wanted} !important”, or end the animation with “animation: none”.", ['element' => $element, 'property' => $property, 'wanted' => $wanted, 'is' => $is, 'by' => $by]);
        }
        if ($seen->unread !== []) {
            return self::found(CheckCode::ChangeNotUnderstood, $change, $seen, $variant, $screen, 'is not understood by the browser: '.implode('; ', array_slice($seen->unread, 0, 3)), 'The property or its value is misspelt, or this browser does not know it.', 'Correct the declaration.');
        }
        foreach ($seen->moments as $when => $moment) {
            foreach (in_array($change->kind, [ChangeKind::Hide, ChangeKind::Remove], true) ? [] : $moment['elements'] as $element) {
                $finding = self::unseen($change, $seen, $variant, $screen, $element, $when);
                if ($finding !== null) {
                    return $finding;
                }
            }
            foreach ($change->kind === ChangeKind::Hide ? $moment['elements'] : [] as $element) {
                if ($element['visible']) {
                    return self::found(CheckCode::ChangeNotMade, $change, $seen, $variant, $screen, "leaves {$element['path']} visible", "Its display is “{$element['display']}” {$when}.", 'See which rule sets display, and hide what is around it instead.');
                }
            }
            foreach ($moment['rules'] as $rule) {
                if ($rule['found'] === 0) {
                    return self::found(CheckCode::ChangeNoElement, $change, $seen, $variant, $screen, "has a rule for {$rule['selector']}, which nothing on the page matches", 'The style sheet is there; its selector finds no element.', 'Correct the selector of the rule.', [], Severity::Warning);
                }
            }
        }
        if ($seen->styleless !== []) {
            return self::found(CheckCode::ChangeNoStyle, $change, $seen, $variant, $screen, 'adds the class '.implode(', ', $seen->styleless).', which looks like nothing', 'No rule of the page’s style sheets for this element asks for it.', 'Add the rule with a change of the kind style sheet, or see how the class is spelt.');
        }

        return null;
    }

    /** @param Element $element */
    private static function unseen(Change $change, ChangeSeen $seen, string $variant, Screen $screen, array $element, string $when): ?Finding
    {
        $box = implode(' × ', array_slice($element['box'], 2));
        if (! $element['visible'] || $element['box'][2] <= 0 || $element['box'][3] <= 0) {
            $why = match (true) {
                $element['display'] === 'none' => 'its display is none',
                $element['visibility'] !== 'visible' => "its visibility is {$element['visibility']}",
                (float) $element['opacity'] === 0.0 => 'its opacity is 0',
                $element['box'][2] <= 0 || $element['box'][3] <= 0 => "its size is {$box}",
                $element['hidden'] === 'off' => 'it stands outside of what can be scrolled to',
                $element['hidden'] === 'clipped' => 'something around it, or its own clip-path, cuts it off',
                $element['hidden'] === 'picture' => 'its picture does not load',
                $element['hidden'] === 'colour' => 'its words have no colour of their own before what is behind them',
                default => 'something around it is not shown',
            };

            return self::found(CheckCode::ChangeInvisible, $change, $seen, $variant, $screen, "cannot be seen: {$why} {$when}", $seen->seenInControl ? "{$element['path']} can be seen in the control." : "{$element['path']} cannot be seen in the control either, on this screen.", $seen->seenInControl ? 'See which rule hides it, and change that, too.' : 'See whether the variant is meant for this screen.', ['element' => $element['path']], $seen->seenInControl ? null : Severity::Note);
        }
        if ($element['cover'] !== null) {
            $z = $element['cover']['z'] === 'auto' ? '' : ", z-index {$element['cover']['z']}";

            return self::found(CheckCode::ChangeCovered, $change, $seen, $variant, $screen, "is covered by {$element['cover']['path']} {$when}", "{$element['cover']['path']} lies over {$element['path']} (position {$element['cover']['position']}{$z}).", 'Move one of them, or have what lies over it closed before the visitor comes there.', ['element' => $element['path'], 'cover' => $element['cover']['path']]);
        }
        if (! $element['holds'] && in_array($change->kind, [ChangeKind::Move, ChangeKind::Insert], true)) {
            return self::found(CheckCode::ChangeMisplaced, $change, $seen, $variant, $screen, "does not stand where it should {$when}", "{$element['path']} is not {$change->text('place')} ".($change->kind === ChangeKind::Move ? $change->text('to') : $change->selector).'.', 'See what else moves it.');
        }

        return null;
    }

    /** @param array<string, mixed> $evidence */
    private static function found(CheckCode $code, Change $change, ChangeSeen $seen, string $variant, Screen $screen, string $what, string $cause, string $next, array $evidence = [], ?Severity $severity = null): Finding
    {
        $name = mb_strtolower($change->kind->label()).($change->selector === null ? '' : " on {$change->selector}");

        return new Finding($code, "Change {$seen->number} of “{$variant}” ({$name}) {$what}.", $cause, $next, $variant, $screen, null, ['change' => $seen->number, ...$evidence], $severity);
    }

    private static function seconds(float $ms): string
    {
        return number_format($ms / 1000, 1).' s';
    }
}
