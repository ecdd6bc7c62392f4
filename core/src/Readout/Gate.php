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
     * @param string                     $else     what is said of the data where nothing was found
     */
    private function __construct(public array $findings, public ?string $reason, private string $else)
    {
    }

    /**
     * @param list<array<string, mixed>> $findings
     *
     * @throws InvalidReadout
     */
    public static function of(array $findings, ?string $reason = null, string $else = 'yes.'): self
    {
        if ($reason !== null && (trim($reason) === '' || mb_strlen($reason) > self::LONGEST_REASON)) {
            throw new InvalidReadout('Say why the figures are to be shown all the same, in up to '.self::LONGEST_REASON.' characters.', 'reason');
        }

        return new self(array_values(array_filter($findings, static fn (array $one): bool => self::gravest($one) !== Severity::Note->value)), $reason === null ? null : trim($reason), $else);
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
        $all = array_column(Comparison::flat([$finding]), 'severity');

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
            $first !== null => 'with care, for '.(count($this->findings) === 1 ? 'a warning' : count($this->findings).' warnings').' beside the figures.',
            default => $this->else,
        };
    }

    /**
     * A readout behind the gate: where it is shut, without any figure.
     *
     * @param array<string, mixed> $figures as `Readout::figures()` has them, perhaps with more
     *
     * @return array<string, mixed>
     */
    public function before(array $figures): array
    {
        $says = is_string($figures['says'] ?? null) ? $figures['says'] : '';
        unset($figures['says']);
        $head = ['pellix' => 1, 'experiment' => $figures['experiment'] ?? null, 'sentence' => $this->shows() ? "{$says} Data fit: {$this->words()}" : "The figures are covered. Data fit: {$this->words()}", 'gate' => $this->toArray()];
        if ($this->shows()) {
            $head['gate']['findings'] = array_map(static fn (array $one): array => [...$one, 'without' => self::without($one, $figures)], $this->findings);

            return [...$head, ...$figures];
        }
        /** @var list<array<string, mixed>> $goals */
        $goals = $figures['goals'] ?? [];
        /** @var array{planned: int|null} $enough */
        $enough = $figures['enough'];

        return [
            ...$head, 'interval' => $figures['interval'], 'level' => $figures['level'], 'why' => $figures['why'], 'over' => $figures['over'],
            'enough' => ['planned' => $enough['planned'], 'have' => null, 'is' => null], 'goals' => array_map(self::covered(...), $goals), 'visits' => [],
        ];
    }

    /**
     * What the figures would be without the part of the visitors that a finding touches alone.
     *
     * @param array<string, mixed> $finding
     * @param array<string, mixed> $figures
     *
     * @return list<string> of each variant; none where the finding touches everybody, or its part is too small
     */
    private static function without(array $finding, array $figures): array
    {
        /** @var array{dimension: string, value: string}|null $segment */
        $segment = $finding['segment'] ?? null;
        if ($segment === null) {
            return [];
        }
        /** @var array{dimensions: list<array{dimension: string, variant: string, rows: list<array{value: string, without: array{told: string}|null}>}>}|null $segments */
        $segments = $figures['segments'] ?? null;
        $said = [];
        foreach ($segments['dimensions'] ?? [] as $dimension) {
            foreach ($dimension['dimension'] === $segment['dimension'] ? $dimension['rows'] : [] as $row) {
                if ($row['value'] === $segment['value'] && $row['without'] !== null) {
                    $said[] = "Without {$segment['dimension']} {$segment['value']}: {$dimension['variant']} {$row['without']['told']}.";
                }
            }
        }

        return $said;
    }

    /**
     * @param array<string, mixed> $goal
     *
     * @return array<string, mixed> what may be said of it without figures
     */
    private static function covered(array $goal): array
    {
        /** @var list<array<string, mixed>> $variants */
        $variants = $goal['variants'];

        return [
            ...array_intersect_key($goal, ['key' => 0, 'name' => 0, 'role' => 0, 'measure' => 0]),
            'variants' => array_map(static fn (array $one): array => ['key' => $one['key'], 'control' => $one['control']], $variants),
            'verdict' => null, 'sentence' => 'Covered: the data is not fit to decide on.',
        ];
    }

    /** @return array{open: bool, lifted: bool, reason: string|null, findings: list<array<string, mixed>>} `open`: whether nothing blocks, whoever has lifted what */
    public function toArray(): array
    {
        return ['open' => ! $this->isBlocked(), 'lifted' => $this->isBlocked() && $this->reason !== null, 'reason' => $this->reason, 'findings' => $this->findings];
    }
}
