<?php

declare(strict_types=1);

use Eris\TestTrait;
use Illuminate\Foundation\Testing\RefreshDatabase;
use Tests\Support\BrowserTestCase;
use Tests\Support\FeatureTestCase;
use Tests\Support\ServedTestCase;

pest()->extend(FeatureTestCase::class)->use(RefreshDatabase::class)->in('Feature');
pest()->extend(ServedTestCase::class)->in('Served');
pest()->extend(BrowserTestCase::class)->in('Browser');
pest()->use(TestTrait::class)->in('Core');

/** The decoded content of a file in tests/vectors. */
function vectors(string $name): array
{
    return json_decode((string) file_get_contents(__DIR__."/vectors/{$name}.json"), true, 64, JSON_THROW_ON_ERROR);
}

/** What a reader complains about, as "field: message". */
function complaint(callable $reader): string
{
    try {
        $reader();
    } catch (Pellix\Core\InvalidInput $e) {
        return "{$e->field}: {$e->getMessage()}";
    }

    return 'no complaint';
}

/** Passes where two numbers agree to a relative 1e-9. */
expect()->extend('toAgreeWith', function (float $expected, float $relative = 1e-9) {
    /** @var Pest\Expectation<float> $this */
    expect(abs($this->value - $expected))->toBeLessThanOrEqual($relative * abs($expected), "{$this->value} is not {$expected}");

    return $this;
});
