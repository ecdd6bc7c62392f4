<?php

namespace App\Http\Controllers;

use App\Http\Resources\SiteResource;
use App\Models\Site;

class SiteController extends Controller
{
    public function show(Site $site): SiteResource
    {
        return new SiteResource($site);
    }
}
