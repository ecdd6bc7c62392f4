<?php

use App\Http\Controllers\LoupeCopyController;
use App\Http\Controllers\OpenIdController;
use App\Http\Controllers\PublicAuditController;
use App\Http\Controllers\PublicBriefController;
use Illuminate\Support\Facades\Route;

Route::get('brief/{token}{format?}', [PublicBriefController::class, 'show'])
    ->where(['token' => '[A-Za-z0-9]{43}', 'format' => '\.md|\.html'])->middleware('throttle:120,1');

Route::get('audit/{token}{format?}', [PublicAuditController::class, 'show'])
    ->where(['token' => '[A-Za-z0-9]{43}', 'format' => '\.json|\.csv'])->middleware('throttle:120,1');

// A document of its own, which is loaded anew as one: by whoever is signed in.
Route::get('sites/{site}/loupe-copy', [LoupeCopyController::class, 'show'])->middleware(['auth:sanctum', 'right:work']);

// Single sign-on: to the provider, and back.
Route::middleware('throttle:links')->group(function (): void {
    Route::get('sign-in/with', [OpenIdController::class, 'begin']);
    Route::get('sign-in/back', [OpenIdController::class, 'finish']);
});

// Every view of the interface has an address of its own; the router in the browser tells them apart.
Route::view('/{any?}', 'interface')->where('any', '(?!api/|sanctum/|s/|c$|p\.gif$|brief/|audit/|loupe/|loupe\.js$|health$|metrics$).*');
