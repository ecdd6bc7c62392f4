<?php

declare(strict_types=1);

namespace Pellix\Core\Readout;

use Pellix\Core\Audit\Comparison;
use Pellix\Core\Audit\Finding;
use Pellix\Core\Audit\Report;
use Pellix\Core\Wiring\Findings\Severity;

/** Whether the figures may be shown: not while something blocks, unless somebody lifts the cover and says why. */
final readonly class Gate
{
    public const LONGEST_REASON = 500;

    /**
     * @param list<array<string, mixed>> $findings gravest first, each with `code`, `severity` and `message`; notes are left out
     * @param string|null                $reason   why the cover was lifted
     */
    private function __construct(public array $findings, public ?string $reason)
    {
    }

    /**
     * @param list<array<string, mixed>> $findings
     *
     * @throws InvalidReadout
     */
    public static function of(array $findings, ?string $reason = null): self
    {
        if ($reason !== null && (trim($reason) === '' || mb_strlen($reason) > self::LONGEST_REASON)) {
            throw new InvalidReadout('Say why the figures are to be shown all the same, in up to '.self::LONGEST_REASON.' characters.', 'reason');
        }

        return new self(array_values(array_filter($findings, static fn (array $one): bool => self::gravest($one) !== Severity::Note->value)), $reason === null ? null : trim($reason));
    }

    /** @throws InvalidReadout */
    public static function ofAudit(Report $report, ?string $reason = null): self
    {
        return self::of(array_map(static fn (Finding $one): array => $one->toArray(), $report->findings), $reason);
    }

    public function isBlocked(): bool
    {
        return array_filter($this->findings, static fn (array $one): bool => self::gravest($one) === Severity::Blocker->value) !== [];
    }

    /**
     * Of a finding and all that follows from it.
     *
     * @param array<string, mixed> $finding
     */
    private static function gravest(array $finding): string
    {
        $all = array_map(strval(...), array_column(Comparison::flat([$finding]), 'severity'));

        return in_array(Severity::Blocker->value, $all, true) ? Severity::Blocker->value : (in_array(Severity::Warning->value, $all, true) ? Severity::Warning->value : Severity::Note->value);
    }

    /** Whether figures are shown: somebody may have lifted the cover. */
    public function shows(): bool
    {
        return ! $this->isBlocked() || $this->reason !== null;
    }

    /** `yes`, `no: …` */
    public function words(): string
    {
        $first = $this->findings[0]['message'] ?? null;

        return match (true) {
            $this->isBlocked() => 'no: '.lcfirst(is_string($first) ? $first : ''),
            is_string($first) => 'with care: '.lcfirst($first),
            default => 'yes.',
        };
    }

    /** @return array{open: bool, lifted: bool, reason: string|null, findings: list<array<string, mixed>>} `open`: whether nothing blocks, whoever has lifted what */
    public function toArray(): array
    {
        return ['open' => ! $this->isBlocked(), 'lifted' => $this->isBlocked() && $this->reason !== null, 'reason' => $this->reason, 'findings' => $this->findings];
    }
}
