<?php

namespace App\Http\Controllers;

use App\Http\Resources\InternalTrafficResource;
use App\Models\Site;
use App\Sites\InternalRules;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;

/** By what a site's own people and machines are known. */
class InternalTrafficController extends Controller
{
    public function __construct(private readonly InternalRules $rules)
    {
    }

    public function show(Site $site): InternalTrafficResource
    {
        return new InternalTrafficResource($site);
    }

    public function update(Request $request, Site $site): InternalTrafficResource
    {
        return new InternalTrafficResource($this->rules->change($site, $request->all()));
    }

    public function mark(Request $request, Site $site): JsonResponse
    {
        $name = $request->validate(['name' => ['required', 'string', 'max:80']])['name'];

        return (new InternalTrafficResource($this->rules->mark($site, $name)))->response()->setStatusCode(201);
    }

    public function unmark(Site $site, string $token): InternalTrafficResource
    {
        return new InternalTrafficResource($this->rules->unmark($site, $token));
    }
}
