<?php

namespace App\Models;

use Carbon\CarbonImmutable;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Database\Eloquent\Model;
use Illuminate\Database\Eloquent\Relations\BelongsTo;
use Pellix\Core\Formats\Moment;

/**
 * A rule by which audits leave something out: of one experiment, of one log, or of all experiments of a site. It is withdrawn, never deleted.
 *
 * @property array<string, mixed> $definition
 * @property CarbonImmutable      $made_at
 * @property CarbonImmutable|null $withdrawn_at
 */
class Exclusion extends Model
{
    public $timestamps = false;

    protected $fillable = ['site_id', 'experiment_id', 'audit_log_id', 'definition', 'reason', 'author', 'made_at', 'withdrawn_by', 'withdrawn_at'];

    protected $casts = ['definition' => StoredJson::class, 'made_at' => 'immutable_datetime', 'withdrawn_at' => 'immutable_datetime'];

    protected $dateFormat = 'Y-m-d H:i:s.v';

    /** @return BelongsTo<Site, $this> */
    public function site(): BelongsTo
    {
        return $this->belongsTo(Site::class);
    }

    /**
     * Those that concern what was audited: its own, and of an experiment those of the whole site.
     *
     * @return Builder<self>
     */
    public static function concerning(Experiment|AuditLog $subject): Builder
    {
        $own = $subject instanceof Experiment ? 'experiment_id' : 'audit_log_id';

        return self::query()->where('site_id', $subject->site_id)->where(static fn ($any) => $any->where($own, $subject->id)
            ->when($subject instanceof Experiment, static fn ($any) => $any->orWhere(static fn ($all) => $all->whereNull('experiment_id')->whereNull('audit_log_id'))))->orderBy('id');
    }

    /** @return list<array<string, mixed>> those that audits and readouts go by now */
    public static function active(Experiment|AuditLog $subject): array
    {
        return self::concerning($subject)->whereNull('withdrawn_at')->get()->map(static fn (Exclusion $one): array => [...$one->definition, 'made' => Moment::format($one->made_at)])->values()->all();
    }
}
