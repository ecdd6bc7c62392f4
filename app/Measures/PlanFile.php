<?php

namespace App\Measures;

use App\Models\EventDefinition;
use App\Models\Site;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Events\EventPlan;
use Pellix\Core\Events\InvalidPlan;
use Pellix\Core\Events\SchemaJson;
use Pellix\Core\Formats\Csv;
use Pellix\Core\Formats\Fields;
use Pellix\Core\Formats\InvalidJson;
use Pellix\Core\Formats\JsonDocument;

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

    /**
     * @return list<EventPlan>
     *
     * @throws InvalidPlan
     */
    public function read(string $text): array
    {
        return preg_match('/\A\s*[\[{]/', $text) === 1 ? $this->readJson($text) : EventPlan::fromRows($this->rows($text));
    }

    /** @return list<EventPlan> */
    private function readJson(string $text): array
    {
        try {
            $document = JsonDocument::parse($text);
        } catch (InvalidJson $e) {
            throw new InvalidPlan($e->getMessage());
        }
        $fields = new Fields($document->value, InvalidPlan::class, 'A plan');
        if ($fields->raw('pellix') !== 1) {
            throw new InvalidPlan('The format version 1 is needed: "pellix": 1.', 'pellix');
        }
        $plans = [];
        foreach ($fields->list('events') as $i => $event) {
            $plans[] = Fields::within("events.{$i}", static fn (): EventPlan => EventPlan::read($event), InvalidPlan::class);
        }

        return $plans;
    }

    /** @return list<list<string>> */
    private function rows(string $text): array
    {
        $file = fopen('php://temp', 'w+');
        fwrite($file, (string) preg_replace('/\A\xef\xbb\xbf/', '', $text));
        rewind($file);
        $rows = [];
        while (($row = fgetcsv($file, null, ',', '"', '')) !== false) {
            if ($row !== [null]) {
                $rows[] = array_map(static fn (?string $cell): string => Csv::plain((string) $cell), $row);
            }
        }

        return $rows;
    }

    /** @return \Illuminate\Support\Collection<int, EventPlan> */
    private function plans(Site $site): \Illuminate\Support\Collection
    {
        return $site->eventDefinitions()->orderBy('name')->get()->toBase()->map(static fn (EventDefinition $one): EventPlan => EventPlan::asKept($one->name, $one->meaning, $one->sent_from, $one->schema, $one->examples));
    }
}
