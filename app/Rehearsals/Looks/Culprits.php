<?php

declare(strict_types=1);

namespace App\Rehearsals\Looks;

use App\Rehearsals\Probe;
use App\Rehearsals\Stage;
use Pellix\Core\Experiments\Change;
use Pellix\Core\Experiments\ChangeKind;
use Pellix\Core\Rehearsal\ChangeSeen;
use Pellix\Core\Rehearsal\Screen;

/** Asks in a visit of its own which script of the page took away what was changed. */
final class Culprits
{
    /** So long is watched at most. */
    private const SECONDS = 5.0;

    /**
     * @param list<Change>     $changes
     * @param list<ChangeSeen> $seen
     *
     * @return list<ChangeSeen> the same, with the place in the page's code where it is known
     */
    public static function named(Stage $stage, string $variant, Screen $screen, array $changes, array $seen): array
    {
        $lost = array_filter($seen, static fn (ChangeSeen $one): bool => $one->takenBack() !== []);
        if ($lost === []) {
            return $seen;
        }
        $selectors = array_values(array_unique(array_map(static fn (ChangeSeen $one): string => self::trace($changes[$one->number - 1]), $lost)));
        $visitor = $stage->visitors->make($variant, $screen);
        $tab = $visitor->tab;
        $tab->execute('Page.addScriptToEvaluateOnNewDocument', ['source' => Probe::call('culprit', $selectors)]);
        $stage->visitors->open($visitor);
        $tab->settle();
        $stage->visitors->setOff($tab);
        $tab->attend(max(0.5, min(self::SECONDS, max(array_map(static fn (ChangeSeen $one): float => ($one->lostAfter()[0] ?? $one->takenBack()[0]) / 1000, $lost)) + 0.5)));
        $tab->stir();
        $touched = [];
        foreach ($tab->watch->console as $line) {
            if (str_starts_with($line['text'], 'pellix-rehearsal took ')) {
                [$selector, $url, $number, , $at] = (array) json_decode(substr($line['text'], 22), true) + ['', '', 0, '', 0];
                $touched[(string) $selector][] = ['by' => "{$url}, line {$number}", 'at' => (float) $at];
            }
        }
        $visitor->leave();

        return array_map(static fn (ChangeSeen $one): ChangeSeen => $one->takenBy($touched[self::trace($changes[$one->number - 1])] ?? []), $seen);
    }

    /** A selector for what is taken away with a change: of what was put in, that itself. */
    private static function trace(Change $change): string
    {
        if ($change->kind === ChangeKind::Sheet) {
            return 'style';
        }
        if ($change->kind === ChangeKind::Insert && preg_match('/<([a-z][a-z0-9-]*)([^>]*)>/i', $change->text('value'), $tag) === 1) {
            $classes = preg_match('/\bclass\s*=\s*["\']?([\w -]+)/i', $tag[2], $m) === 1 ? preg_split('/\s+/', trim($m[1])) ?: [] : [];

            return preg_match('/\bid\s*=\s*["\']?([\w-]+)/i', $tag[2], $m) === 1 ? "[id=\"{$m[1]}\"]" : strtolower($tag[1]).implode('', array_map(static fn (string $class): string => "[class~=\"{$class}\"]", $classes));
        }

        return (string) $change->selector;
    }
}
