<?php

namespace App\Http\Controllers;

use App\AuditReport\AuditPage;
use App\AuditReport\AuditTable;
use App\Audits\AuditReading;
use App\Models\AuditShare;
use Carbon\CarbonImmutable;
use Illuminate\Http\Response;

/** The report of an audit as its reader sees it: no account, only the link. */
class PublicAuditController extends Controller
{
    public function show(string $token, string $format = ''): Response
    {
        $share = AuditShare::query()->where('token_hash', AuditShare::hash($token))->with('audit.site')->first();
        $now = CarbonImmutable::now('UTC');
        $report = $share !== null && $share->audit !== null && $share->isOpen($now) ? AuditReading::report($share->audit) : null;
        if ($share === null || $share->audit === null || $report === null) {
            // A link that ended reads like one that never was.
            return $this->answer(response()->view('brief.ended', [], 404));
        }
        $share->update(['read_at' => $now]);

        return $this->answer(match ($format) {
            '.json' => response(AuditReading::json($share->audit)."\n", 200, ['Content-Type' => 'application/json', 'Content-Disposition' => 'attachment; filename="audit.json"']),
            '.csv' => response(AuditTable::of($report), 200, ['Content-Type' => 'text/csv; charset=utf-8', 'Content-Disposition' => 'attachment; filename="audit.csv"']),
            default => response(AuditPage::of($report, AuditReading::views($share->audit), $share->audit->site->time_zone ?? 'UTC'), 200, ['Content-Type' => 'text/html; charset=utf-8', 'Content-Security-Policy' => "sandbox; default-src 'none'; img-src data:; style-src 'unsafe-inline'"]),
        });
    }

    private function answer(Response $response): Response
    {
        return $response->header('X-Robots-Tag', 'noindex, nofollow')->header('Referrer-Policy', 'no-referrer')->header('Cache-Control', 'no-store, private');
    }
}
