<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inspection;

/** All findings on one page. */
final readonly class Report
{
    /** @param list<Finding> $findings in the order of the page */
    public function __construct(public array $findings)
    {
    }

    /** `broken` with a blocker, `doubt` with a warning, else `sound`. */
    public function verdict(): string
    {
        $severities = array_column($this->findings, 'severity');

        return match (true) {
            in_array('blocker', $severities, true) => 'broken',
            in_array('warning', $severities, true) => 'doubt',
            default => 'sound',
        };
    }

    /** @return array{findings: list<array<string, mixed>>, verdict: string} */
    public function toArray(): array
    {
        return [
            'findings' => array_map(static fn (Finding $finding): array => $finding->toArray(), $this->findings),
            'verdict' => $this->verdict(),
        ];
    }
}
