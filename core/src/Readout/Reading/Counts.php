<?php

declare(strict_types=1);

namespace Pellix\Core\Readout\Reading;

use Pellix\Core\Audit\AuditCode;
use Pellix\Core\Audit\Told;
use Pellix\Core\Events\InvalidLog;
use Pellix\Core\Events\TableRows;
use Pellix\Core\Readout\Comparison;
use Pellix\Core\Readout\Gate;
use Pellix\Core\Readout\InvalidReadout;
use Pellix\Core\Readout\Item;
use Pellix\Core\Readout\Look;
use Pellix\Core\Readout\Measure;
use Pellix\Core\Readout\Sample;
use Pellix\Core\Readout\SegmentResults;
use Pellix\Core\Readout\Sentence;
use Pellix\Core\Readout\Subject;
use Pellix\Core\Statistics\InvalidCounts;
use Pellix\Core\Statistics\SampleRatio;
use Pellix\Core\Wiring\Findings\Severity;

/**
 * A readout of a table of counts: `variant,visitors,conversions`, perhaps with an `epoch` or a column of a segment; or
 * `variant,n,mean,sd`. The control is the variant of that name, or the first.
 */
final readonly class Counts
{
    private const CALLED = [
        'variant' => ['variant', 'variant_key', 'group'],
        'n' => ['visitors', 'users', 'units', 'n', 'count'],
        'conversions' => ['conversions', 'converted', 'goals', 'hits'],
        'mean' => ['mean'],
        'sd' => ['sd', 'std', 'standard_deviation'],
        'epoch' => ['epoch', 'stratum'],
        // Days are added up: a table of counts does not tell who came again.
        'day' => ['day', 'date'],
    ];

    private const LARGEST = 1e12;

    private function __construct(public Comparison $all, public SegmentResults $segments, public Gate $gate)
    {
    }

    /**
     * @param resource         $stream
     * @param list<float>|null $weights that were promised, in the order in which the variants first come; null where nobody says
     * @param string|null      $reason  why figures are shown where these are not kept
     *
     * @throws InvalidReadout whose field is the line and the column
     */
    public static function of($stream, Look $look, ?array $weights = null, ?string $reason = null): self
    {
        try {
            $table = TableRows::of($stream);
        } catch (InvalidLog $e) {
            throw new InvalidReadout($e->getMessage(), $e->field);
        }
        $columns = $table->columns(self::CALLED);
        $measure = self::measure($table, $columns);
        $rows = [];
        foreach ($table->rows as $line => $cells) {
            $rows[] = [...self::row($measure, $cells, $columns, $line), 'segments' => $table->others($cells, $columns)];
        }
        $variants = array_values(array_unique(array_column($rows, 'variant')));
        if (count($variants) < 2 || count($variants) > Subject::MOST_VARIANTS) {
            throw new InvalidReadout('A table of counts compares 2 to '.Subject::MOST_VARIANTS.' variants; this one has '.count($variants).'.', "{$table->line}.variant");
        }
        $control = (int) array_search('control', $variants, true);
        $item = Item::ofTable($measure);
        $parts = [];
        foreach ($rows as $row) {
            foreach ($row['segments'] as $name => $value) {
                $parts["{$name}\x1f{$value}"][] = $row;
            }
        }
        $samples = self::samples($variants, $rows);

        return new self(
            Comparison::of($item, array_map(static fn (string $key, int $i): array => ['key' => $key, 'name' => $key, 'control' => $i === $control], $variants, array_keys($variants)), $samples, $look),
            SegmentResults::among($item, $variants, $control, array_map(static fn (array $own): array => self::samples($variants, $own), $parts), $samples, $look),
            self::gate($variants, $samples, $weights, $reason),
        );
    }

    /**
     * @param non-empty-list<string>                                    $variants
     * @param list<array{variant: string, epoch: string, sample: Sample}> $rows
     *
     * @return non-empty-list<array<int, Sample>> of each variant: epoch => sample
     */
    private static function samples(array $variants, array $rows): array
    {
        $epochs = array_flip(array_values(array_unique(array_column($rows, 'epoch'))));
        $samples = array_map(static fn (): array => [], $variants);
        foreach ($rows as $row) {
            $variant = (int) array_search($row['variant'], $variants, true);
            $epoch = $epochs[$row['epoch']];
            $samples[$variant][$epoch] = isset($samples[$variant][$epoch]) ? $samples[$variant][$epoch]->plus($row['sample']) : $row['sample'];
        }

        return $samples;
    }

    /**
     * A table tells of the split alone, and of that where somebody says which weights were promised.
     *
     * @param non-empty-list<string>             $variants
     * @param non-empty-list<array<int, Sample>> $samples
     * @param list<float>|null                   $weights
     *
     * @throws InvalidReadout
     */
    private static function gate(array $variants, array $samples, ?array $weights, ?string $reason): Gate
    {
        if ($weights === null) {
            return Gate::of([], $reason, 'not judged: a table tells of nothing but its counts.');
        }
        $units = array_map(static fn (array $own): int => array_sum(array_map(static fn (Sample $one): int => $one->n, $own)), $samples);
        try {
            $result = SampleRatio::test($units, $weights);
        } catch (InvalidCounts $e) {
            throw new InvalidReadout($e->getMessage(), 'weights');
        }
        $finding = ['code' => AuditCode::SrmOverall->value, 'severity' => Severity::Blocker->value, 'message' => 'The split is not the one that was promised: '.implode(', ', array_map(static fn (string $key, int $n): string => "{$key} {$n}", $variants, $units))
            .' against '.implode(', ', array_map(static fn (float $mean): string => number_format($mean, 1, '.', ''), $result->expected)).' ('.Told::p($result->logP).').'];

        return Gate::of($result->isMismatch() ? [$finding] : [], $reason);
    }

    /** @return array<string, mixed> in the form of `Readout::toArray()` */
    public function toArray(): array
    {
        $look = $this->all->look;

        return $this->gate->before([
            'experiment' => null,
            'says' => Sentence::of($this->all),
            ...$look->toArray(),
            'over' => $look->isOver,
            'enough' => ['planned' => null, 'have' => null, 'is' => null],
            'goals' => [$this->all->toArray()],
            'visits' => [],
            'segments' => $this->segments->toArray(),
        ]);
    }

    /**
     * @param array<string, int|null> $columns
     *
     * @throws InvalidReadout
     */
    private static function measure(TableRows $table, array $columns): Measure
    {
        if ($table->rows === []) {
            throw new InvalidReadout('The table has no rows: variant,visitors,conversions (or variant,n,mean,sd) and a row for each variant are needed.', (string) $table->line);
        }
        $measure = $columns['mean'] !== null ? Measure::Mean : Measure::Rate;
        foreach ($measure === Measure::Mean ? ['variant', 'n', 'sd'] : ['variant', 'n', 'conversions'] as $needed) {
            if ($columns[$needed] === null) {
                $name = $needed === 'n' && $measure === Measure::Rate ? 'visitors' : $needed;
                throw new InvalidReadout("The header row has no column \"{$name}\".", "{$table->line}.{$name}");
            }
        }
        if ($measure === Measure::Mean && $columns['conversions'] !== null) {
            throw new InvalidReadout('A table is of conversions, or of means with their standard deviations; this one has columns of both.', "{$table->line}.mean");
        }

        return $measure;
    }

    /**
     * @param list<string>            $cells
     * @param array<string, int|null> $columns
     *
     * @return array{variant: string, epoch: string, sample: Sample}
     *
     * @throws InvalidReadout
     */
    private static function row(Measure $measure, array $cells, array $columns, int $line): array
    {
        $cell = static fn (string $what): string => trim($cells[(int) $columns[$what]]);
        $variant = mb_substr($cell('variant'), 0, 120);
        if ($variant === '') {
            throw new InvalidReadout('The variant is missing.', "{$line}.variant");
        }
        $whole = static fn (string $what): int => preg_match('/\A\d{1,12}\z/', $cell($what)) === 1 ? (int) $cell($what)
            : throw new InvalidReadout("\"{$cell($what)}\" is no count: a whole number that is not negative is needed.", "{$line}.".($what === 'n' && $measure === Measure::Rate ? 'visitors' : $what));
        $n = $whole('n');
        if ($measure === Measure::Rate) {
            $reached = $whole('conversions');
            $sample = $reached <= $n ? Sample::ofCounts($n, $reached) : throw new InvalidReadout('More visitors reached the goal than there are.', "{$line}.conversions");
        } else {
            $number = static fn (string $what): float => is_numeric($cell($what)) && abs((float) $cell($what)) <= self::LARGEST ? (float) $cell($what)
                : throw new InvalidReadout("\"{$cell($what)}\" is no number.", "{$line}.{$what}");
            $sd = $number('sd');
            $sample = $sd >= 0 ? Sample::ofMean($n, $number('mean'), $sd) : throw new InvalidReadout('A standard deviation is not negative.', "{$line}.sd");
        }

        return ['variant' => $variant, 'epoch' => $columns['epoch'] === null ? '' : mb_substr($cell('epoch'), 0, 60), 'sample' => $sample];
    }
}
