<?php

declare(strict_types=1);

namespace Pellix\Core\Internal;

use Pellix\Core\InvalidInput;
use Pellix\Core\Rules\Facts;
use Pellix\Core\Rules\Place;
use Pellix\Core\Rules\Rule;
use Pellix\Core\Rules\RuleReader;

/** By what a site's own people and machines are known, so that what they do is not counted as visitors' doings. */
final readonly class InternalTraffic
{
    public const MOST_RANGES = 200;
    public const MOST_AGENTS = 20;
    public const MOST_MARKS = 100;

    /** The property of events in which a browser tells its mark. */
    public const PROPERTY = 'plx_own';

    /**
     * @param list<array{range: AddressRange, note: string}> $addresses
     * @param list<string>                                    $agents    parts of user agents, in any case
     * @param Rule|null                                       $rule      about an event
     * @param array<mixed>|null                               $ruleJson  as it was written
     * @param list<Mark>                                      $marks
     */
    private function __construct(public array $addresses, public array $agents, public ?Rule $rule, private ?array $ruleJson, public array $marks)
    {
    }

    /**
     * From `{"addresses":[{"range":"192.0.2.0/24","note":"Office"}],"agents":["uptime-check"],"rule":RULE|null,"marks":[{"name":"Ana","token":"…"}]}`; each may be missing.
     *
     * @throws InvalidInput at the field at fault
     */
    public static function read(mixed $json): self
    {
        if (! is_array($json)) {
            throw new InvalidInternal('An object is needed: addresses, agents, rule.', '');
        }
        $addresses = [];
        foreach (self::rows($json, 'addresses', self::MOST_RANGES) as $i => $row) {
            $row = is_array($row) ? $row : [];
            $range = AddressRange::read(is_string($row['range'] ?? null) ? $row['range'] : '', "addresses.{$i}.range");
            $addresses[] = ['range' => $range, 'note' => self::line($row['note'] ?? '', "addresses.{$i}.note", 0, 80)];
        }
        $agents = [];
        foreach (self::rows($json, 'agents', self::MOST_AGENTS) as $i => $part) {
            $agents[] = self::line($part, "agents.{$i}", 4, 100);
        }
        $marks = [];
        foreach (self::rows($json, 'marks', self::MOST_MARKS) as $i => $mark) {
            $token = is_array($mark) ? $mark['token'] ?? null : null;
            if (! is_string($token) || preg_match('/\A[a-z0-9]{20}\z/', $token) !== 1) {
                throw new InvalidInternal('The token of a mark is 20 of a-z and 0-9.', "marks.{$i}.token");
            }
            $marks[] = new Mark(self::line($mark['name'] ?? '', "marks.{$i}.name", 1, 80), $token);
        }
        $rule = $json['rule'] ?? null;
        try {
            $read = $rule === null ? null : RuleReader::read($rule, Place::RecordedEvent);
        } catch (InvalidInput $e) {
            throw new InvalidInternal($e->getMessage(), rtrim("rule.{$e->field}", '.'));
        }
        if ($read !== null && iterator_to_array($read->conditions(), false) === []) {
            throw new InvalidInternal('A rule without a condition would leave out everybody. Say by what own people are known.', 'rule');
        }

        return new self($addresses, $agents, $read, is_array($rule) ? $rule : null, $marks);
    }

    /** By what a whole beacon is known, whatever is in it. */
    public function ofBeacon(string $address, string $agent): ?InternalReason
    {
        foreach ($this->addresses as $one) {
            if ($one['range']->contains($address)) {
                return InternalReason::Address;
            }
        }
        foreach ($this->agents as $part) {
            if (mb_stripos($agent, $part, 0, 'UTF-8') !== false) {
                return InternalReason::Agent;
            }
        }

        return null;
    }

    /** By what one event is known. @param mixed $mark that its browser tells */
    public function ofEvent(mixed $mark, Facts $facts): ?InternalReason
    {
        foreach ($this->marks as $one) {
            if (is_string($mark) && hash_equals($one->token, $mark)) {
                return InternalReason::Mark;
            }
        }

        return $this->rule?->matches($facts) === true ? InternalReason::Rule : null;
    }

    public function isEmpty(): bool
    {
        return $this->addresses === [] && $this->agents === [] && $this->rule === null && $this->marks === [];
    }

    /** @return array{addresses: list<array{range: string, note: string}>, agents: list<string>, rule: array<mixed>|null, marks: list<array{name: string, token: string}>} */
    public function toArray(): array
    {
        return [
            'addresses' => array_map(static fn (array $one): array => ['range' => $one['range']->text(), 'note' => $one['note']], $this->addresses),
            'agents' => $this->agents,
            'rule' => $this->ruleJson,
            'marks' => array_map(static fn (Mark $mark): array => ['name' => $mark->name, 'token' => $mark->token], $this->marks),
        ];
    }

    /**
     * @param array<mixed> $json
     *
     * @return list<mixed>
     */
    private static function rows(array $json, string $field, int $most): array
    {
        $rows = $json[$field] ?? [];
        if (! is_array($rows) || ! array_is_list($rows)) {
            throw new InvalidInternal('A list is needed.', $field);
        }
        if (count($rows) > $most) {
            throw new InvalidInternal("There are {$most} of them at most.", $field);
        }

        return $rows;
    }

    private static function line(mixed $value, string $field, int $least, int $most): string
    {
        $text = is_string($value) && mb_check_encoding($value, 'UTF-8') ? trim((string) preg_replace('/[\p{C}\s]+/u', ' ', $value)) : null;
        if ($text === null || mb_strlen($text, 'UTF-8') < $least || mb_strlen($text, 'UTF-8') > $most) {
            throw new InvalidInternal("Text of {$least} to {$most} characters is needed.", $field);
        }

        return $text;
    }
}
