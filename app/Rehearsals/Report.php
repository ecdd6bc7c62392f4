<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Models\Rehearsal;
use App\Models\RehearsalPart;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Pellix\Core\Formats\Moment;
use Pellix\Core\Rehearsal\Results;
use Pellix\Core\Rehearsal\Script;
use Pellix\Core\Rehearsal\Step;

/** What a rehearsal found, to be taken elsewhere: JSON, plain text, JUnit XML, and one HTML page with its pictures. */
final readonly class Report
{
    private const MOST_PICTURES = 60;

    /**
     * @param list<array<string, mixed>> $parts
     */
    private function __construct(private Rehearsal $rehearsal, private array $parts)
    {
    }

    public static function of(Rehearsal $rehearsal): self
    {
        return new self($rehearsal, $rehearsal->parts()->get()->map(static fn (RehearsalPart $part): array => [
            'kind' => $part->kind, 'variant' => $part->variant, 'words' => $part->words, 'state' => $part->state, 'seconds' => $part->seconds,
            'findings' => self::findings($part), 'proofs' => $part->result['proofs'] ?? [], 'figures' => (object) ($part->result['figures'] ?? []),
        ])->all());
    }

    /** @return array<string, mixed> a rehearsal without what it found */
    public static function head(Rehearsal $of): array
    {
        $report = new self($of, []);
        $took = $of->started_at?->diffInSeconds($of->ended_at ?? CarbonImmutable::now('UTC'), true) ?? 0.0;

        return [
            'pellix' => 1,
            'rehearsal' => $of->id,
            'experiment' => $of->experiment?->key,
            'site' => $of->site->key,
            'state' => $of->state,
            'verdict' => Results::verdict($of->state === 'done', $of->blockers, $of->warnings),
            'words' => $report->words(),
            'why' => $of->why,
            'by' => $of->by,
            'asked' => Moment::format($of->asked_at),
            'started' => $of->started_at === null ? null : Moment::format($of->started_at),
            'ended' => $of->ended_at === null ? null : Moment::format($of->ended_at),
            'seconds' => round($took, 1),
            'seconds_left' => $of->state === 'running' && $of->done > 0 ? (int) ceil($took / $of->done * ($of->total - $of->done)) : null,
            'doing' => $of->doing,
            'done' => $of->done,
            'total' => $of->total,
            'blockers' => $of->blockers,
            'warnings' => $of->warnings,
            'notes' => $of->notes,
            'revision' => $of->revision,
            'configuration' => $of->configuration,
            'variants' => $of->variants,
            'screens' => $of->screens,
        ];
    }

    /** @return list<array<string, mixed>> what was found in a part; evidence stays an object where it is empty */
    public static function findings(RehearsalPart $part): array
    {
        return array_map(static fn (array $one): array => [...$one, 'evidence' => (object) $one['evidence']], $part->result['findings'] ?? []);
    }

    /** @return array<string, array<string, mixed>> all that a rehearsal found, by what tells it from others */
    public static function allFindings(Rehearsal $of): array
    {
        return array_column(array_merge(...$of->parts()->get()->map(self::findings(...))->all(), ...[[]]), null, 'identity');
    }

    /** @return list<string> names of the pictures that were kept */
    public static function pictures(Rehearsal $of): array
    {
        return DB::table('rehearsal_files')->where('rehearsal_id', $of->id)->where('media', 'like', 'image/%')->orderBy('id')->pluck('name')->all();
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        $steps = Script::read($this->rehearsal->script)->steps;

        return [
            ...self::head($this->rehearsal),
            'script' => $this->rehearsal->script,
            'steps' => array_map(static fn (Step $step): string => $step->words(), $steps),
            'findings' => Results::merged(array_merge(...array_column($this->parts, 'findings'), ...[[]])),
            'proofs' => array_merge(...array_column($this->parts, 'proofs'), ...[[]]),
            'parts' => array_map(fn (array $part): array => ['kind' => $part['kind'], 'variant' => $part['variant'], 'words' => $part['words'], 'state' => $part['state'], 'seconds' => $part['seconds'], 'findings' => count($part['findings']), 'proofs' => count($part['proofs']), 'figures' => $this->rehearsal->isOver() ? $part['figures'] : self::brief($part['figures'])], $this->parts),
            'files' => DB::table('rehearsal_files')->where('rehearsal_id', $this->rehearsal->id)->orderBy('id')->get(['name', 'media'])->map(static fn (object $one): array => (array) $one)->all(),
        ];
    }

    /** Figures without what stood where on the pages: while it is watched, the report is read every second. */
    private static function brief(object $figures): object
    {
        return (object) array_map(static fn (mixed $one): mixed => is_array($one) ? array_diff_key($one, ['places' => 0, 'changed' => 0]) : $one, array_diff_key((array) $figures, ['pages' => 0]));
    }

    public function words(): string
    {
        $of = $this->rehearsal;

        return match (true) {
            $of->state === 'cancelled' => 'Cancelled: what was not rehearsed is not known.',
            $of->state === 'failed' => "It failed: {$of->doing}",
            ! $of->isOver() => "{$of->done} of {$of->total} parts are done.",
            $of->blockers > 0 => $of->blockers === 1 ? 'One thing does not work.' : "{$of->blockers} things do not work.",
            $of->warnings > 0 => 'Everything works; '.($of->warnings === 1 ? 'one thing is to be looked at.' : "{$of->warnings} things are to be looked at."),
            default => 'Everything works.',
        };
    }

    public function text(): string
    {
        $lines = [$this->words(), ''];
        foreach ($this->parts as $part) {
            $lines[] = "{$part['words']}".($part['seconds'] === null ? '' : '  ('.number_format($part['seconds'], 1).' s)');
            foreach ($part['findings'] as $one) {
                $lines[] = '  '.str_pad($one['severity'], 8).($one['screen'] === null ? '' : "[{$one['screen']}] ").$one['words'].($one['cause'] === '' ? '' : ' '.$one['cause']);
                $one['next'] === '' || $lines[] = '           → '.$one['next'];
            }
            foreach ($part['proofs'] as $one) {
                $lines[] = '  holds   '.($one['screen'] === null ? '' : "[{$one['screen']}] ").$one['words'];
            }
        }

        return implode("\n", $lines)."\n";
    }

    /** JUnit XML, as build servers read it: a suite for each part, a case for each thing that was proven or found. */
    public function junit(): string
    {
        return JUnit::of($this->words(), $this->parts);
    }

    /** One page that needs nothing beside it. */
    public function html(): string
    {
        $pictures = DB::table('rehearsal_files')->where('rehearsal_id', $this->rehearsal->id)->where('media', 'like', 'image/%')->where('name', '<>', 'now.jpg')->orderBy('id')->limit(self::MOST_PICTURES)->get(['name', 'media', 'content'])->all();

        $told = $this->toArray();

        return view('rehearsal', ['of' => $told, 'name' => $this->rehearsal->experiment->name ?? $this->rehearsal->site->name, 'zone' => $this->rehearsal->site->time_zone, 'findings' => $told['findings'], 'parts' => $this->parts, 'steps' => $told['steps'], 'pictures' => $pictures])->render();
    }
}
