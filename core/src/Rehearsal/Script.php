<?php

declare(strict_types=1);

namespace Pellix\Core\Rehearsal;

use Pellix\Core\Formats\Fields;

/** The steps of a rehearsal, in their order: `{"pellix":1,"steps":[…]}`. */
final readonly class Script
{
    public const MOST_STEPS = 80;

    /** @param list<Step> $steps */
    private function __construct(public array $steps)
    {
    }

    /** @throws InvalidScript with the path of the field at fault */
    public static function read(mixed $json): self
    {
        $fields = new Fields($json, InvalidScript::class, 'A script');
        if ($fields->raw('pellix') !== 1) {
            throw new InvalidScript('The format version 1 is needed: "pellix": 1.', 'pellix');
        }
        $steps = [];
        foreach ($fields->list('steps') as $i => $step) {
            $steps[] = Fields::within("steps.{$i}", static fn (): Step => Step::read($step), InvalidScript::class);
        }
        $fields->nothingElse();

        return self::of($steps);
    }

    /**
     * @param list<Step> $steps
     *
     * @throws InvalidScript
     */
    public static function of(array $steps): self
    {
        if (count($steps) > self::MOST_STEPS) {
            throw new InvalidScript('A script has at most '.self::MOST_STEPS.' steps.', 'steps');
        }
        foreach ($steps as $i => $step) {
            if (! in_array($step->kind, [StepKind::Consent, StepKind::ClearCookies], true)) {
                $step->kind === StepKind::Open || throw new InvalidScript('A script begins with a page that is opened.', "steps.{$i}.do");

                return new self($steps);
            }
        }

        throw new InvalidScript('A script opens at least one page.', 'steps');
    }

    /** @return array{pellix: int, steps: list<array<string, mixed>>} */
    public function toArray(): array
    {
        return ['pellix' => 1, 'steps' => array_map(static fn (Step $step): array => $step->toArray(), $this->steps)];
    }

    /** @return array<int, Step> those of a variant's visitors, by their number in the script */
    public function for(string $variant): array
    {
        return array_filter($this->steps, static fn (Step $step): bool => $step->isFor($variant));
    }

    /** @return list<string> keys of the goals that it walks to */
    public function goals(): array
    {
        return array_values(array_unique(array_map(static fn (Step $step): string => (string) $step->name, array_filter($this->steps, static fn (Step $step): bool => $step->aim === Aim::Goal && ! $step->not))));
    }
}
