<?php

declare(strict_types=1);

namespace Demo\Logs;

use Pellix\Core\Formats\Moment;

/** What log is to be written. */
final readonly class Settings
{
    /** A Monday. */
    private const BEGIN = 1772409600;

    /**
     * @param list<float>           $weights of the variants; the first is the control
     * @param list<list<float>>     $epochs  weights of each epoch, of equal length
     * @param list<Fault>           $faults
     */
    public function __construct(public int $visitors, public int $days, public int $seed, public array $weights, public array $epochs, public array $faults, public float $effect = 0.08)
    {
    }

    /** Milliseconds since 1970. */
    public function begin(): int
    {
        return 1000 * self::BEGIN;
    }

    public function end(): int
    {
        return $this->begin() + 86_400_000 * $this->days;
    }

    /** Of the run: before that of the log, where exposures outside of it are wanted. */
    public function runEnd(): int
    {
        return array_filter($this->faults, static fn (Fault $fault): bool => $fault->name === 'outside-run') === [] ? $this->end() : $this->end() - 3 * 86_400_000;
    }

    /** @return list<string> */
    public function variants(): array
    {
        return array_slice(['control', 'short', 'plain', 'warm', 'quiet', 'bold'], 0, count($this->weights));
    }

    /** @return array<string, mixed> the experiment file that goes with the log */
    public function experiment(): array
    {
        $time = static fn (int $ms): string => Moment::format(new \DateTimeImmutable('@'.intdiv($ms, 1000)));
        $variants = array_map(static fn (string $key, float $weight): array => ['key' => $key, 'weight' => $weight, ...($key === 'control' ? ['control' => true] : [])], $this->variants(), $this->weights);
        $length = intdiv($this->end() - $this->begin(), max(1, count($this->epochs)));

        $file = [
            'pellix' => 1, 'key' => 'loan-steps', 'name' => 'Loan in fewer steps', 'salt' => 'larkhollow-loan-steps', 'share' => 0.9, 'variants' => $variants,
            'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/loan'],
            'goals' => [
                ['key' => 'loan-noted', 'kind' => 'page', 'role' => 'primary', 'count' => 'visitor', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => '/loan/done']],
                ['key' => 'donated', 'kind' => 'order', 'role' => 'secondary', 'count' => 'every', 'value' => ['prop' => 'value'], 'currency' => 'EUR'],
            ],
            'epochs' => array_map(fn (array $weights, int $i): array => ['from' => $time($this->begin() + $i * $length), 'share' => 0.9, 'weights' => array_combine($this->variants(), $weights)], $this->epochs, array_keys($this->epochs)),
            'start' => $time($this->begin()),
            'end' => $time($this->runEnd()),
            'audit' => ['sister_hosts' => [World::PAY], 'hosts' => [World::HOST, World::DESK]],
        ];
        foreach ($this->faults as $fault) {
            if ($fault->name === 'goal-changed') {
                $file['audit']['goal_changes'] = [['goal' => 'loan-noted', 'at' => $time($this->begin() + (int) (86_400_000 * $fault->since($this->days / 2)))]];
            } elseif ($fault->name === 'short-memory') {
                $file['lifetime_days'] = 7;
            }
        }

        return $file;
    }
}
