<?php

declare(strict_types=1);

namespace App\Rehearsals\Looks;

use App\Rehearsals\Browser\Tab;
use App\Rehearsals\Outcome;
use App\Rehearsals\Stage;
use Pellix\Core\Experiments\ChangeKind;
use Pellix\Core\Rehearsal\CheckCode;
use Pellix\Core\Rehearsal\Finding;
use Pellix\Core\Rehearsal\Screen;
use Pellix\Core\Wiring\Findings\Severity;

/** Errors that a page has in a variant and not in the control: of the variant's own scripts, and of the page's that it confuses. */
final class Errors
{
    /** So long a page of the control is watched before it is said that it has no such error. */
    private const SECONDS = 5.0;

    /** @return array<string, string> what was thrown on a page, by what stays the same of it from one visit to the next => as it was said, with its place */
    public static function on(Tab $tab): array
    {
        $errors = [];
        foreach ($tab->watch->console as $line) {
            if ($line['kind'] === 'exception' || ($line['kind'] === 'console' && $line['level'] === 'error')) {
                $errors[(string) preg_replace('/\d+/', '#', $line['text'])] = $line['text'].($line['url'] === '' ? '' : " ({$line['url']}, line {$line['line']})");
            }
        }

        return $errors;
    }

    /** @param list<string> $known those of the control, as their keys are */
    public static function judge(Stage $stage, Outcome $outcome, string $variant, Screen $screen, Tab $tab, array $known): void
    {
        $fresh = array_diff_key(self::on($tab), array_flip($known));
        if ($fresh !== []) {
            $fresh = array_diff_key($fresh, self::ofControl($stage, $screen));
        }
        if ($fresh === []) {
            return;
        }
        $declared = $stage->variant($variant);
        $isCode = array_filter($declared->made(), static fn ($change): bool => $change->kind === ChangeKind::Script) !== [];
        $outcome->found(new Finding(
            CheckCode::ChangeErrors,
            'In “'.$variant.'” the page has '.(count($fresh) === 1 ? 'an error' : count($fresh).' errors').' in the console that the control has not.',
            array_values($fresh)[0],
            $isCode ? 'Mend the script of the variant: what it throws after it has run is caught by nobody.' : 'A script of the page stumbles over what the variant changes: see what it looks for there.',
            $variant,
            $screen,
            evidence: ['step' => 'errors', 'lines' => array_slice(array_values($fresh), 0, 5)],
            severity: $isCode ? Severity::Blocker : null,
        ));
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
        $errors = self::on($visitor->tab);
        $visitor->leave();

        return $errors;
    }
}
