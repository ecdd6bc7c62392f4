<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

use Pellix\Core\Assignment\Assigner;
use Pellix\Core\Assignment\Variant;
use Pellix\Core\Assignment\Variants;
use Pellix\Core\Formats\Fields;
use Pellix\Core\Formats\Moment;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Rules\Rule;
use Pellix\Core\Rules\RuleReader;
use Pellix\Core\Wiring\Tags\Trigger;

/** What was declared: the experiment file of docs/formats.md, checked. */
final readonly class Experiment
{
    public const KEY = '/\A[a-z0-9][a-z0-9-]{0,59}\z/';

    /**
     * @param list<Arm>   $arms   at least two
     * @param Trigger|null $trigger what starts it on a page that matches; null: the page view
     * @param list<Goal>  $goals
     * @param list<Epoch> $epochs
     */
    private function __construct(
        public string $key,
        public string $name,
        public string $hypothesis,
        public string $kind,
        public string $unit,
        public string $salt,
        public float $share,
        public array $arms,
        public PageRule $pages,
        public ?Rule $audience,
        public ?Trigger $trigger,
        public array $goals,
        public array $epochs,
        public ?\DateTimeImmutable $start,
        public ?\DateTimeImmutable $end,
        private Assigner $assigner,
    ) {
    }

    /** @throws InvalidExperiment with the path of the field at fault */
    public static function read(mixed $json): self
    {
        $fields = new Fields($json, InvalidExperiment::class, 'An experiment');
        if ($fields->raw('pellix') !== 1) {
            throw new InvalidExperiment('The format version 1 is needed: "pellix": 1.', 'pellix');
        }
        $key = $fields->pattern('key', self::KEY, 'An experiment key is 1 to 60 of a-z, 0-9 and "-", and starts with a letter or a digit.');
        $arms = self::readList($fields, 'variants', Arm::read(...));
        $salt = $fields->text('salt');
        $share = $fields->number('share', 1.0);
        $variants = self::variants($arms);
        $keys = $variants->keys();
        $start = $fields->moment('start');
        $end = $fields->moment('end');
        if ($start !== null && $end !== null && $end <= $start) {
            throw new InvalidExperiment('An experiment ends after it starts.', 'end');
        }

        return new self(
            $key,
            $fields->text('name', 120, $key),
            $fields->text('hypothesis', 2000, ''),
            $fields->word('kind', ['in_page', 'redirect', 'multivariate'], 'in_page'),
            $fields->word('unit', ['visitor', 'user'], 'visitor'),
            $salt,
            $share,
            $arms,
            $fields->part('pages', static fn (mixed $rule): PageRule => PageRule::read($rule ?? ['all' => []])),
            $fields->has('audience') ? $fields->part('audience', RuleReader::read(...)) : null,
            $fields->has('trigger') ? $fields->part('trigger', Trigger::read(...)) : null,
            self::goals($fields),
            self::readList($fields, 'epochs', static fn (mixed $epoch): Epoch => Epoch::read($epoch, $keys)),
            $start,
            $end,
            Fields::within('', static fn (): Assigner => new Assigner($salt, $share, $variants), InvalidExperiment::class),
        );
    }

    public function assigner(): Assigner
    {
        return $this->assigner;
    }

    /** @return array<string, mixed> the experiment file's object */
    public function toArray(): array
    {
        $file = [
            'pellix' => 1,
            'key' => $this->key,
            'name' => $this->name,
            'hypothesis' => $this->hypothesis,
            'kind' => $this->kind,
            'unit' => $this->unit,
            'salt' => $this->salt,
            'share' => $this->share,
            'variants' => array_map(static fn (Arm $arm): array => $arm->toArray(), $this->arms),
            'pages' => $this->pages->rule->toArray(),
            'audience' => $this->audience?->toArray(),
            'trigger' => $this->trigger?->toArray(),
            'goals' => array_map(static fn (Goal $goal): array => $goal->toArray(), $this->goals),
            'epochs' => array_map(static fn (Epoch $epoch): array => $epoch->toArray(), $this->epochs),
            'start' => $this->start === null ? null : Moment::format($this->start),
            'end' => $this->end === null ? null : Moment::format($this->end),
        ];

        return array_filter($file, static fn (mixed $value): bool => $value !== null);
    }

    /**
     * @template T
     *
     * @param Fields<InvalidExperiment> $fields
     * @param callable(mixed): T        $reader
     *
     * @return list<T>
     */
    private static function readList(Fields $fields, string $name, callable $reader): array
    {
        $read = [];
        foreach ($fields->list($name) as $i => $item) {
            $read[] = Fields::within("{$name}.{$i}", static fn () => $reader($item), InvalidExperiment::class);
        }

        return $read;
    }

    /** @param list<Arm> $arms */
    private static function variants(array $arms): Variants
    {
        $variants = array_map(static fn (Arm $arm): Variant => $arm->variant, $arms);

        return Fields::within('variants', static fn (): Variants => Variants::of($variants), InvalidExperiment::class);
    }

    /**
     * @param Fields<InvalidExperiment> $fields
     *
     * @return list<Goal>
     */
    private static function goals(Fields $fields): array
    {
        $goals = self::readList($fields, 'goals', Goal::read(...));
        $keys = [];
        foreach ($goals as $i => $goal) {
            if (isset($keys[$goal->key])) {
                throw new InvalidExperiment("The key \"{$goal->key}\" is taken by an earlier goal.", "goals.{$i}.key");
            }
            $keys[$goal->key] = true;
        }

        return $goals;
    }
}
