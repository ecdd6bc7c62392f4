<?php

namespace App\Publishing;

use App\Logbook\Logbook;
use App\Models\Site;
use App\Models\User;
use App\Models\WiringVersion;
use Carbon\CarbonImmutable;
use Illuminate\Support\Facades\DB;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Formats\Differences;
use Pellix\Core\Vocabulary\Thing;
use Pellix\Core\Wiring\Tags\TagSet;

/** Keeps the tags of a site, and publishes them as numbered versions that are never changed. */
final readonly class WiringStore
{
    private const FIRED_DAYS = 7;

    public function __construct(private Publisher $publisher, private Logbook $logbook)
    {
    }

    public function save(Site $site, TagSet $tags, int $revision): void
    {
        $saved = Site::query()->whereKey($site->id)->where('tags_revision', $revision)->update(['tags' => json_encode($tags->toArray()), 'tags_revision' => $revision + 1]);
        abort_if($saved === 0, 409, 'Somebody else has changed the tags meanwhile. Copy what you wrote, reload the page, and write it again.');
        $changes = Differences::between(array_values($site->tags), $tags->toArray());
        $changes === [] || $this->logbook->note($site->id, Thing::Tags, 'tags', 'Tags that are worked on', 'changed', $changes);
    }

    public function publish(Site $site, User $author, string $note): WiringVersion
    {
        $published = $site->publishedWiring();
        $tags = TagSet::readable($site->tags);
        foreach ($tags->faults as $key => $why) {
            throw ValidationException::withMessages(['note' => "The tag \"{$key}\" cannot be read: {$why} Mend it or take it out first."]);
        }
        if (TagSet::differences($published?->set() ?? TagSet::read([]), $tags) === []) {
            throw ValidationException::withMessages(['note' => $published === null ? 'There is no tag to publish yet.' : "Nothing differs from version {$published->number}, which is published."]);
        }

        return $this->add($site, $tags, $author, $note, null);
    }

    /** Publishes the tags of an earlier version again, as a new version; they become those that are worked on. */
    public function restore(Site $site, WiringVersion $version, User $author): WiringVersion
    {
        $restored = $this->add($site, $version->set(), $author, "Version {$version->number} again", $version->number);
        $site->refresh();
        $this->save($site, $version->set(), $site->tags_revision);

        return $restored;
    }

    /** @return array<string, array{count: int, last: CarbonImmutable}> tag key => how often it fired in the last seven days, and when last */
    public function fired(Site $site): array
    {
        return DB::table('volumes')->where('site_id', $site->id)->where('by', 'tag')->where('hour', '>=', CarbonImmutable::now('UTC')->subDays(self::FIRED_DAYS)->format('Y-m-d H:00:00'))
            ->groupBy('item')->selectRaw('item, sum(n) as n, max(last) as last')->get()
            ->mapWithKeys(static fn (object $row): array => [$row->item => ['count' => (int) $row->n, 'last' => CarbonImmutable::parse($row->last, 'UTC')]])->all();
    }

    private function add(Site $site, TagSet $tags, User $author, string $note, ?int $restores): WiringVersion
    {
        $version = DB::transaction(function () use ($site, $tags, $author, $note, $restores): WiringVersion {
            // Two who publish at once get two numbers.
            Site::query()->whereKey($site->id)->lockForUpdate()->first();

            return $site->wiringVersions()->create([
                'number' => 1 + (int) $site->wiringVersions()->max('number'), 'author_id' => $author->id, 'author' => $author->name, 'note' => $note, 'restores' => $restores,
                'tags' => $tags->toArray(), 'published_at' => CarbonImmutable::now('UTC'),
            ]);
        });
        $before = $site->wiringVersions()->where('number', $version->number - 1)->first();
        $this->logbook->note($site->id, Thing::Tags, 'tags', "Version {$version->number}", $restores === null ? 'published' : 'restored', Differences::between($before === null ? [] : $before->set()->toArray(), $tags->toArray()), $author, $note);
        $this->publisher->publish($site);

        return $version;
    }
}
