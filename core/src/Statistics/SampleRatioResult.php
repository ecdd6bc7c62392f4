<?php

declare(strict_types=1);

namespace Pellix\Core\Statistics;

/** What a test of the sample ratio found, with everything needed to check it by hand. */
final readonly class SampleRatioResult
{
    /**
     * @param string      $test      `chi-square`, `chi-square-pooled`, `exact-binomial`, `exact-multinomial` or `zero-weight`
     * @param float|null  $statistic null for the exact tests
     * @param int|null    $df        degrees of freedom; null for the exact tests
     * @param float       $p         0.0 where it is below the smallest double: `logP` still tells
     * @param float       $logP      natural logarithm of p; -INF when the observed counts are impossible
     * @param float       $alpha     alarm level
     * @param list<int>   $observed
     * @param list<float> $expected
     */
    public function __construct(
        public string $test,
        public ?float $statistic,
        public ?int $df,
        public float $p,
        public float $logP,
        public float $alpha,
        public array $observed,
        public array $expected,
    ) {
    }

    public function isMismatch(): bool
    {
        return $this->logP < log($this->alpha);
    }

    /**
     * @return array{test: string, statistic: float|null, df: int|null, p: float, log_p: float|null, alpha: float,
     *               verdict: string, observed: list<int>, expected: list<float>} `log_p` is null for an impossible outcome
     */
    public function toArray(): array
    {
        return [
            'test' => $this->test,
            'statistic' => $this->statistic,
            'df' => $this->df,
            'p' => $this->p,
            'log_p' => is_finite($this->logP) ? $this->logP : null,
            'alpha' => $this->alpha,
            'verdict' => $this->isMismatch() ? 'mismatch' : 'balanced',
            'observed' => $this->observed,
            'expected' => $this->expected,
        ];
    }
}
