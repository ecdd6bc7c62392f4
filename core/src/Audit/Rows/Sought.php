<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Rows;

use Pellix\Core\Audit\InvalidAudit;
use Pellix\Core\Audit\Part;
use Pellix\Core\Audit\Setup;

/** Whose rows are asked for: of which number, of which variant, of which part. */
final readonly class Sought
{
    /**
     * @param int|null $variant its place; null for all
     * @param int      $goal    its place
     */
    private function __construct(public Behind $behind, public ?int $variant, public int $goal, public Part $part)
    {
    }

    /**
     * @param string|null $variant key
     * @param string|null $goal    key
     *
     * @throws InvalidAudit
     */
    public static function of(Setup $setup, Behind $behind, ?string $variant, ?string $goal, Part $part): self
    {
        $place = $variant === null ? null : array_search($variant, $setup->variants, true);
        if ($place === false) {
            throw new InvalidAudit("The experiment has no variant \"{$variant}\".", 'variant');
        }
        $of = array_search($goal, array_map(static fn ($one): string => $one->key, $setup->goals), true);
        if ($behind->isOfGoal() && $of === false) {
            throw new InvalidAudit($goal === null ? 'Say of which goal.' : "The experiment has no goal \"{$goal}\".", 'goal');
        }

        return new self($behind, $place, (int) $of, $part);
    }
}
