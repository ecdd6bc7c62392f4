<?php

namespace App\Providers;

use Illuminate\Cache\RateLimiting\Limit;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\JsonResource;
use Illuminate\Support\Facades\RateLimiter;
use Illuminate\Support\ServiceProvider;
use Illuminate\Support\Str;

class AppServiceProvider extends ServiceProvider
{
    public function boot(): void
    {
        JsonResource::withoutWrapping();

        // Guessing a password is slow for one person and for one address.
        RateLimiter::for('sign-in', static function (Request $request): array {
            $email = $request->input('email');

            return [
                Limit::perMinute(5)->by('person:'.(is_string($email) ? Str::lower(Str::limit($email, 200, '')) : '')),
                Limit::perMinute(30)->by('address:'.$request->ip()),
            ];
        });
    }
}
