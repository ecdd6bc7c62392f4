<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring\Inspection;

use Pellix\Core\Wiring\Findings\Finding;

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

    /**
     * Which of the required code is missing or does not work: `page` (there is none to look at), `snippet`, `guard`, `tag:KEY`.
     *
     * @return list<string>
     */
    public function faulty(): array
    {
        $faulty = [];
        foreach ($this->findings as $finding) {
            $part = match (true) {
                $finding->tag !== null => "tag:{$finding->tag}",
                $finding->code === 'guard.missing' => 'guard',
                $finding->severity !== 'blocker' => null,
                str_starts_with($finding->code, 'page.') => 'page',
                default => 'snippet',
            };
            if ($part !== null && ! in_array($part, $faulty, true)) {
                $faulty[] = $part;
            }
        }

        return $faulty;
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
