<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments\Ready;

use Pellix\Core\Chain\Words;
use Pellix\Core\Experiments\Advice\CopiedPage;
use Pellix\Core\Experiments\Change;
use Pellix\Core\Experiments\ChangeKind;
use Pellix\Core\Experiments\DeclaredVariant;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Goals\Step;

/** Whether the goals of an experiment can count, in every variant. */
final class ReadyGoals
{
    /** @return list<ReadyPoint> */
    public static function of(ReadyFacts $facts, Experiment $experiment): array
    {
        $primary = array_filter($experiment->goals, static fn (Goal $goal): bool => $goal->role === 'primary');
        if ($experiment->goals === []) {
            return [new ReadyPoint(ReadyCode::Goals, ReadyState::Blocker, 'It has no goal: nobody could ever tell which variant did better.')];
        }
        $points = [$primary === []
            ? new ReadyPoint(ReadyCode::Goals, ReadyState::Advice, 'None of its goals is the primary one: say beforehand which one decides.')
            : new ReadyPoint(ReadyCode::Goals, ReadyState::Fine, implode(', ', array_map(static fn (Goal $goal): string => $goal->name, $primary)).(count($primary) === 1 ? ' decides.' : ' decide.'))];
        foreach ($facts->goals as $record) {
            $points[] = self::fired($record);
            array_push($points, ...self::values($record));
        }

        return [...$points, ...self::reachable($facts, $experiment)];
    }

    private static function fired(GoalRecord $record): ReadyPoint
    {
        if ($record->last === null && $record->rehearsed !== null) {
            return new ReadyPoint(ReadyCode::Fired, ReadyState::Fine, "No visitor has reached “{$record->goal->name}” yet; a rehearsal has, in every variant.", $record->rehearsed, $record->goal->key);
        }

        return $record->last === null
            ? new ReadyPoint(ReadyCode::Fired, ReadyState::Blocker, "“{$record->goal->name}” has never counted on this site: nothing proves that it can.", subject: $record->goal->key)
            : new ReadyPoint(ReadyCode::Fired, ReadyState::Fine, "“{$record->goal->name}” has counted; ".Words::count($record->hits, 'hit').' in the last four weeks.', $record->last, $record->goal->key);
    }

    /** @return list<ReadyPoint> */
    private static function values(GoalRecord $record): array
    {
        $goal = $record->goal;
        if ($goal->valueProp === null || $record->hits === 0) {
            return [];
        }
        if ($record->worthless > 0) {
            return [new ReadyPoint(ReadyCode::Values, $record->worthless === $record->hits ? ReadyState::Blocker : ReadyState::Advice, Words::number($record->worthless).' of '.Words::count($record->hits, 'hit')." of “{$goal->name}” came without a value that can be read.", $record->last, $goal->key)];
        }
        $foreign = array_values(array_diff($record->currencies, [$goal->currency ?? $record->currencies[0] ?? '']));

        return [$foreign === []
            ? new ReadyPoint(ReadyCode::Values, ReadyState::Fine, "Each hit of “{$goal->name}” came with a value".($record->currencies === [] ? '.' : ' in '.implode(', ', $record->currencies).'.'), $record->last, $goal->key)
            : new ReadyPoint(ReadyCode::Values, ReadyState::Advice, "Values of “{$goal->name}” come in several currencies (".implode(', ', $record->currencies).'): sums count one of them alone.', $record->last, $goal->key)];
    }

    /** @return list<ReadyPoint> */
    private static function reachable(ReadyFacts $facts, Experiment $experiment): array
    {
        $blocked = [];
        $page = $facts->copies[0] ?? null;
        foreach ($experiment->goals as $goal) {
            foreach ($experiment->variants as $variant) {
                $why = self::cannot($goal->steps[0], $variant, $page, $facts->targets[$variant->variant->key] ?? null);
                if ($why !== null) {
                    $blocked[] = new ReadyPoint(ReadyCode::Reachable, $variant->target === null ? ReadyState::Blocker : ReadyState::Advice, "“{$goal->name}” may never count in variant “{$variant->name}”: {$why}", subject: $goal->key);
                }
            }
        }

        return $blocked ?: [new ReadyPoint(ReadyCode::Reachable, ReadyState::Fine, $page === null
            ? 'Nothing that a variant does speaks against it; no inspected page is kept to look at.'
            : 'What its goals wait for is left in place by every variant.')];
    }

    /** Why the first step of a goal could not be taken in a variant; null where nothing speaks against it. */
    private static function cannot(Step $step, DeclaredVariant $variant, ?CopiedPage $page, ?CopiedPage $target): ?string
    {
        $selector = $step->selector;
        if ($variant->target !== null) {
            return $target === null ? null : self::lost($step, $selector, $page, $target);
        }
        if ($selector === null) {
            return null;
        }
        foreach ($variant->made() as $change) {
            if (self::takesAway($change, $selector, $page)) {
                return "it takes away “{$selector}”, which the goal waits for.";
            }
        }

        return null;
    }

    /** What the page has and its stand-in lacks: the element that a goal waits for, or every way to the pages that it waits for. */
    private static function lost(Step $step, ?string $selector, ?CopiedPage $page, CopiedPage $target): ?string
    {
        if ($selector !== null) {
            return ($page?->copy->find($selector) ?? []) !== [] && $target->copy->find($selector) === [] ? "{$target->url} has no “{$selector}”, which the goal waits for." : null;
        }
        $rule = $step->pages;
        if ($rule === null || $page === null) {
            return null;
        }
        $leads = static fn (CopiedPage $one): bool => array_filter($one->copy->leadsTo($one->url), $rule->matches(...)) !== [];

        return $leads($page) && ! $leads($target) ? "{$target->url} has no link or form to the pages that the goal waits for, and the original has." : null;
    }

    private static function takesAway(Change $change, string $selector, ?CopiedPage $page): bool
    {
        if (! in_array($change->kind, [ChangeKind::Hide, ChangeKind::Remove, ChangeKind::Html, ChangeKind::Text], true) || $change->selector === null) {
            return false;
        }
        $isWhole = in_array($change->kind, [ChangeKind::Hide, ChangeKind::Remove], true);
        if ($isWhole && $change->selector === $selector) {
            return true;
        }
        $awaited = $page?->copy->find($selector) ?? [];
        $changed = $page?->copy->find($change->selector) ?? [];
        $isGone = static function (\DOMElement $element) use ($changed, $isWhole): bool {
            for ($here = $isWhole ? $element : $element->parentNode; $here instanceof \DOMElement; $here = $here->parentNode) {
                if (in_array($here, $changed, true)) {
                    return true;
                }
            }

            return false;
        };

        return $awaited !== [] && array_filter($awaited, static fn (\DOMElement $one): bool => ! $isGone($one)) === [];
    }
}
