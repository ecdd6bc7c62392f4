<?php

declare(strict_types=1);

namespace App\Rehearsals\Looks;

use App\Rehearsals\Outcome;
use App\Rehearsals\Probe;
use App\Rehearsals\Stage;
use App\Rehearsals\Visitor;
use Pellix\Core\Chain\Link;
use Pellix\Core\Experiments\Change;
use Pellix\Core\Rehearsal\FlickerJudge;
use Pellix\Core\Rehearsal\Screen;

/** Whether anything of the control was painted before the changes were made; and how that would be without the flicker guard. */
final readonly class Flicker
{
    /** So long a change may take. */
    public const PATIENCE = 3.0;

    /** True as soon as every change has been made that can be told of. */
    public const ARE_MADE = 'pellixWatch.asked.stands().every((state) => state === "made" || state === "unknown")';

    /** @param list<Change> $changes */
    public function __construct(private Stage $stage, private string $variant, private Screen $screen, private array $changes)
    {
    }

    /**
     * @param array<string, mixed> $told what the watch of the visit told
     *
     * @return array<string, mixed> figures
     */
    public function judge(Outcome $outcome, Visitor $visitor, array $told): array
    {
        $worst = $this->worst($told);
        $hasGuard = array_filter((array) ($told['scripts'] ?? []), static fn (array $one): bool => (bool) $one[2]) !== [];
        if ($worst !== null && $hasGuard) {
            // A machine that is busy for a moment may hold our file up for longer than the guard waits: once is no proof.
            $again = $this->visit(true);
            $worst = $again === null || $this->worst($again) !== null ? $worst : null;
        }
        $figures = ['flicker_ms' => $worst['ms'] ?? 0.0, 'shown_ms' => FlickerJudge::shownAfter($told['frames'] ?? []), 'paints' => $told['paints'] ?? [], 'shifts' => $told['shifts'] ?? [], 'guard' => $hasGuard];
        if ($worst !== null) {
            $this->keepFrame($visitor, $worst['from']);
            $outcome->found(FlickerJudge::finding($worst, $hasGuard, $this->variant, $this->screen));

            return $figures;
        }
        $bare = $hasGuard && $this->screen === $this->stage->screen() ? $this->visit(false) : null;
        $without = $bare === null ? null : ($this->worst($bare)['ms'] ?? 0.0);
        $outcome->proven(Link::Exposure, 'Nothing of the control was painted before the changes.'.match (true) {
            $without === null => '',
            $without > 0 => ' Without the flicker guard it would have been seen for '.round($without).' ms.',
            default => ' Neither was it in a visit without the flicker guard.',
        }, $this->variant, $this->screen);

        return $without === null ? $figures : [...$figures, 'without_guard_ms' => $without];
    }

    /**
     * @param array<string, mixed> $told
     *
     * @return array{change: int, from: float, ms: float, box: list<int>}|null
     */
    private function worst(array $told): ?array
    {
        return FlickerJudge::longest($told['frames'] ?? [], count($this->changes), (float) ($told['now'] ?? 0));
    }

    /** @return array<string, mixed>|null what the watch of another visit told; null where it saw nothing */
    private function visit(bool $withGuard): ?array
    {
        $visitor = $this->stage->visitors->make($this->variant, $this->screen);
        $withGuard || $visitor->tab->prepare(Probe::text('unguarded'));
        $visitor->tab->prepare(Probe::watch($this->changes));
        $this->stage->visitors->open($visitor);
        $visitor->tab->settle();
        $this->stage->awaitRuntime($visitor->tab, 2.0);
        $visitor->tab->await(self::ARE_MADE, self::PATIENCE, true);
        $visitor->tab->attend(0.1);
        $told = (array) $visitor->tab->evaluate('pellixWatch.told()', true);
        $visitor->leave();

        return ($told['frames'] ?? []) === [] ? null : $told;
    }

    private function keepFrame(Visitor $visitor, float $from): void
    {
        $origin = (float) $visitor->tab->evaluate('performance.timeOrigin', true) / 1000;
        foreach ($visitor->tab->film->frames as $frame) {
            if ($frame['at'] >= $origin + $from / 1000) {
                $this->stage->keep("flicker-{$this->variant}-{$this->screen->value}.jpg", 'image/jpeg', $frame['data']);

                return;
            }
        }
    }
}
