<?php

namespace App\Http\Controllers;

use App\Http\Resources\FindingResource;
use App\Models\Finding;
use App\Models\Site;
use Illuminate\Http\Request;
use Illuminate\Http\Resources\Json\AnonymousResourceCollection;
use Illuminate\Validation\Rule;

/** What is wrong with a site and stays so until it is mended or explained. */
class FindingController extends Controller
{
    public function index(Site $site): AnonymousResourceCollection
    {
        return FindingResource::collection($site->findings()->with('page', 'experiment')->orderByRaw("state = 'open' desc")->latest('id')->limit(200)->get());
    }

    public function update(Request $request, Site $site, Finding $finding): FindingResource
    {
        $finding->update($request->validate([
            'state' => ['required', Rule::in(['open', 'explained', 'mended'])],
            'note' => ['required_unless:state,open', 'nullable', 'string', 'max:500'],
        ], ['note.required_unless' => 'Say in a few words why.']));

        return new FindingResource($finding->load('page', 'experiment'));
    }
}
