<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Illuminate\Database\Eloquent\Relations\BelongsToMany;
use Illuminate\Database\Eloquent\Relations\HasMany;
use Pellix\Core\Goals\Goal as Declared;

/**
 * What counts on a site; experiments use it in a role.
 *
 * @property-read object{role: 'primary'|'secondary'|'guardrail'} $pivot where it was read as one of an experiment's
 */
class Goal extends Model
{
    protected $fillable = ['site_id', 'key', 'name', 'definition', 'revision'];

    protected $casts = ['definition' => StoredJson::class, 'revision' => 'integer'];

    protected $attributes = ['revision' => 1];

    public function getRouteKeyName(): string
    {
        return 'key';
    }

    /** @return BelongsTo<Site, $this> */
    public function site(): BelongsTo
    {
        return $this->belongsTo(Site::class);
    }

    /** @return HasMany<GoalRevision, $this> */
    public function revisions(): HasMany
    {
        return $this->hasMany(GoalRevision::class);
    }

    /** @return BelongsToMany<Experiment, $this> */
    public function experiments(): BelongsToMany
    {
        return $this->belongsToMany(Experiment::class);
    }

    /** @param 'primary'|'secondary'|'guardrail' $role */
    public function declared(string $role = 'primary'): Declared
    {
        return Declared::read([...$this->definition, 'role' => $role]);
    }
}
