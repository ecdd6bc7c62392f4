<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

use Pellix\Core\Rules\Condition;
use Pellix\Core\Rules\Fact;
use Pellix\Core\Rules\Facts;
use Pellix\Core\Rules\Op;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Rules\Rule;

/** Whether a page view lets its visitor into an experiment, and the conditions that this hangs on, in words. */
final readonly class EntryTrace
{
    /**
     * @param bool|null                                                  $enters null where it hangs on something that is not known
     * @param list<array{fact: string, holds: bool|null, words: string}> $lines  those that it hangs on
     */
    private function __construct(public ?bool $enters, public string $words, public array $lines)
    {
    }

    /**
     * @param Rule|null              $audience null for everybody
     * @param callable(string): bool $isKnown
     */
    public static function of(PageRule $pages, ?Rule $audience, Facts $facts, callable $isKnown): self
    {
        $rule = $pages->rule;
        $enters = $rule->judge($facts, $isKnown);
        $decisive = $rule->decisive($facts, $isKnown);
        if ($enters !== false && $audience !== null) {
            $answer = $audience->judge($facts, $isKnown);
            $those = $audience->decisive($facts, $isKnown);
            $decisive = $answer === $enters ? [...$decisive, ...$those] : ($answer === true ? $decisive : $those);
            $enters = $enters === true || $answer === false ? $answer : null;
        }
        $lines = array_map(static fn (Condition $one): array => self::line($one, $facts, $isKnown), $decisive);
        $told = implode('; ', array_column($lines, 'words'));

        return new self($enters, match ($enters) {
            true => 'enters',
            false => "does not: {$told}",
            null => "cannot be told: {$told}",
        }, $lines);
    }

    /** @return array{enters: bool|null, words: string, lines: list<array{fact: string, holds: bool|null, words: string}>} */
    public function toArray(): array
    {
        return ['enters' => $this->enters, 'words' => $this->words, 'lines' => $this->lines];
    }

    /**
     * @param callable(string): bool $isKnown
     *
     * @return array{fact: string, holds: bool|null, words: string}
     */
    private static function line(Condition $condition, Facts $facts, callable $isKnown): array
    {
        $label = self::label($condition->fact);
        $seen = $facts->get($condition->fact);
        $is = match (true) {
            ! $isKnown($condition->fact) => 'is not known',
            $seen === null => 'is not there',
            default => 'is '.Op::told($seen),
        };

        return ['fact' => $condition->fact, 'holds' => $condition->judge($facts, $isKnown), 'words' => "{$label} {$is}, wanted {$condition->op->wanted($condition->value)}"];
    }

    private static function label(string $name): string
    {
        $fact = Fact::named($name);
        if ($fact === null) {
            return $name;
        }

        return $fact->label().(str_ends_with($fact->value, '*') ? ' '.substr($name, strlen($fact->value) - 1) : '');
    }
}
