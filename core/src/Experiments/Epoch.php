<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

use Pellix\Core\Formats\Fields;
use Pellix\Core\Formats\Moment;

/** A stretch of an experiment in which share and weights did not change; it ends where the next one begins. */
final readonly class Epoch
{
    /** @param array<string, float> $weights variant key => weight */
    public function __construct(public \DateTimeImmutable $from, public float $share, public array $weights)
    {
    }

    /**
     * @param list<string> $variants the keys that weights may be given for
     *
     * @throws InvalidExperiment
     */
    public static function read(mixed $json, array $variants): self
    {
        $fields = new Fields($json, InvalidExperiment::class, 'An epoch');
        $from = $fields->moment('from') ?? throw new InvalidExperiment('An epoch needs the time it began.', 'from');
        $weights = $fields->raw('weights');
        if (! is_array($weights)) {
            throw new InvalidExperiment('An object with a weight per variant is needed.', 'weights');
        }
        $checked = [];
        foreach ($weights as $key => $weight) {
            if (! in_array((string) $key, $variants, true)) {
                throw new InvalidExperiment("There is no variant \"{$key}\".", "weights.{$key}");
            }
            if ((! is_int($weight) && ! is_float($weight)) || $weight < 0) {
                throw new InvalidExperiment('A weight is a number that is not negative.', "weights.{$key}");
            }
            $checked[(string) $key] = (float) $weight;
        }

        return new self($from, $fields->number('share', 1.0), $checked);
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return ['from' => Moment::format($this->from), 'share' => $this->share, 'weights' => $this->weights];
    }
}
