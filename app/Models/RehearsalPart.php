<?php

namespace App\Models;

use Illuminate\Database\Eloquent\Model;

/**
 * One part of a rehearsal, with what came of it: a rehearsal that was interrupted goes on with those that are left.
 *
 * @property array{findings: list<array<string, mixed>>, proofs: list<array<string, mixed>>, figures: array<string, mixed>}|null $result
 */
class RehearsalPart extends Model
{
    public $timestamps = false;

    protected $fillable = ['rehearsal_id', 'place', 'kind', 'variant', 'words', 'state', 'tries', 'seconds', 'result'];

    protected $casts = ['result' => StoredJson::class, 'seconds' => 'float'];
}
