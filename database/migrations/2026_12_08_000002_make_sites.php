<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/** Sites that are made, changed and archived in the interface. */
return new class () extends Migration {
    public function up(): void
    {
        Schema::table('sites', function (Blueprint $table): void {
            $table->json('settings_since')->nullable()->comment('setting => since when it is as it is; others since the site was made');
            $table->dateTime('archived_at', 3)->nullable()->comment('since when nothing is taken for it and its pages get no file');
            $table->boolean('two_people')->default(false)->comment('whether code is published only once somebody else has agreed');
        });
        Schema::table('users', fn (Blueprint $table) => $table->boolean('makes_sites')->default(false)->comment('whether they may make sites'));
        // Whoever could decide everything so far goes on.
        DB::table('users')->whereIn('id', DB::table('site_user')->where('right', 'own')->select('user_id'))->update(['makes_sites' => true]);
    }

    public function down(): void
    {
        Schema::table('users', fn (Blueprint $table) => $table->dropColumn('makes_sites'));
        Schema::table('sites', fn (Blueprint $table) => $table->dropColumn(['settings_since', 'archived_at', 'two_people']));
    }
};
