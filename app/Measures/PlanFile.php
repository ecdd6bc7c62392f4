<?php

namespace App\Measures;

use App\Models\EventDefinition;
use App\Models\Site;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Events\EventPlan;
use Pellix\Core\Events\SchemaJson;
use Pellix\Core\Formats\Csv;

/** The tracking plan of a site as a file: JSON with a JSON Schema an event, or CSV with a row a property. */
final class PlanFile
{
    /** @param list<EventPlan> $plans */
    public function keep(Site $site, array $plans): void
    {
        DB::transaction(static function () use ($site, $plans): void {
            foreach ($plans as $plan) {
                $site->eventDefinitions()->updateOrCreate(['name' => $plan->name], array_diff_key($plan->toArray(), ['name' => 0]));
            }
        });
    }

    public function json(Site $site): string
    {
        $events = $this->plans($site)->map(static fn (EventPlan $plan): array => [
            ...$plan->toArray(), 'schema' => SchemaJson::of($plan->schema), 'examples' => array_map(static fn (array $example): object => (object) $example, $plan->examples),
        ])->all();

        return json_encode(['pellix' => 1, 'events' => $events], JSON_THROW_ON_ERROR | JSON_PRETTY_PRINT | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE)."\n";
    }

    public function csv(Site $site): string
    {
        $file = fopen('php://temp', 'w+');
        foreach ([EventPlan::HEADER, ...$this->plans($site)->flatMap(static fn (EventPlan $plan): array => $plan->rows())->all()] as $row) {
            fputcsv($file, array_map(Csv::harmless(...), $row), ',', '"', '', "\r\n");
        }

        return (string) stream_get_contents($file, null, 0);
    }

    /** @return \Illuminate\Support\Collection<int, EventPlan> */
    private function plans(Site $site): \Illuminate\Support\Collection
    {
        return $site->eventDefinitions()->orderBy('name')->get()->toBase()->map(static fn (EventDefinition $one): EventPlan => EventPlan::asKept($one->name, $one->meaning, $one->sent_from, $one->schema, $one->examples));
    }
}
