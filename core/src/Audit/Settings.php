<?php

declare(strict_types=1);

namespace Pellix\Core\Audit;

use Pellix\Core\Audit\Exclusions\Exclusions;
use Pellix\Core\Formats\Fields;
use Pellix\Core\Rules\Rule;
use Pellix\Core\Rules\RuleReader;

/** What an audit has to be told since no log says it: the member `audit` of an experiment file. */
final readonly class Settings
{
    /**
     * @param \DateTimeZone    $zone         of the site: whose days and hours are meant
     * @param bool             $isRecomputed whether the variants were assigned as DESIGN says, so that they can be worked out again
     * @param Rule|null        $internal     what tells events of one's own people
     * @param list<string>     $insiders     visitor ids of one's own people
     * @param list<string>     $hosts        of the site
     * @param list<string>     $sisters      hosts that visitors are sent to and come back from, such as that of a payment
     * @param list<array{goal: string, at: int}> $goalChanges when a goal was given another rule, in milliseconds
     * @param int              $sessionMinutes
     * @param Exclusions       $exclusions   what is left out
     */
    private function __construct(
        public \DateTimeZone $zone,
        public bool $isRecomputed,
        public ?Rule $internal,
        public array $insiders,
        public array $hosts,
        public array $sisters,
        public array $goalChanges,
        public int $sessionMinutes,
        public Exclusions $exclusions,
    ) {
    }

    /**
     * From `{"time_zone":"Europe/Berlin","assignment":"pellix","internal":RULE,"internal_visitors":[…],"hosts":[…],"sister_hosts":[…],
     * "goal_changes":[{"goal":"joined","at":"2026-03-09T00:00:00Z"}],"session_minutes":30,"exclusions":[…]}`, every member of which may be missing.
     *
     * @throws InvalidAudit
     */
    public static function read(mixed $json): self
    {
        $fields = new Fields($json ?? [], InvalidAudit::class, 'What an audit is told');
        $name = $fields->text('time_zone', 60, 'UTC');
        if (! in_array($name, \DateTimeZone::listIdentifiers(\DateTimeZone::ALL_WITH_BC), true)) {
            throw new InvalidAudit("\"{$name}\" is no time zone; write it like Europe/Berlin.", 'time_zone');
        }
        $changes = [];
        foreach ($fields->list('goal_changes') as $i => $change) {
            $changes[] = Fields::within("goal_changes.{$i}", static function () use ($change): array {
                $one = new Fields($change, InvalidAudit::class, 'A change of a goal');
                $at = $one->moment('at') ?? throw new InvalidAudit('A change needs the time it was made.', 'at');

                return ['goal' => $one->text('goal', 60), 'at' => 1000 * $at->getTimestamp()];
            }, InvalidAudit::class);
        }
        $minutes = $fields->number('session_minutes', 30);
        if ($minutes !== floor($minutes) || $minutes < 1 || $minutes > 1440) {
            throw new InvalidAudit('A whole number of minutes from 1 to 1440 is needed.', 'session_minutes');
        }
        $read = new self(
            new \DateTimeZone($name),
            $fields->word('assignment', ['pellix', 'elsewhere'], 'pellix') === 'pellix',
            $fields->has('internal') ? $fields->part('internal', static fn (mixed $rule): Rule => RuleReader::read($rule)) : null,
            self::texts($fields, 'internal_visitors'),
            array_map(strtolower(...), self::texts($fields, 'hosts')),
            array_map(strtolower(...), self::texts($fields, 'sister_hosts')),
            $changes,
            (int) $minutes,
            Fields::within('exclusions', static fn (): Exclusions => Exclusions::read($fields->list('exclusions')), InvalidAudit::class),
        );
        $fields->nothingElse();

        return $read;
    }

    /**
     * @param Fields<InvalidAudit> $fields
     *
     * @return list<string>
     */
    private static function texts(Fields $fields, string $name): array
    {
        $texts = [];
        foreach ($fields->list($name) as $i => $text) {
            $texts[] = is_string($text) && $text !== '' ? $text : throw new InvalidAudit('A text is needed.', "{$name}.{$i}");
        }

        return $texts;
    }

    /** The same with nothing left out. */
    public function whole(): self
    {
        return new self($this->zone, $this->isRecomputed, $this->internal, $this->insiders, $this->hosts, $this->sisters, $this->goalChanges, $this->sessionMinutes, Exclusions::read([]));
    }

    /** A moment as people at the site would say it: `9 March 14:00`. */
    public function told(int $milliseconds): string
    {
        return (new \DateTimeImmutable('@'.(int) floor($milliseconds / 1000)))->setTimezone($this->zone)->format('j F H:i');
    }
}
