<?php

namespace App\Http\Controllers;

use App\Inventory\PageCopies;
use App\Models\Page;
use App\Models\Site;
use Carbon\CarbonImmutable;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Support\Str;
use Pellix\Core\Formats\Moment;
use Pellix\Core\Pages\InertPage;
use Pellix\Core\Pages\PageKey;

/**
 * A page as it was inspected, to be changed with the Loupe where the snippet is not on the page itself yet. It has an origin of its own
 * (sandbox), loads nothing, and runs nothing but the Loupe; the link to that stands behind the `#`.
 */
class LoupeCopyController extends Controller
{
    public function show(Request $request, Site $site): Response
    {
        $url = $request->validate(['url' => ['required', 'string', 'max:2000']])['url'];
        $page = Page::query()->where('site_id', $site->id)->where('page', PageKey::of($url, $site->page_parameters)->id)->first();
        $kept = $page === null ? null : PageCopies::kept($site, $page);
        abort_if($kept === null, 404, 'There is no copy of this page: inspect it first.');
        $origin = rtrim((string) config('app.url'), '/');
        $nonce = Str::random(32);
        $told = json_encode(['url' => $url, 'at' => Moment::format(CarbonImmutable::parse($kept['at'], 'UTC'))], JSON_THROW_ON_ERROR | JSON_HEX_TAG | JSON_HEX_AMP);
        $collector = json_encode("{$origin}/c", JSON_THROW_ON_ERROR | JSON_HEX_TAG);
        $head = "<script nonce=\"{$nonce}\">window.pellixSite={collector:{$collector}};window.pellixCopy={$told}</script><script nonce=\"{$nonce}\" src=\"{$origin}/loupe.js\" defer></script>";

        return response(InertPage::of($kept['html'], $kept['sheets'], $head), 200, [
            'Content-Type' => 'text/html; charset=utf-8', 'Cache-Control' => 'no-store', 'Referrer-Policy' => 'no-referrer', 'X-Robots-Tag' => 'noindex, nofollow',
            'Content-Security-Policy' => "sandbox allow-scripts; default-src 'none'; script-src 'nonce-{$nonce}'; style-src 'unsafe-inline'; img-src data:; connect-src {$origin}/loupe/; frame-ancestors 'none'; base-uri 'none'; form-action 'none'",
        ]);
    }
}
