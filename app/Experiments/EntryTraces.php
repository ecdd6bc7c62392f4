<?php

declare(strict_types=1);

namespace App\Experiments;

use App\Models\Site;
use App\ReadModel\StoredEvents;
use Pellix\Core\Experiments\EntryTrace;
use Pellix\Core\Rules\DescribedVisitor;
use Pellix\Core\Rules\PageRule;
use Pellix\Core\Rules\Rule;

/** Tries the rules of an experiment on described visitors and on recorded visits. */
final class EntryTraces
{
    /**
     * @param list<DescribedVisitor|array{event: string, visitor: string|null}> $visitors
     *
     * @return list<array<string, mixed>>
     */
    public function of(Site $site, PageRule $pages, ?Rule $audience, array $visitors): array
    {
        return array_map(static fn (DescribedVisitor|array $one): array => $one instanceof DescribedVisitor
            ? ['url' => $one->url, ...EntryTrace::of($pages, $audience, $one, $one->isKnown(...))->toArray()]
            : self::recorded($site, $pages, $audience, $one), $visitors);
    }

    /**
     * @param array{event: string, visitor: string|null} $which
     *
     * @return array<string, mixed>
     */
    private static function recorded(Site $site, PageRule $pages, ?Rule $audience, array $which): array
    {
        $row = StoredEvents::find($site->id, $which['event'], $which['visitor']);
        if ($row === null) {
            return ['url' => null, 'enters' => null, 'words' => 'There is no such recorded event any more.', 'lines' => []];
        }
        $event = StoredEvents::event($row);
        $facts = $event->facts();

        return ['url' => $event->url, ...EntryTrace::of($pages, $audience, $facts, $facts->isKnown(...))->toArray()];
    }
}
