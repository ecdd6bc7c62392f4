<?php

declare(strict_types=1);

namespace Tests\Support;

use App\Models\Site;
use App\Models\User;
use App\ReadModel\Gatherer;
use App\ReadModel\Readings;
use App\ReadModel\Rounds;
use App\SignIn\Current;
use Carbon\CarbonImmutable;
use Illuminate\Foundation\Testing\TestCase;
use Illuminate\Support\Facades\File;
use Illuminate\Testing\TestResponse;

/** The application in this process, on a database of its own (bin/pellix test makes it). */
abstract class FeatureTestCase extends TestCase
{
    public const SITE = 'plx_featuretests0001';

    public function createApplication()
    {
        putenv('PELLIX_DATA='.getenv('PELLIX_FEATURE_DATA'));
        $app = require dirname(__DIR__, 2).'/bootstrap/app.php';
        $app->make(\Illuminate\Contracts\Console\Kernel::class)->bootstrap();

        return $app;
    }

    protected function setUp(): void
    {
        parent::setUp();
        File::deleteDirectory(config('pellix.published'));
    }

    protected function makeSite(string $key = self::SITE): Site
    {
        return Site::factory()->create(['key' => $key]);
    }

    protected function makePerson(Site ...$sites): User
    {
        return $this->makePersonWho('own', ...$sites);
    }

    /** @param string $right look, work, publish or own */
    protected function makePersonWho(string $right, Site ...$sites): User
    {
        $user = User::factory()->create();
        $user->sites()->attach(array_map(static fn (Site $site): int => $site->id, $sites), ['right' => $right]);

        return $user;
    }

    /** Does what the workers do: takes in what has arrived, and puts together what requests read. */
    public function gather(?Site $site = null): void
    {
        foreach ($site === null ? Site::query()->get() : [$site] as $one) {
            app(Gatherer::class)->untilIdle($one, app(Readings::class));
            app(Rounds::class)->make($one->refresh());
        }
    }

    /** Nobody is signed in any more. */
    protected function signedOut(): static
    {
        $this->app['auth']->forgetGuards();
        $this->app->make(Current::class)->set(null);

        return $this;
    }

    /** Calls the API as a person who has just signed in, or as the one of before, and holds the answer against docs/openapi.yaml. */
    public function as(?User $user, string $method, string $path, array $body = [], array $headers = []): TestResponse
    {
        if ($user !== null) {
            $this->actingAs($user, 'sanctum');
            $now = CarbonImmutable::now('UTC');
            $this->app->make(Current::class)->set($user->signIns()->create(['method' => 'password', 'address' => '127.0.0.1', 'agent' => 'test', 'at' => $now, 'seen_at' => $now, 'confirmed_at' => $now]));
        }
        $response = $this->json($method, $path, $body, $headers);
        OpenApi::check($method, $path, $response->getStatusCode(), (string) $response->getContent());

        return $response;
    }
}
