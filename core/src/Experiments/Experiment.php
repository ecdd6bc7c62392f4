<?php

declare(strict_types=1);

namespace Pellix\Core\Experiments;

use Pellix\Core\Assignment\Assigner;
use Pellix\Core\Assignment\Group;
use Pellix\Core\Assignment\Variant;
use Pellix\Core\Assignment\Variants;
use Pellix\Core\Events\LogEvent;
use Pellix\Core\Formats\Fields;
use Pellix\Core\Formats\Moment;
use Pellix\Core\Goals\Goal;
use Pellix\Core\Planning\Plan;
use Pellix\Core\Rules\Fact;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Rules\Place;
use Pellix\Core\Rules\Rule;
use Pellix\Core\Rules\RuleReader;
use Pellix\Core\Triggers\Trigger;

/** What was declared: the experiment file of docs/formats.md, checked. */
final readonly class Experiment
{
    public const KEY = '/\A[a-z0-9][a-z0-9-]{0,59}\z/';

    public const KINDS = ['in_page', 'redirect', 'multivariate'];

    private const MOST_DAYS = 400;

    /**
     * @param list<DeclaredVariant> $variants     at least two
     * @param Rule|null             $audience     who may enter; null for everybody
     * @param Trigger|null          $trigger      what starts it on a page that matches; null: the page view
     * @param list<Goal>            $goals
     * @param int|null              $lifetimeDays how long a visitor keeps its variant; null: as long as the visitor's id lasts
     * @param int|null              $plannedDays  how long it is meant to run
     * @param Plan|null             $plan         what was assumed and wanted before it began
     * @param DecisionRule          $decision     how it is to be decided
     * @param Group|null            $group        the group of experiments that it shares no unit with
     * @param list<Epoch>           $epochs       in the order of time
     * @param string                $owner        name of who looks after it; empty for nobody
     * @param list<string>          $labels
     * @param bool                  $recordsTellAudience whether recorded events tell who belongs to the audience
     */
    private function __construct(
        public string $key,
        public string $name,
        public Hypothesis $hypothesis,
        public string $owner,
        public string $notes,
        public array $labels,
        public string $kind,
        public string $unit,
        public string $salt,
        public float $share,
        public array $variants,
        public PageRule $pages,
        public ?Rule $audience,
        public ?Trigger $trigger,
        public array $goals,
        public ?int $lifetimeDays,
        public ?int $plannedDays,
        public ?Plan $plan,
        public DecisionRule $decision,
        public ?Group $group,
        public array $epochs,
        public ?\DateTimeImmutable $start,
        public ?\DateTimeImmutable $end,
        public bool $recordsTellAudience,
        private Assigner $assigner,
    ) {
    }

    /**
     * @param bool $toBeKept whether it will run: then a fact that can never be evaluated where it stands is refused, and a member that would be lost
     *
     * @throws InvalidExperiment with the path of the field at fault
     */
    public static function read(mixed $json, bool $toBeKept = false): self
    {
        $fields = new Fields($json, InvalidExperiment::class, 'An experiment');
        if ($fields->raw('pellix') !== 1) {
            throw new InvalidExperiment('The format version 1 is needed: "pellix": 1.', 'pellix');
        }
        if ($fields->has('factors')) {
            throw new InvalidExperiment('Factors are reserved for experiments with several factors, which Pellix does not run yet.', 'factors');
        }
        $key = $fields->pattern('key', self::KEY, 'An experiment key is 1 to 60 of a-z, 0-9 and "-", and starts with a letter or a digit.');
        $declared = self::readList($fields, 'variants', static fn (mixed $variant): DeclaredVariant => DeclaredVariant::read($variant, $toBeKept));
        $salt = $fields->text('salt');
        $share = $fields->number('share', 1.0);
        $variants = self::variants($declared);
        $group = $fields->has('group') ? self::group($fields->raw('group'), $toBeKept) : null;
        $keys = $variants->keys();
        $start = $fields->moment('start');
        $end = $fields->moment('end');
        if ($start !== null && $end !== null && $end <= $start) {
            throw new InvalidExperiment('An experiment ends after it starts.', 'end');
        }
        $audience = $fields->has('audience') ? $fields->part('audience', static fn (mixed $rule): Rule => RuleReader::read($rule, $toBeKept ? Place::Browser : null)) : null;

        $experiment = new self(
            $key,
            $fields->text('name', 120, $key),
            Hypothesis::of($fields),
            $fields->text('owner', 120, ''),
            $fields->text('notes', 10_000, ''),
            self::labels($fields),
            $fields->word('kind', self::KINDS, 'in_page'),
            $fields->word('unit', ['visitor', 'user'], 'visitor'),
            $salt,
            $share,
            $declared,
            $fields->part('pages', static fn (mixed $rule): PageRule => PageRule::read($rule ?? ['all' => []])),
            $audience,
            $fields->has('trigger') ? $fields->part('trigger', static fn (mixed $trigger): Trigger => Trigger::read($trigger, $toBeKept)) : null,
            self::goals($fields, $toBeKept),
            $fields->has('lifetime_days') ? self::days($fields, 'lifetime_days') : null,
            $fields->has('planned_days') ? self::days($fields, 'planned_days') : null,
            $fields->has('plan') ? $fields->part('plan', Plan::read(...)) : null,
            $fields->part('decision', DecisionRule::read(...)),
            $group,
            self::epochs($fields, $keys),
            $start,
            $end,
            $audience === null || Fact::allKnown($audience, Place::RecordedEvent),
            Fields::within('', static fn (): Assigner => new Assigner($salt, $share, $variants, $group), InvalidExperiment::class),
        );
        $toBeKept && $fields->nothingElse();
        $toBeKept && $experiment->checkKind();

        return $experiment;
    }

    /**
     * What a kind asks for before it can run.
     *
     * @throws InvalidExperiment
     */
    private function checkKind(): void
    {
        if ($this->kind === 'multivariate') {
            throw new InvalidExperiment('Pellix runs experiments of the kinds in_page and redirect; multivariate ones are read from files only.', 'kind');
        }
        foreach ($this->variants as $i => $variant) {
            if ($this->kind === 'in_page' && $variant->target !== null) {
                throw new InvalidExperiment('Only a variant of a redirect test leads to another page; the kind of this experiment is in_page.', "variants.{$i}.target");
            }
            if ($this->kind === 'redirect') {
                $this->checkRedirect($variant, $i);
            }
        }
        if ($this->kind === 'redirect' && $this->trigger !== null && $this->trigger->kind->value !== 'page') {
            throw new InvalidExperiment('A redirect test starts as soon as the page is opened: nobody should see a page that is about to be left.', 'trigger');
        }
    }

    /** @throws InvalidExperiment */
    private function checkRedirect(DeclaredVariant $variant, int $i): void
    {
        if ($variant->changes !== []) {
            throw new InvalidExperiment('A redirect test changes nothing on the page that is left.', "variants.{$i}.changes");
        }
        if (! $variant->variant->isControl && $variant->target === null) {
            throw new InvalidExperiment('Type the address that this variant leads to; or make it the control, which stays on the page.', "variants.{$i}.target");
        }
        $this->checkReturn($variant, $i, []);
    }

    /**
     * Refuses what visitors of a site must not be sent to: other hosts, and pages that they would be sent away from again.
     *
     * @param list<string> $hosts of the site
     *
     * @throws InvalidExperiment
     */
    public function checkTargets(array $hosts): void
    {
        foreach ($this->variants as $i => $variant) {
            $host = $variant->target === null ? null : Redirect::host($variant->target);
            if ($host !== null && ! in_array($host, $hosts, true)) {
                throw new InvalidExperiment("The host {$host} is none of this site's: ".implode(', ', $hosts).'.', "variants.{$i}.target");
            }
            $this->checkReturn($variant, $i, $hosts);
        }
    }

    /** @param list<string> $hosts */
    private function checkReturn(DeclaredVariant $variant, int $i, array $hosts): void
    {
        if ($variant->target !== null && Redirect::returns($this->pages, $variant->target, $hosts)) {
            throw new InvalidExperiment('The page rule matches this address, too: whoever opened it directly would be in the experiment, and whoever arrived would be sent on. Make the page rule narrower.', "variants.{$i}.target");
        }
    }

    /**
     * @param Fields<InvalidExperiment> $fields
     *
     * @return list<string>
     */
    private static function labels(Fields $fields): array
    {
        $labels = [];
        foreach ($fields->list('labels') as $i => $label) {
            if (! is_string($label) || preg_match('/\A[^\s,](?:[^,\p{C}]{0,38}[^\s,])?\z/u', $label) !== 1) {
                throw new InvalidExperiment('A label is a text of 1 to 40 characters without a comma.', "labels.{$i}");
            }
            if (! in_array($label, $labels, true)) {
                $labels[] = $label;
            }
        }

        return count($labels) <= 20 ? $labels : throw new InvalidExperiment('An experiment has at most 20 labels.', 'labels');
    }

    public function assigner(): Assigner
    {
        return $this->assigner;
    }

    public function hasVariant(?string $key): bool
    {
        foreach ($this->variants as $variant) {
            if ($variant->variant->key === $key) {
                return true;
            }
        }

        return false;
    }

    /** Position of the epoch that a moment lies in; 0 where it lies before the first, or none is known. */
    public function epochAt(\DateTimeImmutable $moment): int
    {
        $at = 0;
        foreach ($this->epochs as $i => $epoch) {
            if ($epoch->from <= $moment) {
                $at = $i;
            }
        }

        return $at;
    }

    /** Who was assigned how in one of the epochs. */
    public function assignerIn(int $epoch): Assigner
    {
        $then = $this->epochs[$epoch] ?? null;

        return $then === null ? $this->assigner : new Assigner($this->salt, $then->share, Variants::of(array_map(
            static fn (DeclaredVariant $one): Variant => Variant::of($one->variant->key, $then->weights[$one->variant->key] ?? 0, $one->variant->isControl),
            $this->variants,
        )), $this->group);
    }

    /**
     * Whether a page view makes its unit eligible, by the rules of the epoch that it lies in. What recorded events do not
     * tell, such as a cookie, rules nobody out here.
     */
    public function isEligible(LogEvent $view): bool
    {
        // Most have one epoch, whose rules are the experiment's own.
        $epoch = count($this->epochs) > 1 ? $this->epochs[$this->epochAt($view->time)] : $this->epochs[0] ?? null;
        if (! ($epoch->pages ?? $this->pages)->matches($view->url)) {
            return false;
        }
        $audience = $epoch->audience ?? $this->audience;

        return $audience === null || ! $this->recordsTellAudience || $audience->matches($view->facts());
    }

    /** @return array<string, mixed> the experiment file's object */
    public function toArray(): array
    {
        $file = [
            'pellix' => 1,
            'key' => $this->key,
            'name' => $this->name,
            'hypothesis' => $this->hypothesis->text,
            'hypothesis_parts' => $this->hypothesis->parts === [] ? null : $this->hypothesis->parts,
            'owner' => $this->owner === '' ? null : $this->owner,
            'notes' => $this->notes === '' ? null : $this->notes,
            'labels' => $this->labels === [] ? null : $this->labels,
            'kind' => $this->kind,
            'unit' => $this->unit,
            'salt' => $this->salt,
            'share' => $this->share,
            'variants' => array_map(static fn (DeclaredVariant $variant): array => $variant->toArray(), $this->variants),
            'pages' => $this->pages->rule->toArray(),
            'audience' => $this->audience?->toArray(),
            'trigger' => $this->trigger?->toArray(),
            'goals' => array_map(static fn (Goal $goal): array => $goal->toArray(), $this->goals),
            'lifetime_days' => $this->lifetimeDays,
            'planned_days' => $this->plannedDays,
            'plan' => $this->plan?->toArray(),
            'decision' => $this->decision->isEmpty() ? null : $this->decision->toArray(),
            'group' => $this->group === null ? null : array_filter(['key' => $this->group->key, 'from' => $this->group->from], static fn (mixed $part): bool => $part !== null),
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

    /** @param list<DeclaredVariant> $declared */
    private static function variants(array $declared): Variants
    {
        $variants = array_map(static fn (DeclaredVariant $one): Variant => $one->variant, $declared);

        return Fields::within('variants', static fn (): Variants => Variants::of($variants), InvalidExperiment::class);
    }

    private static function group(mixed $json, bool $toBeKept): Group
    {
        return Fields::within('group', static function () use ($json, $toBeKept): Group {
            $fields = new Fields($json, InvalidExperiment::class, 'A group');
            $group = Fields::within('', static fn (): Group => new Group($fields->text('key', 60), $fields->has('from') ? $fields->number('from') : null), InvalidExperiment::class);
            $toBeKept && $fields->nothingElse();

            return $group;
        }, InvalidExperiment::class);
    }

    /** @param Fields<InvalidExperiment> $fields */
    private static function days(Fields $fields, string $name): int
    {
        $days = $fields->number($name);
        if ($days !== floor($days) || $days < 1 || $days > self::MOST_DAYS) {
            throw new InvalidExperiment('A whole number of days from 1 to '.self::MOST_DAYS.' is needed.', $name);
        }

        return (int) $days;
    }

    /**
     * @param Fields<InvalidExperiment> $fields
     * @param list<string>              $keys
     *
     * @return list<Epoch>
     */
    private static function epochs(Fields $fields, array $keys): array
    {
        $epochs = self::readList($fields, 'epochs', static fn (mixed $epoch): Epoch => Epoch::read($epoch, $keys));
        foreach ($epochs as $i => $epoch) {
            if ($i > 0 && $epoch->from <= $epochs[$i - 1]->from) {
                throw new InvalidExperiment('Epochs follow one another in time.', "epochs.{$i}.from");
            }
        }

        return $epochs;
    }

    /**
     * @param Fields<InvalidExperiment> $fields
     *
     * @return list<Goal>
     */
    private static function goals(Fields $fields, bool $toBeKept): array
    {
        $goals = self::readList($fields, 'goals', static fn (mixed $goal): Goal => Goal::read($goal, $toBeKept));
        $keys = [];
        foreach ($goals as $i => $goal) {
            if (isset($keys[$goal->key])) {
                throw new InvalidExperiment("The key \"{$goal->key}\" is taken by an earlier goal.", "goals.{$i}.key");
            }
            $keys[$goal->key] = true;
        }

        return $goals;
    }

    /**
     * Whether this experiment, once it has started, may go on as another: what visitors were told apart by when it began
     * cannot become something else.
     *
     * @throws InvalidExperiment at the field that must stay as it is
     */
    public function mayBecome(self $other): void
    {
        $keys = static fn (self $one): array => array_map(static fn (DeclaredVariant $variant): string => $variant->variant->key, $one->variants);
        if ($keys($this) !== $keys($other)) {
            throw new InvalidExperiment('The variants of an experiment that has started, and their order, stay as they are; give one the weight 0 to show it to nobody else.', 'variants');
        }
        if ($this->unit !== $other->unit) {
            throw new InvalidExperiment('An experiment that has started goes on by the same unit.', 'unit');
        }
        if ($this->group?->key !== $other->group?->key) {
            throw new InvalidExperiment('An experiment that has started stays in its group, or outside of all.', 'group');
        }
        if ($this->kind !== $other->kind) {
            throw new InvalidExperiment('An experiment that has started stays of its kind.', 'kind');
        }
    }
}
