<?php

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Schema;

/** Accounts that may stand on the internet: names compared as written, one-time codes, sign-ins, links, tokens with a scope, a security log. */
return new class () extends Migration {
    /** A token that can do everything for ever is given so long to be replaced. */
    private const OLD_TOKEN_DAYS = 90;

    public function up(): void
    {
        DB::table('users')->orderBy('id')->each(static fn (object $one) => DB::table('users')->where('id', $one->id)->update(['email' => strtolower($one->email)]));
        Schema::table('users', function (Blueprint $table): void {
            $table->string('email', 254)->collation('utf8mb4_bin')->comment('A to Z in small letters')->change();
            $table->dateTime('password_at', 3)->nullable()->comment('when it was set');
            $table->text('codes_secret')->nullable()->comment('of one-time codes; encrypted');
            $table->dateTime('codes_since', 3)->nullable()->comment('since when they are asked for');
            $table->unsignedBigInteger('codes_step')->nullable()->comment('of which a code was taken: none of it or before counts again');
            $table->json('recovery_codes')->nullable()->comment('hashes of those that were not used');
            $table->dateTime('deactivated_at', 3)->nullable();
            $table->string('openid_issuer', 255)->charset('ascii')->collation('ascii_bin')->nullable();
            $table->string('openid_subject', 255)->charset('ascii')->collation('ascii_bin')->nullable();
            $table->unique(['openid_issuer', 'openid_subject']);
        });
        Schema::table('site_user', function (Blueprint $table): void {
            $table->dateTime('closed_at', 3)->nullable()->comment('since when the person may not do anything there');
        });
        Schema::table('personal_access_tokens', function (Blueprint $table): void {
            $table->foreignId('site_id')->nullable()->constrained()->cascadeOnDelete();
            $table->string('right', 8)->nullable()->comment('the most that it may; null for all that its person may');
        });
        DB::table('personal_access_tokens')->whereNull('expires_at')->update(['expires_at' => now('UTC')->addDays(self::OLD_TOKEN_DAYS)]);
        Schema::table('mails', fn (Blueprint $table) => $table->unsignedBigInteger('site_id')->nullable()->comment('null for what is about an account')->change());
        Schema::create('sign_ins', function (Blueprint $table): void {
            $table->id();
            $table->foreignId('user_id')->constrained()->cascadeOnDelete();
            $table->string('method', 24)->comment('password, code, recovery-code, single-sign-on');
            $table->string('address', 45);
            $table->string('agent', 255);
            $table->dateTime('at', 3);
            $table->dateTime('seen_at', 3)->comment('when its person last did something');
            $table->dateTime('confirmed_at', 3)->comment('when they last proved who they are');
            $table->dateTime('ended_at', 3)->nullable();
            $table->index(['user_id', 'ended_at']);
            $table->index('seen_at');
        });
        Schema::create('account_links', function (Blueprint $table): void {
            $table->id();
            $table->string('purpose', 12)->comment('invitation, reset');
            $table->char('token_hash', 64)->charset('ascii')->collation('ascii_bin')->unique();
            $table->foreignId('user_id')->nullable()->constrained()->cascadeOnDelete();
            $table->string('email', 254)->collation('utf8mb4_bin');
            $table->foreignId('site_id')->nullable()->constrained()->cascadeOnDelete();
            $table->string('right', 8)->nullable();
            $table->foreignId('author_id')->nullable()->constrained('users')->nullOnDelete();
            $table->string('author')->default('');
            $table->dateTime('created_at', 3);
            $table->dateTime('expires_at', 3);
            $table->dateTime('used_at', 3)->nullable();
            $table->dateTime('revoked_at', 3)->nullable();
            $table->index(['site_id', 'id']);
            $table->index('expires_at');
        });
        Schema::create('security_events', function (Blueprint $table): void {
            $table->id();
            $table->dateTime('at', 3);
            $table->string('matter', 24)->charset('ascii')->collation('ascii_bin');
            $table->foreignId('user_id')->nullable()->constrained()->nullOnDelete();
            $table->string('person')->default('')->comment('as they were called then');
            $table->foreignId('site_id')->nullable()->constrained()->cascadeOnDelete();
            $table->string('address', 45)->default('');
            $table->string('agent', 255)->default('');
            $table->string('note', 500)->default('');
            $table->index('at');
            $table->index(['site_id', 'id']);
            $table->index(['user_id', 'id']);
        });
    }

    public function down(): void
    {
        foreach (['security_events', 'account_links', 'sign_ins'] as $table) {
            Schema::dropIfExists($table);
        }
        Schema::table('personal_access_tokens', function (Blueprint $table): void {
            $table->dropConstrainedForeignId('site_id');
            $table->dropColumn('right');
        });
        Schema::table('site_user', fn (Blueprint $table) => $table->dropColumn('closed_at'));
        Schema::table('users', fn (Blueprint $table) => $table->dropUnique(['openid_issuer', 'openid_subject']));
        Schema::table('users', fn (Blueprint $table) => $table->dropColumn(['openid_issuer', 'openid_subject', 'password_at', 'codes_secret', 'codes_since', 'codes_step', 'recovery_codes', 'deactivated_at']));
        DB::table('mails')->whereNull('site_id')->delete();
        Schema::table('mails', fn (Blueprint $table) => $table->unsignedBigInteger('site_id')->nullable(false)->change());
        Schema::table('users', fn (Blueprint $table) => $table->string('email')->collation('utf8mb4_unicode_ci')->change());
    }
};
