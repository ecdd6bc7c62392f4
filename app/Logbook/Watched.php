<?php

namespace App\Logbook;

use App\Models\Brief;
use App\Models\EventDefinition;
use App\Models\Finding;
use App\Models\Goal;
use App\Models\Site;
use App\Models\Webhook;
use Illuminate\Database\Eloquent\Model;
use Pellix\Core\Formats\Differences;
use Pellix\Core\Vocabulary\Thing;

/** Notes whatever becomes of things that are kept as one row each; of experiments and tags, their stores do. */
final readonly class Watched
{
    /** Model => columns that are worth an entry. */
    public const COLUMNS = [
        Site::class => ['name', 'hosts', 'time_zone', 'currency', 'cookie_days', 'srm_alpha', 'fresh_seconds', 'data_layer', 'data_events', 'consent_mode', 'honour_gpc', 'session_minutes', 'page_groups', 'page_parameters', 'naming', 'two_people'],
        Goal::class => ['definition'],
        EventDefinition::class => ['meaning', 'sent_from', 'schema', 'examples'],
        Brief::class => ['recipient', 'message', 'guard_ms', 'expires_at', 'revoked_at'],
        Finding::class => ['state', 'note'],
        // Not its address: such addresses often hold what only the two may know.
        Webhook::class => ['name', 'wish', 'digest', 'active'],
    ];

    public function __construct(private Logbook $logbook)
    {
    }

    public function created(Model $model): void
    {
        // What is found by itself is no change that anybody made.
        $model instanceof Finding || $this->note($model, 'created', [], $this->fields($model, $model->getAttributes()));
    }

    public function updated(Model $model): void
    {
        $this->note($model, 'changed', $this->fields($model, $model->getRawOriginal()), $this->fields($model, $model->getAttributes()));
    }

    public function deleted(Model $model): void
    {
        $model instanceof Finding || $this->note($model, 'deleted', $this->fields($model, $model->getRawOriginal()), []);
    }

    /**
     * @param array<string, mixed> $before
     * @param array<string, mixed> $after
     */
    private function note(Model $model, string $event, array $before, array $after): void
    {
        $changes = Differences::between($before, $after);
        if ($event === 'changed' && $changes === []) {
            return;
        }
        [$site, $thing, $key, $name] = match (true) {
            $model instanceof Site => [$model->id, Thing::Site, $model->key, $model->name],
            $model instanceof Goal => [$model->site_id, Thing::Goal, $model->key, $model->name],
            $model instanceof EventDefinition => [$model->site_id, Thing::Event, $model->name, $model->name],
            $model instanceof Webhook => [$model->site_id, Thing::Webhook, (string) $model->id, $model->name],
            $model instanceof Brief => [$model->site_id, Thing::Brief, (string) $model->id, $model->recipient],
            $model instanceof Finding => [$model->site_id, Thing::Finding, (string) $model->id, $model->code],
            default => throw new \LogicException('Nothing is known of '.$model::class.'.'),
        };
        $this->logbook->note($site, $thing, $key, $name, $event, $changes, subject: $model);
    }

    /**
     * @param array<string, mixed> $attributes as they are stored
     *
     * @return array<string, mixed> JSON read; a goal's definition member by member
     */
    private function fields(Model $model, array $attributes): array
    {
        $fields = [];
        foreach (array_intersect_key($attributes, array_flip(self::COLUMNS[$model::class])) as $name => $value) {
            $json = is_string($value) && in_array($value[0] ?? '', ['{', '['], true) ? json_decode($value, true) : null;
            $fields[$name] = is_array($json) ? $json : $value;
        }

        return array_filter($model instanceof Goal ? $fields['definition'] ?? [] : $fields, static fn (mixed $value): bool => $value !== null && $value !== '');
    }
}
