<?php

namespace App\Approvals;

use App\Models\Experiment;
use App\Models\Site;
use Pellix\Core\Formats\Differences;
use Pellix\Core\Wiring\Tags\TagSet;

/** What may be asked of somebody who publishes: which requests of the API, what each would change, and of which state it speaks. */
final readonly class Askable
{
    private const EXPERIMENT = '[\x21-\x2e\x30-\x7e]{1,200}';

    /** Method and path below the site => kind. */
    private const KINDS = [
        '~\APOST experiments/('.self::EXPERIMENT.')/stage\z~' => 'stage',
        '~\APUT experiments/('.self::EXPERIMENT.')/kept\z~' => 'kept',
        '~\APUT experiments/('.self::EXPERIMENT.')\z~' => 'experiment',
        '~\APUT experiments/('.self::EXPERIMENT.')/timetable\z~' => 'timetable',
        '~\APOST experiments/('.self::EXPERIMENT.')/decisions\z~' => 'decision',
        '~\APOST wiring/versions\z~' => 'tags',
        '~\APOST wiring/versions/(\d{1,9})/restore\z~' => 'tags-back',
        '~\APOST publications\z~' => 'publish',
        '~\APOST publications/(\d{1,9})/restore\z~' => 'publish-back',
        '~\APUT capture\z~' => 'capture',
    ];

    /**
     * @param string               $kind   one of those above
     * @param string               $target key of the experiment, or number of the version
     * @param array<string, mixed> $body
     */
    private function __construct(private Site $site, private string $kind, private string $target, private array $body)
    {
    }

    /** @param array<string, mixed> $body */
    public static function of(Site $site, string $method, string $path, array $body): ?self
    {
        foreach (self::KINDS as $pattern => $kind) {
            if (preg_match($pattern, "{$method} {$path}", $m) === 1) {
                return new self($site, $kind, rawurldecode($m[1] ?? ''), $body);
            }
        }

        return null;
    }

    /** What stops something needs no second person: it must be quick. */
    public function onlyStops(): bool
    {
        return ($this->kind === 'stage' && in_array($this->body['action'] ?? '', ['pause', 'end', 'archive', 'unschedule'], true) && ($this->body['keep'] ?? null) === null)
            || ($this->kind === 'kept' && ($this->body['variant'] ?? null) === null);
    }

    public function title(): string
    {
        $name = $this->experiment()->name ?? $this->target;
        $action = is_string($this->body['action'] ?? null) ? $this->body['action'] : '';

        return mb_substr(match ($this->kind) {
            'stage' => (['start' => 'Start', 'schedule' => 'Schedule', 'unschedule' => 'Take back', 'pause' => 'Pause', 'resume' => 'Resume', 'end' => 'End', 'archive' => 'Archive'][$action] ?? 'Move')." “{$name}”",
            'kept' => "Serve a variant of “{$name}” to everybody, or stop that",
            'experiment' => "Change “{$name}” while it runs",
            'timetable' => "Change when “{$name}” starts and ends",
            'decision' => "Decide “{$name}”",
            'tags' => 'Publish the tags that are worked on',
            'tags-back' => "Put the tags of version {$this->target} back",
            'publish' => 'Publish what is declared',
            'publish-back' => "Put published file {$this->target} back",
            default => 'Change what pages send',
        }, 0, 300);
    }

    /** @return list<array{field: string, before: mixed, after: mixed}> what will be another than it is */
    public function changes(): array
    {
        $given = array_diff_key($this->body, ['note' => 0, 'because' => 0, 'learned' => 0, 'reason' => 0]);

        return array_slice(match ($this->kind) {
            'stage' => [['field' => 'state', 'before' => $this->experiment()?->state, 'after' => $this->body['action'] ?? null], ...($this->experiment() === null ? [] : self::variants($this->experiment()))],
            'experiment' => Differences::between($this->experiment()?->declaration() ?? [], array_diff_key($given, ['goals' => 0, 'key' => 0])),
            'tags' => Differences::between($this->site->publishedWiring()?->set()->toArray() ?? [], array_values($this->site->tags)),
            'tags-back' => Differences::between($this->site->publishedWiring()?->set()->toArray() ?? [], $this->site->wiringVersions()->where('number', (int) $this->target)->first()?->set()->toArray() ?? TagSet::read([])->toArray()),
            'capture' => Differences::between($this->site->only(array_keys($given)), $given),
            default => array_map(static fn (string $field): array => ['field' => $field, 'before' => null, 'after' => $given[$field]], array_keys($given)),
        }, 0, 200);
    }

    /** Of the state that it changes: with another one it is another question. */
    public function base(): string
    {
        $experiment = $this->experiment();

        return hash('sha256', (string) json_encode([
            $this->kind, $experiment?->revision, $experiment?->state, $experiment?->kept_variant,
            in_array($this->kind, ['tags', 'tags-back'], true) ? [$this->site->tags_revision, (int) $this->site->wiringVersions()->max('number')] : null,
            in_array($this->kind, ['publish', 'publish-back'], true) ? $this->site->published_number : null,
            $this->kind === 'capture' ? $this->site->only(array_keys($this->body)) : null,
        ]));
    }

    private function experiment(): ?Experiment
    {
        return in_array($this->kind, ['stage', 'kept', 'experiment', 'timetable', 'decision'], true) ? $this->site->experiments()->where('key', $this->target)->first() : null;
    }

    /** @return list<array{field: string, before: mixed, after: mixed}> what visitors would meet */
    private static function variants(Experiment $experiment): array
    {
        return array_values(array_map(static fn (array $variant): array => ['field' => "variant {$variant['key']}", 'before' => null, 'after' => ['weight' => $variant['weight'] ?? null, 'changes' => $variant['changes'] ?? []]], array_filter($experiment->variants, is_array(...))));
    }
}
