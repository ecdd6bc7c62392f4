<?php

namespace App\Http\Controllers;

use App\Http\Requests\SaveTagsRequest;
use App\Http\Resources\WiringVersionResource;
use App\Models\Site;
use App\Models\WiringVersion;
use App\Publishing\WiringStore;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Pellix\Core\Wiring\Tags\TagSet;

/** The tags of a site: those being worked on, and the versions that were published. */
class WiringController extends Controller
{
    public function __construct(private readonly WiringStore $store)
    {
    }

    public function show(Site $site): JsonResponse
    {
        $published = $site->publishedWiring();
        $kept = TagSet::readable($site->tags);

        return response()->json([
            // One that cannot be read any more is given out as it was kept, so that it can be mended.
            'tags' => array_values(array_filter($site->tags, static fn (mixed $tag): bool => is_string($tag['key'] ?? null))),
            'faults' => (object) $kept->faults,
            'revision' => $site->tags_revision,
            'unpublished' => TagSet::differences($published?->set() ?? TagSet::read([]), $kept),
            'fired' => (object) $this->store->fired($site),
            'versions' => WiringVersionResource::collection($site->wiringVersions()->orderByDesc('number')->limit(100)->get()),
        ]);
    }

    public function update(SaveTagsRequest $request, Site $site): JsonResponse
    {
        $this->store->save($site, $request->tags(), $request->integer('revision'));

        return $this->show($site->refresh());
    }

    public function publish(Request $request, Site $site): JsonResponse
    {
        $note = $request->validate(['note' => ['required', 'string', 'max:500']], ['note.required' => 'Say in a few words what is new, for whoever reads the list of versions.'])['note'];

        return (new WiringVersionResource($this->store->publish($site, $request->user(), $note)))->response()->setStatusCode(201);
    }

    public function restore(Request $request, Site $site, WiringVersion $wiringVersion): JsonResponse
    {
        return (new WiringVersionResource($this->store->restore($site, $wiringVersion, $request->user())))->response()->setStatusCode(201);
    }

    /** What changed from another version to this one; from none where `against` is 0. */
    public function differences(Request $request, Site $site, WiringVersion $wiringVersion): JsonResponse
    {
        $against = (int) $request->validate(['against' => ['required', 'integer', 'min:0']])['against'];
        $other = $against === 0 ? TagSet::read([]) : $site->wiringVersions()->where('number', $against)->firstOrFail()->set();

        return response()->json(TagSet::differences($other, $wiringVersion->set()));
    }
}
