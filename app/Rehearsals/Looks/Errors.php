<?php

declare(strict_types=1);

namespace App\Rehearsals\Looks;

use App\Rehearsals\Browser\Tab;
use App\Rehearsals\Outcome;
use App\Rehearsals\Stage;
use Pellix\Core\Experiments\Change;
use Pellix\Core\Experiments\ChangeKind;
use Pellix\Core\Rehearsal\ErrorJudge;
use Pellix\Core\Rehearsal\Screen;

/** Looks for errors that only a variant has; before it is said, the control is looked at once more, for as long. */
final class Errors
{
    /** So long a page of the control is watched before it is said that it has no such error. */
    private const SECONDS = 5.0;

    /** @param list<string> $known those of the control, as the keys of `ErrorJudge::thrown()` are */
    public static function judge(Stage $stage, Outcome $outcome, string $variant, Screen $screen, Tab $tab, array $known): void
    {
        $fresh = array_diff_key(ErrorJudge::thrown($tab->watch->console), array_flip($known));
        if ($fresh === []) {
            return;
        }
        $isCode = array_filter($stage->variant($variant)->made(), static fn (Change $change): bool => $change->kind === ChangeKind::Script) !== [];
        $outcome->found(ErrorJudge::finding(array_diff_key($fresh, self::ofControl($stage, $screen)), $isCode, $variant, $screen));
    }

    /** @return array<string, string> */
    private static function ofControl(Stage $stage, Screen $screen): array
    {
        $visitor = $stage->visitors->make($stage->control()->variant->key, $screen);
        $stage->visitors->open($visitor);
        $visitor->tab->settle();
        $stage->visitors->setOff($visitor->tab);
        $visitor->tab->attend(self::SECONDS);
        $visitor->tab->stir();
        $errors = ErrorJudge::thrown($visitor->tab->watch->console);
        $visitor->leave();

        return $errors;
    }
}
