<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

use Pellix\Core\Formats\Fields;
use Pellix\Core\Formats\Moment;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Rules\Rule;
use Pellix\Core\Rules\RuleReader;

/** The part of an experiment's time in which share, weights, page rule and audience did not change; it ends where the next one begins. */
final readonly class Epoch
{
    /**
     * @param array<string, float> $weights  variant key => weight
     * @param PageRule|null        $pages    where it is not the experiment's
     * @param Rule|null            $audience where it is not the experiment's
     */
    public function __construct(
        public \DateTimeImmutable $from,
        public float $share,
        public array $weights,
        public ?PageRule $pages = null,
        public ?Rule $audience = null,
    ) {
    }

    /**
     * From `{"from":"2026-03-02T00:00:00Z","share":1,"weights":{"control":50,"short":50},"pages":RULE,"audience":RULE}`; the rules may be left out.
     *
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

        return new self(
            $from,
            $fields->number('share', 1.0),
            $checked,
            $fields->has('pages') ? $fields->part('pages', PageRule::read(...)) : null,
            $fields->has('audience') ? $fields->part('audience', static fn (mixed $rule): Rule => RuleReader::read($rule)) : null,
        );
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return array_filter([
            'from' => Moment::format($this->from), 'share' => $this->share, 'weights' => $this->weights,
            'pages' => $this->pages?->rule->toArray(), 'audience' => $this->audience?->toArray(),
        ], static fn (mixed $part): bool => $part !== null);
    }
}
