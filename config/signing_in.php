<?php

/*
 * For how long a sign-in holds, and how often somebody may try. NIST SP 800-63B-4, section 2.2.3, has an hour without a sign of its person and a day in all.
 */
return [
    'idle_minutes' => (int) env('PELLIX_SESSION_IDLE_MINUTES', 60),
    'hours' => (int) env('PELLIX_SESSION_HOURS', 24),

    // For so long nobody is asked again who they are, before they publish code or change people and keys.
    'confirmed_minutes' => (int) env('PELLIX_CONFIRMED_MINUTES', 15),

    'reset_minutes' => 30,
    'invitation_days' => 7,
];
