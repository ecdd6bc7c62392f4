<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

/** An experiment that has ended and serves one of its variants to everybody: nobody is assigned, and nothing is counted. */
final readonly class Served
{
    /** So long a variant may be served in place of code in the site (common practice, no source). */
    private const DAYS = 14;

    private function __construct(public Experiment $experiment, public DeclaredVariant $variant)
    {
    }

    /** Whether it has been served for so long that code in the site should stand for it. */
    public static function isOverdue(\DateTimeImmutable $since, \DateTimeImmutable $now): bool
    {
        return $since < $now->modify('-'.self::DAYS.' days');
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
