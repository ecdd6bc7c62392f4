<?php

use Tests\Support\Imports;

arch('the core knows nobody')
    ->expect('Pellix\Core')
    ->not->toUse(['App', 'Demo', 'Illuminate', 'Laravel', 'Symfony', 'Carbon', 'GuzzleHttp', 'Facebook'])
    // A library like others, for what a selector means.
    ->ignoring('Symfony\Component\CssSelector');

arch('the core has no clock, no chance and no output of its own')
    ->expect('Pellix\Core')
    ->not->toUse(['time', 'microtime', 'date', 'rand', 'mt_rand', 'random_int', 'random_bytes', 'getenv', 'file_get_contents', 'header', 'session_start']);

arch('everything in the core says its types')->expect('Pellix\Core')->toUseStrictTypes();

arch('nothing is left behind from debugging')->expect(['dd', 'dump', 'var_dump', 'print_r', 'ray'])->not->toBeUsed();

arch('controllers are thin: they do not reach for the database')
    ->expect('App\Http\Controllers')
    ->not->toUse('Illuminate\Support\Facades\DB');

arch('the application knows neither its demo nor its bench nor its tests')
    ->expect('App')
    ->not->toUse(['Demo', 'Bench', 'Support', 'Tests']);

// Who may use whom, folder by folder. Whoever needs another line here adds it on purpose, and sees whether it makes a circle.
const CORE = [
    'Assignment' => [],
    'Audit' => ['Assignment', 'Chain', 'Counting', 'Events', 'Experiments', 'Formats', 'Goals', 'Rules', 'Segments', 'Statistics', 'Wiring/Findings'],
    'Beginning' => ['Chain'],
    'Chain' => ['Statistics'],
    'Counting' => ['Events', 'Experiments', 'Formats', 'Goals', 'Rules', 'Segments', 'Statistics'],
    'Events' => ['Formats', 'Pages', 'Rules'],
    'Experiments' => ['Assignment', 'Chain', 'Events', 'Formats', 'Goals', 'Pages', 'Planning', 'Rules', 'Statistics', 'Triggers'],
    'Formats' => [],
    'Goals' => ['Events', 'Formats', 'Happenings', 'Rules'],
    'Happenings' => ['Events', 'Formats', 'Rules'],
    'Internal' => ['Rules'],
    'Loupe' => [],
    'Notices' => ['Wiring/Findings'],
    'Pages' => ['Rules', 'Wiring/Html'],
    'Planning' => ['Chain', 'Formats', 'Statistics'],
    'Readout' => ['Audit', 'Chain', 'Counting', 'Events', 'Experiments', 'Formats', 'Goals', 'Planning', 'Statistics', 'Wiring/Findings'],
    'Reconcile' => ['Audit', 'Counting', 'Events', 'Formats', 'Statistics'],
    'Rehearsal' => ['Chain', 'Events', 'Experiments', 'Formats', 'Goals', 'Happenings', 'Rules', 'Segments', 'Statistics', 'Wiring/Findings'],
    'Rights' => [],
    'Rules' => ['Formats', 'Segments'],
    'Segments' => [],
    'SignIn' => [],
    'Sites' => [],
    'Statistics' => [],
    'Triggers' => ['Events', 'Formats', 'Happenings', 'Rules'],
    'Vocabulary' => ['Audit', 'Chain', 'Events', 'Experiments', 'Goals', 'Happenings', 'Notices', 'Planning', 'Rehearsal', 'Rules', 'SignIn', 'Wiring', 'Wiring/Findings', 'Wiring/Tags'],
    'Wiring' => ['Assignment', 'Experiments', 'Formats', 'Wiring/Tags'],
    'Wiring/Findings' => ['Chain'],
    'Wiring/Har' => ['Formats', 'Wiring', 'Wiring/Findings', 'Wiring/Html', 'Wiring/Inspection', 'Wiring/Inventory'],
    'Wiring/Html' => [],
    'Wiring/Inspection' => ['Formats', 'Rules', 'Wiring', 'Wiring/Findings', 'Wiring/Html', 'Wiring/Inventory'],
    'Wiring/Inventory' => ['Formats', 'Rules', 'Wiring', 'Wiring/Html'],
    'Wiring/Tags' => ['Formats', 'Triggers'],
];

const APP = [
    'Approvals' => ['Logbook', 'Models', 'SignIn'],
    'AuditReport' => [],
    'Audits' => ['Logbook', 'Models', 'Notices', 'Storage'],
    'Bounds' => [],
    'Briefs' => ['Inventory', 'Models', 'ReadModel'],
    'Cli' => ['AuditReport', 'Bounds', 'ReadoutReport'],
    'Collector' => ['Models'],
    'Console' => ['Audits', 'Cli', 'Experiments', 'Logbook', 'Metrics', 'Models', 'Publishing', 'ReadModel', 'Rehearsals', 'SignIn', 'Sites', 'Storage'],
    'Experiments' => ['Bounds', 'Inventory', 'Logbook', 'Measures', 'Models', 'Observation', 'Publishing', 'ReadModel', 'Rehearsals'],
    'Fetching' => ['Models'],
    'Http' => ['Approvals', 'AuditReport', 'Audits', 'Briefs', 'Collector', 'Experiments', 'Fetching', 'Inventory', 'Logbook', 'Loupe', 'Measures', 'Metrics', 'Models', 'Notices', 'Observation', 'People', 'Publishing', 'ReadModel', 'ReadoutReport', 'Readouts', 'Rehearsals', 'Scanning', 'SignIn', 'Sites'],
    'Inventory' => ['Bounds', 'Fetching', 'Models', 'ReadModel'],
    'Logbook' => ['Models'],
    'Loupe' => ['Approvals', 'Collector', 'Experiments', 'Measures', 'Models', 'Publishing', 'ReadModel'],
    'Measures' => ['Collector', 'Models', 'ReadModel'],
    'Metrics' => ['Observation'],
    'Models' => [],
    'Notices' => ['Fetching', 'Models'],
    'Observation' => ['Models', 'ReadModel', 'Rehearsals'],
    'People' => ['Experiments', 'Logbook', 'Models', 'SignIn'],
    'Policies' => ['Models'],
    'Providers' => ['Experiments', 'Fetching', 'Inventory', 'Logbook', 'Measures', 'Metrics', 'Models', 'Notices', 'ReadModel', 'Readouts', 'SignIn'],
    'Publishing' => ['Logbook', 'Models'],
    'ReadModel' => ['Models'],
    'ReadoutReport' => ['AuditReport'],
    'Readouts' => ['Audits', 'Experiments', 'Logbook', 'Models', 'Notices', 'Observation', 'ReadModel'],
    'Rehearsals' => ['Collector', 'Fetching', 'Inventory', 'Measures', 'Models', 'Publishing', 'ReadModel'],
    'Scanning' => ['Fetching', 'Inventory', 'Models'],
    'SignIn' => ['Logbook', 'Models'],
    'Sites' => ['Audits', 'Fetching', 'Logbook', 'Measures', 'Models', 'Publishing', 'ReadModel', 'Storage'],
    'Storage' => ['Collector', 'Models', 'ReadModel'],
];

it('lets each folder use only those that it is meant to, and none in a circle', function (string $folder, string $namespace, array $allowed) {
    $uses = Imports::of($folder, $namespace, ['Wiring']);
    $surplus = [];
    foreach ($uses as $me => $others) {
        foreach (array_diff($others, $allowed[$me] ?? []) as $other) {
            $surplus[] = "{$me} uses {$other}";
        }
    }
    expect($surplus)->toBe([])->and(Imports::circles($uses))->toBe([])->and(Imports::circles($allowed))->toBe([]);
})->with([['core/src', 'Pellix\Core', CORE], ['app', 'App', APP]]);

it('would notice a circle', function () {
    expect(Imports::circles(['A' => ['B'], 'B' => ['C'], 'C' => ['A'], 'D' => ['A']]))->toBe(['A', 'B', 'C']);
});
