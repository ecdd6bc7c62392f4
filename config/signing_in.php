<?php

/*
 * For how long a sign-in holds, and how often somebody may try. NIST SP 800-63B-4, section 2.2.3, has an hour without a sign of its person and a day in all.
 */
return [
    'idle_minutes' => (int) env('PELLIX_SESSION_IDLE_MINUTES', 60),
    'hours' => (int) env('PELLIX_SESSION_HOURS', 24),

    // For so long nobody is asked again who they are, before they publish code or change people and keys.
    'confirmed_minutes' => (int) env('PELLIX_CONFIRMED_MINUTES', 15),

    // Single sign-on through OpenID Connect: the provider's issuer identifier, as it writes it itself; without one there is none.
    'openid' => [
        'name' => env('PELLIX_OPENID_NAME', 'single sign-on'),
        'issuer' => env('PELLIX_OPENID_ISSUER'),
        'client_id' => env('PELLIX_OPENID_CLIENT_ID'),
        'client_secret' => env('PELLIX_OPENID_CLIENT_SECRET'),
    ],

    'reset_minutes' => 30,
    'invitation_days' => 7,
];
