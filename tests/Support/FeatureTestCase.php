<?php

declare(strict_types=1);

namespace Tests\Support;

use App\Models\Site;
use App\Models\User;
use Illuminate\Foundation\Testing\TestCase;
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

    protected function makeSite(string $key = self::SITE): Site
    {
        return Site::query()->create([
            'key' => $key, 'name' => 'Shop', 'hosts' => ['shop.test'], 'time_zone' => 'UTC', 'currency' => 'EUR', 'cookie_days' => 15,
            'srm_alpha' => 0.001, 'fresh_seconds' => 86400,
        ]);
    }

    protected function makePerson(Site ...$sites): User
    {
        static $number = 0;
        $user = User::query()->create(['name' => 'P', 'email' => 'p'.++$number.'@shop.test', 'password' => 'a password']);
        $user->sites()->attach(array_map(static fn (Site $site): int => $site->id, $sites));

        return $user;
    }

    /** Calls the API as a person, and holds the answer against docs/openapi.yaml. */
    public function as(?User $user, string $method, string $path, array $body = []): TestResponse
    {
        if ($user !== null) {
            $this->actingAs($user, 'sanctum');
        }
        $response = $this->json($method, $path, $body);
        OpenApi::check($method, $path, $response->getStatusCode(), (string) $response->getContent());

        return $response;
    }
}
