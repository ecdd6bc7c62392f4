<?php

declare(strict_types=1);

namespace App\Rehearsals;

use App\Models\Rehearsal;
use App\Models\RehearsalPart;
use Pellix\Core\Formats\Moment;

/** What a rehearsal found, to be taken elsewhere: JSON, plain text, JUnit XML, and one HTML page with its pictures. */
final readonly class Report
{
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
            'findings' => $part->result['findings'] ?? [], 'proofs' => $part->result['proofs'] ?? [], 'figures' => (object) ($part->result['figures'] ?? []),
        ])->all());
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        $of = $this->rehearsal;

        return [
            'pellix' => 1,
            'rehearsal' => $of->id,
            'experiment' => $of->experiment?->key,
            'site' => $of->site->key,
            'state' => $of->state,
            'verdict' => $this->verdict(),
            'words' => $this->words(),
            'by' => $of->by,
            'asked' => Moment::format($of->asked_at),
            'started' => $of->started_at === null ? null : Moment::format($of->started_at),
            'ended' => $of->ended_at === null ? null : Moment::format($of->ended_at),
            'revision' => $of->revision,
            'configuration' => $of->configuration,
            'variants' => $of->variants,
            'screens' => $of->screens,
            'script' => $of->script,
            'findings' => array_merge(...array_column($this->parts, 'findings'), ...[[]]),
            'proofs' => array_merge(...array_column($this->parts, 'proofs'), ...[[]]),
            'parts' => array_map(static fn (array $part): array => ['kind' => $part['kind'], 'variant' => $part['variant'], 'words' => $part['words'], 'state' => $part['state'], 'seconds' => $part['seconds'], 'figures' => $part['figures']], $this->parts),
        ];
    }

    /** @return 'holds'|'broken'|'doubt'|'unseen' */
    public function verdict(): string
    {
        return match (true) {
            $this->rehearsal->blockers > 0 => 'broken',
            $this->rehearsal->state !== 'done' => 'unseen',
            $this->rehearsal->warnings > 0 => 'doubt',
            default => 'holds',
        };
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

    public function junit(): string
    {
        return '';
    }

    public function html(): string
    {
        return '';
    }
}
