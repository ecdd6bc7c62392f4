<?php

declare(strict_types=1);

namespace Pellix\Core\Audit\Exclusions;

use Pellix\Core\Audit\InvalidAudit;
use Pellix\Core\Formats\Fields;
use Pellix\Core\Rules\Rule;
use Pellix\Core\Rules\RuleReader;

/** A rule with a name and a date by which something is left out of audits. Nothing is deleted: an audit without it has all. */
final readonly class Exclusion
{
    private const MOST_VISITORS = 1000;

    /**
     * @param Rule|null           $rule     on events
     * @param array<string, true> $visitors `#` and id
     * @param int|null            $from     milliseconds since 1970, of a stretch of time
     * @param int|null            $to       the first moment after it
     */
    private function __construct(
        public string $name,
        public ExclusionKind $kind,
        public ?Rule $rule,
        private array $visitors,
        public ?int $from,
        public ?int $to,
        public ?\DateTimeImmutable $made,
    ) {
    }

    /**
     * From `{"name":"Office","kind":"internal","rule":RULE,"visitors":["…"],"made":"2026-03-09T10:00:00Z"}`; `{"kind":"time","from":…,"to":…}`;
     * `{"kind":"page","rule":RULE}`; `{"kind":"bots"}`.
     *
     * @throws InvalidAudit
     */
    public static function read(mixed $json): self
    {
        $fields = new Fields($json, InvalidAudit::class, 'An exclusion');
        $name = $fields->text('name', 120);
        $kind = ExclusionKind::from($fields->word('kind', array_column(ExclusionKind::cases(), 'value'), ''));
        $made = $fields->moment('made');
        $rule = null;
        $visitors = [];
        $from = $to = null;
        if ($kind === ExclusionKind::Time) {
            [$from, $to] = array_map(static fn (string $end): int => self::ms($fields->moment($end) ?? throw new InvalidAudit('A stretch of time needs both its ends, in RFC 3339.', $end)), ['from', 'to']);
            $from < $to || throw new InvalidAudit('It ends after it begins.', 'to');
        }
        $told = is_array($json) ? $json : [];
        if ($kind === ExclusionKind::Page || ($kind === ExclusionKind::Internal && array_key_exists('rule', $told))) {
            $rule = $fields->has('rule') ? $fields->part('rule', static fn (mixed $rule): Rule => RuleReader::read($rule)) : throw new InvalidAudit($kind === ExclusionKind::Page ? 'Say which pages, by a rule on their address.' : 'Say by which rule they are known.', 'rule');
        }
        if ($kind === ExclusionKind::Internal) {
            ($told['visitors'] ?? null) === [] && throw new InvalidAudit('Name one visitor at least.', 'visitors');
            foreach ($fields->list('visitors') as $i => $visitor) {
                $i < self::MOST_VISITORS || throw new InvalidAudit('Name '.self::MOST_VISITORS.' visitors at most; of more, a rule tells.', 'visitors');
                $visitors[is_string($visitor) && $visitor !== '' && strlen($visitor) <= 200 ? "#{$visitor}" : throw new InvalidAudit('The id of a visitor is a text of 200 bytes at most.', "visitors.{$i}")] = true;
            }
        }
        $fields->nothingElse();

        return new self($name, $kind, $rule, $visitors, $from, $to, $made);
    }

    /** Whether nothing but what is known already tells who is meant. */
    public function isByMark(): bool
    {
        return $this->kind === ExclusionKind::Internal && $this->rule === null && $this->visitors === [];
    }

    public function names(string $visitor): bool
    {
        return isset($this->visitors["#{$visitor}"]);
    }

    /** @param int $milliseconds since 1970 */
    public function holds(int $milliseconds): bool
    {
        return $this->from !== null && $this->to !== null && $milliseconds >= $this->from && $milliseconds < $this->to;
    }

    private static function ms(\DateTimeImmutable $at): int
    {
        return 1000 * $at->getTimestamp() + (int) $at->format('v');
    }
}
