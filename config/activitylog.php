<?php

return [
    'enabled' => true,
    'default_log_name' => 'pellix',
    'default_auth_driver' => null,
    'subject_returns_soft_deleted_models' => true,
    'activity_model' => App\Models\Activity::class,
    'table_name' => 'activity_log',
    'database_connection' => null,
    // Nothing is thrown away: it is evidence.
    'delete_records_older_than_days' => 36500,
];
