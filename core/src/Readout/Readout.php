<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

/** What an experiment says, and whether it may be believed. */
final readonly class Readout
{
    /**
     * @param list<Comparison>          $goals  the primary one first
     * @param list<Comparison>          $visits what is measured of every visit
     * @param array<string, Comparison> $rates  key of a goal with a value => the same by its rate
     */
    private function __construct(public Subject $subject, public Table $table, public Look $look, public Gate $gate, public array $goals, public array $visits, public array $rates)
    {
    }

    public static function of(Subject $subject, Table $table, Look $look, Gate $gate): self
    {
        $variants = array_map(static fn (string $key, int $i): array => ['key' => $key, 'name' => $subject->name($i), 'control' => $i === $subject->control], $subject->variants, array_keys($subject->variants));
        $goals = $visits = $rates = [];
        foreach ($subject->items as $item) {
            $samples = array_map(static fn (int $variant): array => $table->samples($item, $variant), array_keys($subject->variants));
            $one = Comparison::of($item, $variants, $samples, $look, $subject->experiment->decision->earlierDays !== null);
            if ($item->role === 'visit') {
                // What no event tells of is no measure of anything.
                if (array_filter($one->variants, static fn (VariantResult $variant): bool => $variant->all->yy > 0.0) !== []) {
                    $visits[] = $one;
                }
                continue;
            }
            $goals[] = $one;
            if ($item->measure === Measure::Mean && $item->goal !== null) {
                $rates[$item->key] = Comparison::of($item->byRate(), $variants, array_map(static fn (array $own): array => array_map(static fn (Sample $sample): Sample => $sample->byRate(), $own), $samples), $look);
            }
        }

        return new self($subject, $table, $look, $gate, $goals, $visits, $rates);
    }

    public function primary(): ?Comparison
    {
        return $this->goals[0] ?? null;
    }

    /** Units of all variants. */
    public function units(): int
    {
        $primary = $this->primary();

        return $primary === null ? 0 : (int) array_sum(array_map(static fn (VariantResult $one): int => $one->all->n, $primary->variants));
    }

    /** What the primary goal says, and whether there are enough visitors. */
    private function says(): string
    {
        $primary = $this->primary();
        $planned = $this->look->planned;
        $enough = match (true) {
            $planned === null => '',
            $this->units() >= $planned => ' Enough visitors: yes.',
            default => ' Enough visitors: no, '.number_format($this->units(), 0, '.', ' ').' of '.number_format($planned, 0, '.', ' ').'.',
        };
        $disagree = $primary === null ? null : $this->disagreement($primary);

        $harmed = array_map(Sentence::of(...), array_filter($this->goals, static fn (Comparison $one): bool => $one->item->role === 'guardrail' && $one->verdict() === Verdict::Worse));

        return implode(' ', array_filter([$primary === null ? 'The experiment has no goal.' : Sentence::of($primary), $disagree, ...$harmed])).$enough;
    }

    /** Where more visitors reach a goal and each visitor brings less, or the other way round; null where both point the same way. */
    public function disagreement(Comparison $money): ?string
    {
        $rate = $this->rates[$money->item->key] ?? null;
        foreach ($rate->variants ?? [] as $i => $one) {
            $other = $money->variants[$i];
            if ($one->estimate !== null && $other->estimate !== null && $one->estimate->points * $other->estimate->points < 0) {
                $control = $money->control();
                $controlRate = $rate?->control();
                $told = static fn (VariantResult $by, VariantResult $of): string => Amounts::value($money->item->byRate(), $by->value).' of the visitors of '.$of->name.' reach it and bring '.Amounts::value($money->item, $of->value).' per visitor';

                return $controlRate === null ? null : 'Rate and money disagree: '.$told($one, $other).'; '.$told($controlRate, $control).'. Money per visitor decides.';
            }
        }

        return null;
    }

    /** @return array<string, mixed> as docs/formats.md has it */
    public function toArray(): array
    {
        return $this->gate->before($this->figures());
    }

    /** @return array<string, mixed> the same without the gate, which may be another a moment later */
    public function figures(): array
    {
        return [
            'pellix' => 1,
            'experiment' => $this->subject->experiment->key,
            'says' => $this->says(),
            ...$this->look->toArray(),
            'over' => $this->look->isOver,
            'enough' => ['planned' => $this->look->planned, 'have' => $this->units(), 'is' => $this->look->planned === null ? null : $this->units() >= $this->look->planned],
            'goals' => array_map($this->goal(...), $this->goals),
            'visits' => array_map(static fn (Comparison $one): array => $one->toArray(), $this->visits),
        ];
    }

    /** @return array<string, mixed> */
    private function goal(Comparison $one): array
    {
        $rate = $this->rates[$one->item->key] ?? null;

        return [...$one->toArray(), ...($rate === null ? [] : ['by_rate' => $rate->toArray(), 'disagreement' => $this->disagreement($one)])];
    }
}
