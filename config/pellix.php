<?php

return [
    /*
     * Where the demo site is served, with scheme and port; null on a copy without the demo.
     */
    'demo_origin' => env('PELLIX_DEMO_ORIGIN'),

    /*
     * The folder that site configurations are published to; the web server serves it as /s/.
     */
    'published' => env('PELLIX_PUBLISHED', storage_path('published')),

    /*
     * Password of the demo's person; made anew for every copy and never part of the repository.
     */
    'demo_password' => env('PELLIX_DEMO_PASSWORD'),
];
