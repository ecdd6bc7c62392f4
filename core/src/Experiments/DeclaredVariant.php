<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

use Pellix\Core\Assignment\Variant;
use Pellix\Core\Formats\Fields;

/** A variant together with what it changes. */
final readonly class DeclaredVariant
{
    private const MOST_CHANGES = 50;

    /**
     * @param list<Change> $changes
     * @param string|null  $target  where it sends its visitors, in a redirect test
     * @param bool         $moves   whether it was stopped, and whoever has it is given another one at the next page view
     */
    private function __construct(public Variant $variant, public string $name, public array $changes, public ?string $target, public bool $moves)
    {
    }

    /**
     * @param bool $toBeKept whether it will run: then a member that would be lost is refused
     *
     * @throws InvalidExperiment
     */
    public static function read(mixed $json, bool $toBeKept = false): self
    {
        $fields = new Fields($json, InvalidExperiment::class, 'A variant');
        $variant = Fields::within(
            '',
            static fn (): Variant => Variant::of($fields->text('key', 40), $fields->number('weight'), $fields->flag('control')),
            InvalidExperiment::class,
        );
        $changes = [];
        foreach ($fields->list('changes') as $i => $change) {
            $changes[] = Fields::within("changes.{$i}", static fn (): Change => Change::read($change, $toBeKept), InvalidExperiment::class);
        }
        if (count($changes) > self::MOST_CHANGES) {
            throw new InvalidExperiment('A variant makes at most '.self::MOST_CHANGES.' changes.', 'changes');
        }
        if ($variant->isControl && $changes !== []) {
            throw new InvalidExperiment('The control shows the page as it is and changes nothing.', 'changes');
        }

        $target = $fields->has('target') ? self::target($fields, $variant->isControl, $changes) : null;
        $name = $fields->text('name', 80, $variant->key);
        $moves = $fields->flag('moves');
        if ($moves && $variant->weight > 0) {
            throw new InvalidExperiment('Only a variant with the weight 0 can have its visitors moved to others.', 'moves');
        }
        $toBeKept && $fields->nothingElse();

        return new self($variant, $name, $changes, $target, $moves);
    }

    /** @return list<Change> without those that are switched off */
    public function made(): array
    {
        return array_values(array_filter($this->changes, static fn (Change $change): bool => ! $change->isOff));
    }

    /** How many things are to be seen of it on the page: its changes, or the page that it leads to. */
    public function effects(): int
    {
        return count($this->made()) + ($this->target === null ? 0 : 1);
    }

    /**
     * @param Fields<InvalidExperiment> $fields
     * @param list<Change>              $changes
     */
    private static function target(Fields $fields, bool $isControl, array $changes): string
    {
        $target = $fields->text('target', 2000);
        Redirect::check($target, 'target');
        if ($isControl) {
            throw new InvalidExperiment('The control stays on the page as it is and leads nowhere.', 'target');
        }
        if ($changes !== []) {
            throw new InvalidExperiment('A variant that leads to another page changes nothing on this one.', 'changes');
        }

        return $target;
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        $weight = $this->variant->weight;

        return [
            'key' => $this->variant->key,
            'name' => $this->name,
            'weight' => $weight === floor($weight) ? (int) $weight : $weight,
            'control' => $this->variant->isControl,
            'changes' => array_map(static fn (Change $change): array => $change->toArray(), $this->changes),
            ...($this->target === null ? [] : ['target' => $this->target]),
            ...($this->moves ? ['moves' => true] : []),
        ];
    }
}
