<?php

use App\Http\Controllers\ExperimentController;
use App\Http\Controllers\InspectionController;
use App\Http\Controllers\ObservationController;
use App\Http\Controllers\SessionController;
use App\Http\Controllers\SiteController;
use App\Http\Controllers\TokenController;
use App\Http\Middleware\TendsSite;
use Illuminate\Support\Facades\Route;

Route::post('session', [SessionController::class, 'store'])->middleware('throttle:sign-in');

Route::middleware('auth:sanctum')->group(function (): void {
    Route::get('session', [SessionController::class, 'show']);
    Route::delete('session', [SessionController::class, 'destroy']);
    Route::apiResource('tokens', TokenController::class)->only('index', 'store', 'destroy');

    Route::prefix('sites/{site}')->middleware(TendsSite::class)->scopeBindings()->group(function (): void {
        Route::get('/', [SiteController::class, 'show']);
        Route::post('inspections', [InspectionController::class, 'store']);
        Route::apiResource('experiments', ExperimentController::class);
        Route::get('experiments/{experiment}/file', [ExperimentController::class, 'file']);
        Route::post('experiments/{experiment}/stage', [ExperimentController::class, 'move']);
        Route::get('experiments/{experiment}/observations', [ObservationController::class, 'show']);
        Route::get('chains', [ObservationController::class, 'index']);
    });
});
