<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsToMany;
use Illuminate\Database\Eloquent\Relations\HasMany;
use Pellix\Core\Wiring\Snippet;

/** A web site that a specialist looks after. */
class Site extends Model
{
    protected $fillable = ['key', 'name', 'hosts', 'time_zone', 'currency', 'cookie_days', 'srm_alpha', 'fresh_seconds'];

    protected $casts = ['hosts' => 'array', 'srm_alpha' => 'float', 'cookie_days' => 'integer', 'fresh_seconds' => 'integer'];

    public function getRouteKeyName(): string
    {
        return 'key';
    }

    /** @return BelongsToMany<User, $this> */
    public function users(): BelongsToMany
    {
        return $this->belongsToMany(User::class);
    }

    /** @return HasMany<Experiment, $this> */
    public function experiments(): HasMany
    {
        return $this->hasMany(Experiment::class);
    }

    /** @return HasMany<Goal, $this> */
    public function goals(): HasMany
    {
        return $this->hasMany(Goal::class);
    }

    public function snippet(): string
    {
        return Snippet::loader($this->key, config('app.url'));
    }
}
