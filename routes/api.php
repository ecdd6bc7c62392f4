<?php

use App\Http\Controllers\BriefController;
use App\Http\Controllers\CaptureController;
use App\Http\Controllers\EventPlanController;
use App\Http\Controllers\ExperimentController;
use App\Http\Controllers\FeedController;
use App\Http\Controllers\FindingController;
use App\Http\Controllers\GoalController;
use App\Http\Controllers\InspectionController;
use App\Http\Controllers\ObservationController;
use App\Http\Controllers\PageController;
use App\Http\Controllers\PageGroupController;
use App\Http\Controllers\ScanController;
use App\Http\Controllers\ServerEventController;
use App\Http\Controllers\SessionController;
use App\Http\Controllers\SiteController;
use App\Http\Controllers\TokenController;
use App\Http\Controllers\WiringController;
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
        Route::post('inspections/archive', [InspectionController::class, 'archive']);
        Route::apiResource('experiments', ExperimentController::class);
        Route::get('experiments/{experiment}/file', [ExperimentController::class, 'file']);
        Route::post('experiments/{experiment}/stage', [ExperimentController::class, 'move']);
        Route::get('experiments/{experiment}/observations', [ObservationController::class, 'show']);
        Route::get('pages', [PageController::class, 'index']);
        Route::post('pages', [PageController::class, 'store']);
        Route::get('pages.csv', [PageController::class, 'export']);
        Route::get('pages/{page}', [PageController::class, 'show'])->whereNumber('page');
        Route::delete('pages/{page}', [PageController::class, 'destroy'])->whereNumber('page');
        Route::post('pages/{page}/inspections', [PageController::class, 'inspect'])->whereNumber('page');
        Route::get('page-groups', [PageGroupController::class, 'index']);
        Route::put('page-groups', [PageGroupController::class, 'update']);
        Route::apiResource('scans', ScanController::class)->only('index', 'store', 'destroy')->whereNumber('scan');
        Route::apiResource('findings', FindingController::class)->only('index', 'update')->whereNumber('finding');
        Route::apiResource('briefs', BriefController::class)->only('index', 'store', 'destroy')->whereNumber('brief');
        Route::get('wiring', [WiringController::class, 'show']);
        Route::put('wiring/tags', [WiringController::class, 'update']);
        Route::post('wiring/versions', [WiringController::class, 'publish']);
        Route::post('wiring/versions/{wiringVersion}/restore', [WiringController::class, 'restore'])->whereNumber('wiringVersion');
        Route::get('wiring/versions/{wiringVersion}/differences', [WiringController::class, 'differences'])->whereNumber('wiringVersion');
        Route::post('goals/trial', [GoalController::class, 'try']);
        Route::apiResource('goals', GoalController::class);
        Route::get('events', [EventPlanController::class, 'index']);
        Route::post('events', [ServerEventController::class, 'store']);
        Route::get('events/{name}', [EventPlanController::class, 'show']);
        Route::put('events/{name}', [EventPlanController::class, 'update']);
        Route::delete('events/{name}', [EventPlanController::class, 'destroy']);
        Route::get('plan.{format}', [EventPlanController::class, 'export'])->whereIn('format', ['json', 'csv']);
        Route::post('plan', [EventPlanController::class, 'import']);
        Route::get('feed', [FeedController::class, 'index']);
        Route::get('feed/{event}', [FeedController::class, 'show']);
        Route::get('capture', [CaptureController::class, 'show']);
        Route::put('capture', [CaptureController::class, 'update']);
        Route::get('chains', [ObservationController::class, 'index']);
    });
});
