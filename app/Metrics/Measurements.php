<?php

namespace App\Metrics;

use Illuminate\Support\Facades\DB;

/** What was measured, as it stands in the database: of this machine, or of all together (an empty node). */
final readonly class Measurements
{
    public function __construct(private string $node)
    {
    }

    public static function here(): self
    {
        return new self((string) config('pellix.node_name'));
    }

    /** @param array<string, string> $labels */
    public function set(string $name, array $labels, float $value, bool $ofAll = false): void
    {
        DB::table('measurements')->upsert([$this->row($name, $labels, $value, $ofAll)], ['node', 'name', 'labels'], ['value']);
    }

    /** @param list<array{string, array<string, string>, float}> $all name, labels and how much more */
    public function add(array $all): void
    {
        foreach (array_chunk($all, 200) as $some) {
            DB::table('measurements')->upsert(array_map(fn (array $one): array => $this->row($one[0], $one[1], $one[2], false), $some), ['node', 'name', 'labels'], ['value' => DB::raw('value + values(value)')]);
        }
    }

    /** Those of one name that are of a kind which is counted anew each time: what is not there any more must not stay. */
    public function forget(string $name, bool $ofAll = false): void
    {
        DB::table('measurements')->where('node', $ofAll ? '' : $this->node)->where('name', $name)->delete();
    }

    /** @return array<string, list<array{labels: array<string, string>, value: float}>> by name */
    public function all(): array
    {
        $found = [];
        foreach (DB::table('measurements')->whereIn('node', ['', $this->node])->orderBy('name')->orderBy('labels')->get() as $row) {
            $found[$row->name][] = ['labels' => (array) json_decode($row->labels, true), 'value' => (float) $row->value];
        }

        return $found;
    }

    /**
     * @param array<string, string> $labels
     *
     * @return array{node: string, name: string, labels: string, value: float}
     */
    private function row(string $name, array $labels, float $value, bool $ofAll): array
    {
        ksort($labels);

        return ['node' => $ofAll ? '' : $this->node, 'name' => $name, 'labels' => (string) json_encode((object) $labels, JSON_UNESCAPED_SLASHES), 'value' => $value];
    }
}
