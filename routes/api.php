<?php

use App\Http\Controllers\BriefController;
use App\Http\Controllers\CaptureController;
use App\Http\Controllers\EventPlanController;
use App\Http\Controllers\ExperimentController;
use App\Http\Controllers\ExperimentTrialController;
use App\Http\Controllers\FeedController;
use App\Http\Controllers\FindingController;
use App\Http\Controllers\GoalController;
use App\Http\Controllers\InspectionController;
use App\Http\Controllers\LogbookController;
use App\Http\Controllers\NamingController;
use App\Http\Controllers\ObservationController;
use App\Http\Controllers\PageController;
use App\Http\Controllers\PageGroupController;
use App\Http\Controllers\PersonController;
use App\Http\Controllers\PlanController;
use App\Http\Controllers\PublicationController;
use App\Http\Controllers\ScanController;
use App\Http\Controllers\ServerEventController;
use App\Http\Controllers\SessionController;
use App\Http\Controllers\SiteController;
use App\Http\Controllers\TokenController;
use App\Http\Controllers\WiringController;
use Illuminate\Support\Facades\Route;

Route::post('session', [SessionController::class, 'store'])->middleware('throttle:sign-in');

Route::middleware('auth:sanctum')->group(function (): void {
    Route::get('session', [SessionController::class, 'show']);
    Route::delete('session', [SessionController::class, 'destroy']);
    Route::apiResource('tokens', TokenController::class)->only('index', 'store', 'destroy');

    Route::prefix('sites/{site}')->scopeBindings()->group(function (): void {
        // Each group names the right that its routes need (App\Rights\Right).
        Route::middleware('right:look')->group(function (): void {
            Route::get('/', [SiteController::class, 'show']);
            Route::apiResource('experiments', ExperimentController::class)->only('index', 'show');
            Route::get('experiments/{experiment}/file', [ExperimentController::class, 'file']);
            Route::get('experiments/{experiment}/revisions', [ExperimentController::class, 'revisions']);
            Route::get('experiments/{experiment}/plan', [PlanController::class, 'show']);
            Route::get('experiments/{experiment}/observations', [ObservationController::class, 'show']);
            Route::get('pages', [PageController::class, 'index']);
            Route::get('pages/seen', [PageController::class, 'seen']);
            Route::get('pages.csv', [PageController::class, 'export']);
            Route::get('pages/{page}', [PageController::class, 'show'])->whereNumber('page');
            Route::get('page-groups', [PageGroupController::class, 'index']);
            Route::apiResource('scans', ScanController::class)->only('index');
            Route::apiResource('findings', FindingController::class)->only('index');
            Route::apiResource('briefs', BriefController::class)->only('index');
            Route::get('people', [PersonController::class, 'index']);
            Route::get('wiring', [WiringController::class, 'show']);
            Route::get('wiring/versions/{wiringVersion}/differences', [WiringController::class, 'differences'])->whereNumber('wiringVersion');
            Route::apiResource('goals', GoalController::class)->only('index', 'show');
            Route::get('events', [EventPlanController::class, 'index']);
            Route::get('events/{name}', [EventPlanController::class, 'show']);
            Route::get('plan.{format}', [EventPlanController::class, 'export'])->whereIn('format', ['json', 'csv']);
            Route::get('feed', [FeedController::class, 'index']);
            Route::get('feed/{event}', [FeedController::class, 'show']);
            Route::get('capture', [CaptureController::class, 'show']);
            Route::get('naming', [NamingController::class, 'show']);
            Route::get('experiment-trials/{trial}', [ExperimentTrialController::class, 'show'])->whereNumber('trial');
            Route::get('published', [PublicationController::class, 'now']);
            Route::get('publications', [PublicationController::class, 'index']);
            Route::get('logbook', [LogbookController::class, 'index']);
            Route::get('logbook.csv', [LogbookController::class, 'export']);
            Route::get('chains', [ObservationController::class, 'index']);
        });
        Route::middleware('right:work')->group(function (): void {
            Route::post('inspections', [InspectionController::class, 'store']);
            Route::post('inspections/archive', [InspectionController::class, 'archive']);
            Route::apiResource('experiments', ExperimentController::class)->only('store', 'update', 'destroy');
            Route::put('naming', [NamingController::class, 'update']);
            Route::post('entry-traces', [ExperimentTrialController::class, 'trace']);
            Route::post('reach', [ExperimentTrialController::class, 'reach']);
            Route::post('experiments/{experiment}/advice', [ExperimentTrialController::class, 'advice']);
            Route::put('experiments/{experiment}/timetable', [ExperimentController::class, 'schedule']);
            Route::post('experiments/{experiment}/change-preview', [ExperimentController::class, 'preview']);
            Route::post('experiments/{experiment}/copies', [ExperimentController::class, 'duplicate']);
            Route::post('experiments/{key}/restored', [ExperimentController::class, 'restore'])->where('key', '[a-z0-9-]{1,60}');
            Route::post('plans', [PlanController::class, 'try']);
            Route::put('experiments/{experiment}/plan', [PlanController::class, 'update']);
            Route::delete('experiments/{experiment}/plan', [PlanController::class, 'destroy']);
            Route::post('experiments/{experiment}/ready', [ExperimentTrialController::class, 'ready']);
            Route::post('experiments/{experiment}/basis', [ExperimentTrialController::class, 'basis']);
            Route::put('experiments/{experiment}/draft', [ExperimentController::class, 'keep']);
            Route::post('pages', [PageController::class, 'store']);
            Route::delete('pages/{page}', [PageController::class, 'destroy'])->whereNumber('page');
            Route::post('pages/{page}/inspections', [PageController::class, 'inspect'])->whereNumber('page');
            Route::put('page-groups', [PageGroupController::class, 'update']);
            Route::apiResource('scans', ScanController::class)->only('store', 'destroy')->whereNumber('scan');
            Route::apiResource('findings', FindingController::class)->only('update')->whereNumber('finding');
            Route::apiResource('briefs', BriefController::class)->only('store', 'destroy')->whereNumber('brief');
            Route::put('wiring/tags', [WiringController::class, 'update']);
            Route::post('goals/trial', [GoalController::class, 'try']);
            Route::get('goals/trials/{trial}', [GoalController::class, 'trial'])->whereNumber('trial');
            Route::apiResource('goals', GoalController::class)->only('store', 'update', 'destroy');
            Route::put('events/{name}', [EventPlanController::class, 'update']);
            Route::delete('events/{name}', [EventPlanController::class, 'destroy']);
            Route::post('plan', [EventPlanController::class, 'import']);
        });
        Route::middleware('right:publish')->group(function (): void {
            Route::put('experiments/{experiment}/kept', [ExperimentController::class, 'serve']);
            Route::post('experiments/{experiment}/stage', [ExperimentController::class, 'move']);
            Route::post('publications', [PublicationController::class, 'publish']);
            Route::post('publications/{number}/restore', [PublicationController::class, 'putBack'])->whereNumber('number');
            Route::post('wiring/versions', [WiringController::class, 'publish']);
            Route::post('wiring/versions/{wiringVersion}/restore', [WiringController::class, 'restore'])->whereNumber('wiringVersion');
            Route::post('events', [ServerEventController::class, 'store']);
            Route::put('capture', [CaptureController::class, 'update']);
        });
    });
});
