<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

/** An experiment that has ended and serves one of its variants to everybody: nobody is assigned, and nothing is counted. */
final readonly class Served
{
    private function __construct(public Experiment $experiment, public DeclaredVariant $variant)
    {
    }

    /** @throws InvalidExperiment where there is no such variant */
    public static function by(Experiment $experiment, string $key): self
    {
        foreach ($experiment->variants as $variant) {
            if ($variant->variant->key === $key) {
                return new self($experiment, $variant);
            }
        }

        throw new InvalidExperiment("There is no variant \"{$key}\".", 'variants');
    }
}
