<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Measures\RecentVisitors;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Pellix\Core\Counting\Baseline;
use Pellix\Core\Counting\Eligibility;
use Pellix\Core\Counting\Reach;
use Pellix\Core\Counting\VisitorLog;
use Pellix\Core\Goals\Goal;
use Pellix\Core\InvalidInput;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Rules\RuleReader;

/** What a plan can be based on: the traffic of an experiment's pages and audience, and what those visitors did, in the last four weeks. */
final readonly class BasisTrial
{
    /**
     * @param array<string, mixed>     $wanted   `pages`, `audience`, `unit`, `goals`
     * @param callable(int, int): bool $progress told how much of how much is done; false stops
     *
     * @return array<string, mixed>|null null where it was stopped
     */
    public function of(Site $site, array $wanted, CarbonImmutable $now, callable $progress): ?array
    {
        $eligibility = new Eligibility(PageRule::read($wanted['pages']), $wanted['audience'] === null ? null : RuleReader::read($wanted['audience']), $wanted['unit']);
        $baseline = new Baseline($eligibility, self::readable($wanted['goals']), $now, new \DateTimeZone($site->time_zone));
        $partial = RecentVisitors::each($site, $now->subWeeks(Reach::WEEKS), $progress, static fn (VisitorLog $log) => $baseline->add($log));

        return $partial === null ? null : [...$baseline->result(), 'partial' => $partial, 'until' => $now->format('Y-m-d\TH:i:s\Z')];
    }

    /**
     * @param list<mixed> $goals
     *
     * @return list<Goal> without those that cannot be read: they say so at their own place
     */
    private static function readable(array $goals): array
    {
        $read = [];
        foreach ($goals as $goal) {
            try {
                $read[] = Goal::read($goal);
            } catch (InvalidInput) {
                continue;
            }
        }

        return $read;
    }
}
