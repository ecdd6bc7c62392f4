<?php

declare(strict_types=1);

namespace Pellix\Core\Audit;

use Pellix\Core\Formats\Moment;
use Pellix\Core\Wiring\Findings\Severity;

/** One thing that an audit found: whom it touches, since when, how much, why it may be, and what to do. */
final readonly class Finding
{
    /** Bytes. */
    private const LONGEST_IDENTITY = 250;

    /**
     * @param string                    $message      the consequence first, with numbers
     * @param string|null               $variant      key of the variant that it touches alone
     * @param string|null               $event        name of the events that it touches alone
     * @param string|null               $page         host and path
     * @param array{dimension: string, value: string}|null $segment visitors whom it touches alone
     * @param int|null                  $since        milliseconds since 1970: where the fault begins; null where it was there from the start, or has no beginning
     * @param int|null                  $until        the same: where it ended; null where it goes on
     * @param array<string, mixed>      $numbers
     * @param list<string>              $causes       likely ones
     * @param list<string>              $next         what to do
     * @param float                     $weight       among findings of one severity the heavier comes first: the part of the visitors, or of what is looked at, that it touches
     * @param list<self>                $consequences findings that follow from it
     */
    public function __construct(
        public AuditCode $code,
        public Severity $severity,
        public string $message,
        public ?string $variant = null,
        public ?string $goal = null,
        public ?string $event = null,
        public ?string $page = null,
        public ?array $segment = null,
        public ?int $since = null,
        public ?int $until = null,
        public array $numbers = [],
        public array $causes = [],
        public array $next = [],
        public float $weight = 0.0,
        public array $consequences = [],
    ) {
    }

    /** @param list<self> $consequences */
    public function leadingTo(array $consequences): self
    {
        return new self($this->code, $this->severity, $this->message, $this->variant, $this->goal, $this->event, $this->page, $this->segment, $this->since, $this->until, $this->numbers, $this->causes, $this->next, $this->weight, $consequences);
    }

    /** The gravest severity of it and of all that follows from it. */
    public function gravest(): Severity
    {
        $gravest = $this->severity;
        foreach ($this->consequences as $one) {
            $gravest = self::rank($one->gravest()) < self::rank($gravest) ? $one->gravest() : $gravest;
        }

        return $gravest;
    }

    /** The gravest comes first. */
    public static function rank(Severity $severity): int
    {
        return match ($severity) {
            Severity::Blocker => 0,
            Severity::Warning => 1,
            Severity::Note => 2,
        };
    }

    /**
     * The order in which findings are read: by severity, then by how much they touch.
     *
     * @param list<self> $findings
     *
     * @return list<self>
     */
    public static function byWeight(array $findings): array
    {
        usort($findings, static fn (self $a, self $b): int => self::rank($a->gravest()) <=> self::rank($b->gravest()) ?: $b->weight <=> $a->weight ?: strcmp($a->identity(), $b->identity()));

        return $findings;
    }

    /** What tells it from others, from one audit to the next. */
    public function identity(): string
    {
        $identity = implode('|', [$this->code->value, $this->variant, $this->goal, $this->event, $this->page, ...array_values($this->segment ?? [])]);

        // Names of events and pages have no end; the beginning and a hash of all tell as much.
        return strlen($identity) <= self::LONGEST_IDENTITY ? $identity : mb_strcut($identity, 0, self::LONGEST_IDENTITY - 20, 'UTF-8').'…'.substr(hash('sha256', $identity), 0, 16);
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return [
            'identity' => $this->identity(),
            'code' => $this->code->value,
            'severity' => $this->severity->value,
            'link' => $this->code->link()->value,
            'variant' => $this->variant,
            'goal' => $this->goal,
            'event' => $this->event,
            'page' => $this->page,
            'segment' => $this->segment,
            'since' => self::time($this->since),
            'until' => self::time($this->until),
            'numbers' => (object) $this->numbers,
            'message' => $this->message,
            'causes' => $this->causes,
            'next' => $this->next,
            'consequences' => array_map(static fn (self $one): array => $one->toArray(), $this->consequences),
        ];
    }

    public static function time(?int $milliseconds): ?string
    {
        return $milliseconds === null ? null : Moment::format(new \DateTimeImmutable('@'.(int) floor($milliseconds / 1000)));
    }
}
