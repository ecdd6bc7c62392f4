<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments\Advice;

use Pellix\Core\Experiments\Change;
use Pellix\Core\Experiments\ChangeKind;
use Pellix\Core\InvalidInput;

/** A change that can be read, and where in the experiment it stands. */
final readonly class PlacedChange
{
    private function __construct(public int $variant, public int $number, public Change $change)
    {
    }

    public function field(string $member = 'selector'): string
    {
        return "variants.{$this->variant}.changes.{$this->number}.{$member}";
    }

    /** @return array<string, string> member => selector: of what it changes, and of where it moves that to */
    public function selectors(): array
    {
        return array_filter(['selector' => $this->change->selector ?? '', 'to' => $this->change->text('to')], static fn (string $one): bool => $one !== '');
    }

    /** What it is about, where two changes could get into each other's way: the content, one property, one attribute, the place. */
    public function aspect(): string
    {
        // What is made at other widths gets into nobody's way.
        return $this->setting().($this->change->width === null ? '' : " {$this->change->width->text}");
    }

    private function setting(): string
    {
        return match ($this->change->kind) {
            ChangeKind::Text, ChangeKind::Html => 'content',
            ChangeKind::Style => "style {$this->change->text('property')}",
            ChangeKind::Attribute => "attribute {$this->change->text('attribute')}",
            ChangeKind::Hide => 'style display',
            ChangeKind::Move => 'place',
            default => $this->change->kind->value,
        };
    }

    /**
     * Those of an experiment as it is written that can be read and are switched on.
     *
     * @param array<mixed> $variants as in an experiment file, whole or not
     *
     * @return list<self>
     */
    public static function all(array $variants): array
    {
        $all = [];
        foreach (array_values($variants) as $i => $variant) {
            foreach (array_values(is_array($variant) && is_array($variant['changes'] ?? null) ? $variant['changes'] : []) as $j => $json) {
                try {
                    $change = Change::read($json);
                } catch (InvalidInput) {
                    continue;
                }
                if (! $change->isOff) {
                    $all[] = new self($i, $j, $change);
                }
            }
        }

        return $all;
    }
}
