<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/** A right per person and site; authors by id, beside the name that they had. */
return new class () extends Migration {
    private const AUTHORS = ['wiring_versions' => 'author', 'goal_revisions' => 'author', 'briefs' => 'author', 'scans' => 'by'];

    public function up(): void
    {
        Schema::table('site_user', fn (Blueprint $table) => $table->string('right', 8)->default('own')->comment('look, work, publish, own: each includes those before it'));
        // Whoever looked after a site until now could do everything; whoever is added looks only, unless more is said.
        Schema::table('site_user', fn (Blueprint $table) => $table->string('right', 8)->default('look')->comment('look, work, publish, own: each includes those before it')->change());
        foreach (self::AUTHORS as $table => $name) {
            Schema::table($table, fn (Blueprint $blueprint) => $blueprint->foreignId('author_id')->nullable()->constrained('users')->nullOnDelete());
            DB::statement("update {$table} set author_id = (select min(id) from users where users.name = {$table}.`{$name}` having count(*) = 1)");
        }
    }

    public function down(): void
    {
        foreach (array_keys(self::AUTHORS) as $table) {
            Schema::table($table, fn (Blueprint $blueprint) => $blueprint->dropConstrainedForeignId('author_id'));
        }
        Schema::table('site_user', fn (Blueprint $table) => $table->dropColumn('right'));
    }
};
