<?php

return [
    /*
     * What fills and uses this copy beside the application, a class that implements App\Companion: the demo, or nothing.
     */
    'companion' => env('PELLIX_COMPANION'),

    /*
     * Where the demo site is served, with scheme and port; null on a copy without the demo.
     */
    'demo_origin' => env('PELLIX_DEMO_ORIGIN'),

    /*
     * The folder that site configurations are published to; the web server serves it as /s/.
     */
    'published' => env('PELLIX_PUBLISHED', storage_path('published')),

    /*
     * The JavaScript engine that runs a site's file before it is served.
     */
    'node' => env('PELLIX_NODE', 'node'),

    /*
     * The folder that the browsers of rehearsals write to; everything in it is deleted when they end.
     */
    'rehearsals' => env('PELLIX_REHEARSALS', storage_path('rehearsals')),

    /*
     * Whether pages on private and loopback addresses may be fetched. Only a copy whose sites are on this machine or in
     * this network needs it; the demo's own host is fetched in any case.
     */
    'fetch_private' => (bool) env('PELLIX_FETCH_PRIVATE', false),

    /*
     * Hosts that webhooks may call beside a site's own, with commas between them, and those below them; `*` for every one.
     */
    'webhook_hosts' => array_values(array_filter(array_map('trim', explode(',', strtolower((string) env('PELLIX_WEBHOOK_HOSTS', '')))))),

    /*
     * How long a scan waits between two requests, in milliseconds: somebody else's server does the work.
     */
    'fetch_pause_ms' => (int) env('PELLIX_FETCH_PAUSE_MS', 500),

    /*
     * How many events the pages of one site may send a second, on average over twenty; more is answered with 429.
     */
    'site_events' => (int) env('PELLIX_SITE_EVENTS', 2000),

    /*
     * The folder in which the workers of one machine count that: in memory, since it changes with every beacon.
     */
    'buckets' => env('PELLIX_BUCKETS', sys_get_temp_dir()),

    /*
     * What whoever watches this copy sends as a bearer token to read /metrics: 16 characters or more; nobody reads it without.
     */
    'metrics_token' => env('PELLIX_METRICS_TOKEN', ''),

    /*
     * The name of this machine among those that serve the same data.
     */
    'node_name' => (string) preg_replace('/[^\x21-\x7e]/', '', substr((string) env('PELLIX_NODE_NAME', gethostname() ?: 'one'), 0, 64)),

    /*
     * Where each server and worker of this machine notes its process (bin/lib/run.sh).
     */
    'processes' => env('PELLIX_PROCESSES', storage_path('pids')),

    /*
     * For how many days is kept what grows: events (whole months; 0 keeps them for ever), samples of rejected events and keys of
     * unknown sites, results of inspections but the newest of each page, what was told to whom, and what this copy writes into its logs. What was counted stays.
     */
    'keep_days' => [
        'events' => (int) env('PELLIX_KEEP_EVENTS', 0),
        'rejected' => (int) env('PELLIX_KEEP_REJECTED', 90),
        'inspections' => (int) env('PELLIX_KEEP_INSPECTIONS', 400),
        'notices' => (int) env('PELLIX_KEEP_NOTICES', 90),
        'previews' => (int) env('PELLIX_KEEP_PREVIEWS', 30),
        'logs' => (int) env('PELLIX_KEEP_LOGS', 90),
    ],

    /*
     * What the link has in it with which the first person of an empty copy makes their account.
     */
    'setup_code' => env('PELLIX_SETUP_CODE'),

    /*
     * Password of the demo's person; made anew for every copy and never part of the repository.
     */
    'demo_password' => env('PELLIX_DEMO_PASSWORD'),

    /*
     * For how many days the security log is kept, and who signed in from where.
     */
    'keep_security_days' => (int) env('PELLIX_KEEP_SECURITY', 400),
];
