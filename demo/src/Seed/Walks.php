<?php

declare(strict_types=1);

namespace Demo\Seed;

use Demo\Library;
use Demo\Traffic\Dice;

/** Where visitors of the demo site walk, and when: invented habits. */
final readonly class Walks
{
    /** Relative traffic per hour of the day. */
    private const HOURS = [2, 1, 1, 1, 1, 2, 4, 7, 9, 10, 10, 11, 12, 11, 10, 10, 11, 13, 15, 17, 18, 15, 9, 4];

    private const WEEKEND = 1.3;

    public function __construct(private Dice $dice)
    {
    }

    /** How many visitors begin in the hour that starts at `$hour`, for a mean per day. */
    public function visitors(\DateTimeImmutable $hour, int $perDay): int
    {
        $mean = $perDay * self::HOURS[(int) $hour->format('G')] / array_sum(self::HOURS) * ((int) $hour->format('N') >= 6 ? self::WEEKEND : 1);

        return (int) floor($mean + $this->dice->fraction());
    }

    /** @return list<string> the paths of one visit, in order */
    public function next(): array
    {
        $slugs = array_keys(Library::INSTRUMENTS);
        $instrument = '/catalogue/'.$slugs[$this->dice->between(0, count($slugs) - 1)];
        $walk = match (true) {
            $this->dice->chance(0.62) => ['/', '/catalogue'],
            $this->dice->chance(0.5) => ['/catalogue'],
            $this->dice->chance(0.3) => ['/', '/workshops'],
            $this->dice->chance(0.5) => ['/', '/join'],
            default => ['/', '/donate'],
        };
        if (end($walk) === '/catalogue' && $this->dice->chance(0.7)) {
            $walk[] = $instrument;
            if ($this->dice->chance(0.5)) {
                $walk = [...$walk, '/loan', ...$this->steps(['/loan/details', '/loan/confirm', '/loan/done'], 0.68)];
            }
        }
        if (end($walk) === '/join') {
            $walk = [...$walk, ...$this->steps(['/join/done'], 0.27)];
        }
        if (end($walk) === '/donate') {
            $walk = [...$walk, ...$this->steps(['/donate/thanks'], 0.2)];
        }
        if (end($walk) === '/catalogue' && $this->dice->chance(0.25)) {
            $walk = [...$walk, '/join', ...$this->steps(['/join/done'], 0.22)];
        }

        return $walk;
    }

    /**
     * @param list<string> $steps
     *
     * @return list<string>
     */
    private function steps(array $steps, float $onward): array
    {
        $taken = [];
        foreach ($steps as $step) {
            if (! $this->dice->chance($onward)) {
                break;
            }
            $taken[] = $step;
        }

        return $taken;
    }
}
