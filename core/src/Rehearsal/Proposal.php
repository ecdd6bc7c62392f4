<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

use Pellix\Core\Experiments\ChangeKind;
use Pellix\Core\Experiments\DeclaredVariant;
use Pellix\Core\Experiments\Experiment;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Happenings\Kind;
use Pellix\Core\Rules\Op;
use Pellix\Core\Rules\Rule;

/** The script that follows from an experiment by itself: open its page, look for each change, and walk to each goal. */
final class Proposal
{
    private const MOST_GOALS = 8;
    private const MOST_CHANGES = 12;

    /**
     * @param string                                        $page whole address of a page of the experiment
     * @param array<string, list<array<string, mixed>>|null> $ways  key of a goal => the steps that lead to it, where some are known
     *
     * @throws InvalidScript
     */
    public static function of(Experiment $experiment, string $page, array $ways): Script
    {
        $open = ['do' => StepKind::Open->value, 'path' => $page];
        $steps = [$open, ...self::changes($experiment)];
        $isFirst = true;
        foreach (array_slice($experiment->goals, 0, self::MOST_GOALS) as $goal) {
            $way = $ways[$goal->key] ?? self::guess($goal, $page);
            if ($way === null) {
                continue;
            }
            // Each way begins at the page, so that one that does not lead on ends no other.
            $steps = [...$steps, ...($isFirst ? [] : [$open]), ...$way, ['do' => StepKind::Expect->value, 'goal' => $goal->key]];
            $isFirst = false;
        }

        return Script::read(['pellix' => 1, 'steps' => array_slice($steps, 0, Script::MOST_STEPS)]);
    }

    /** @return list<array<string, mixed>> */
    private static function changes(Experiment $experiment): array
    {
        $steps = [];
        foreach ($experiment->variants as $variant) {
            foreach ($variant->made() as $change) {
                if ($change->selector === null || count($steps) === self::MOST_CHANGES) {
                    continue;
                }
                $steps[] = match ($change->kind) {
                    ChangeKind::Text => self::look($change->selector, $variant, ['text' => $change->text('value')]),
                    ChangeKind::Remove => self::look($change->selector, $variant, ['not' => true]),
                    ChangeKind::Hide => self::look($change->selector, $variant, ['style' => 'display', 'value' => 'none']),
                    default => self::look($change->selector, $variant, []),
                };
            }
        }

        return $steps;
    }

    /**
     * @param array<string, mixed> $wanted
     *
     * @return array<string, mixed>
     */
    private static function look(string $selector, DeclaredVariant $variant, array $wanted): array
    {
        return ['do' => StepKind::Expect->value, 'element' => $selector, ...$wanted, 'variants' => [$variant->variant->key]];
    }

    /** @return list<array<string, mixed>>|null what leads to a goal where no visit has told, if its own definition does */
    private static function guess(Goal $goal, string $page): ?array
    {
        $all = [];
        foreach ($goal->steps as $i => $step) {
            $path = $step->pages === null ? null : self::path($step->pages->rule);
            $isThere = $path === null || parse_url($page, PHP_URL_PATH) === $path;
            $there = $isThere ? [] : [['do' => StepKind::Follow->value, 'path' => $path]];
            $steps = match ($step->kind) {
                Kind::Page => $there,
                Kind::Click => [...$there, ['do' => StepKind::Click->value, 'element' => $step->selector]],
                Kind::Form => [...$there, ['do' => StepKind::Submit->value, 'element' => $step->selector]],
                Kind::Scroll => [...$there, ['do' => StepKind::Scroll->value, 'percent' => $step->amount ?? 100]],
                // The next step comes after the second that counts as seen.
                Kind::Seen => [...$there, ['do' => StepKind::Scroll->value, 'percent' => 100], ['do' => StepKind::Wait->value, 'seconds' => 2]],
                Kind::Engaged => [...$there, ['do' => StepKind::Wait->value, 'seconds' => min(Step::LONGEST_WAIT, ($step->amount ?? 10) + 1)]],
                default => null,
            };
            if ($steps === null && ! $goal->optional[$i]) {
                return null;
            }
            $all = [...$all, ...$steps ?? []];
            $page = $path ?? $page;
        }

        return $all === [] ? null : $all;
    }

    /** The path that a page rule names first. */
    private static function path(Rule $rule): ?string
    {
        foreach ($rule->conditions() as $condition) {
            if ($condition->fact === 'url.path' && in_array($condition->op, [Op::Is, Op::Starts], true) && is_string($condition->value) && str_starts_with($condition->value, '/')) {
                return $condition->value;
            }
        }

        return null;
    }
}
