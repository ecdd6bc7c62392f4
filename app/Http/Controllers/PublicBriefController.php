<?php

namespace App\Http\Controllers;

use App\Briefs\BriefContent;
use App\Briefs\ChangeBrief;
use App\Models\Brief;
use Carbon\CarbonImmutable;
use Illuminate\Http\Request;
use Illuminate\Http\Response;

/** A brief as its reader sees it: no account, only the link. */
class PublicBriefController extends Controller
{
    public function show(Request $request, string $token, string $format = ''): Response
    {
        $brief = Brief::query()->where('token_hash', Brief::hash($token))->with('site')->first();
        $now = CarbonImmutable::now('UTC');
        if ($brief === null || ! $brief->isOpen($now)) {
            // A link that ended reads like one that never was.
            return $this->answer(response()->view('brief.ended', [], 404));
        }
        $brief->update(['read_at' => $now]);
        $experiment = $brief->experiment;
        $content = $experiment === null ? BriefContent::of($brief, $now) : ChangeBrief::of($brief, $experiment, $now);
        [$page, $markdown] = $experiment === null ? ['brief.page', 'brief.markdown'] : ['brief.experiment', 'brief.experiment-markdown'];
        $name = "{$brief->site->key}-brief";

        return $this->answer(match ($format) {
            '.md' => response()->view($markdown, ['brief' => $content])->header('Content-Type', 'text/markdown; charset=utf-8')
                ->header('Content-Disposition', "attachment; filename=\"{$name}.md\""),
            '.html' => response()->view($page, ['brief' => $content, 'download' => true])->header('Content-Disposition', "attachment; filename=\"{$name}.html\""),
            default => response()->view($page, ['brief' => $content, 'download' => false]),
        });
    }

    private function answer(Response $response): Response
    {
        return $response->header('X-Robots-Tag', 'noindex, nofollow')->header('Referrer-Policy', 'no-referrer')->header('Cache-Control', 'no-store, private');
    }
}
