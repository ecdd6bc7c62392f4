<?php

declare(strict_types=1);

namespace App\AuditReport;

/** One HTML page that needs nothing else: to be sent to somebody, read without scripts, and printed on A4. */
final class Sheet
{
    private const STYLE = '@page{size:A4;margin:16mm 14mm}body{font:15px/1.5 system-ui,sans-serif;color:#1B2430;background:#F6F5F0;margin:0 auto;max-width:60rem;padding:1.5rem 2rem}
h1{font-size:1.35rem;line-height:1.3;margin:.2rem 0 .5rem}h2{font-size:1.1rem;margin:2rem 0 .5rem;break-after:avoid}h3{font-size:1rem;margin:.2rem 0}section{background:#fff;border:1px solid #D9D6CC;padding:.75rem 1.1rem;margin:.75rem 0;break-inside:avoid}section section{margin-left:1rem}
.blocker{border-left:6px solid #B3261E}.warning{border-left:6px double #A66A00}.note{border-left:4px dotted #7A7F87}code{font-family:ui-monospace,monospace;font-size:.875em}
table{border-collapse:collapse;width:100%;font-variant-numeric:tabular-nums;background:#fff;font-size:.875rem}caption{text-align:left;color:#5A6472}th,td{border:1px solid #D9D6CC;padding:.2rem .5rem;text-align:left;vertical-align:top}td.n{text-align:right}tr{break-inside:avoid}
.soft{color:#5A6472}.verdict{display:inline-block;border:2px solid #1B2430;padding:0 .5rem;font-weight:700}.wide{overflow-x:auto}figure{margin:.75rem 0;background:#fff;border:1px solid #D9D6CC;padding:.5rem;break-inside:avoid}figcaption{font-size:.85rem;color:#5A6472}svg{width:100%;height:auto;font-family:system-ui,sans-serif}ul{margin:.2rem 0;padding-left:1.2rem}
@media print{body{background:#fff;padding:0;font-size:10.5pt;max-width:none}details::details-content{content-visibility:visible}}';

    /** @param string $body HTML, with everything escaped that came from a log */
    public static function of(string $title, string $body): string
    {
        return '<!DOCTYPE html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><meta name="robots" content="noindex"><meta http-equiv="Content-Security-Policy" content="default-src \'none\'; style-src \'unsafe-inline\'">'
            .'<title>'.Html::escaped($title).'</title><style>'.self::STYLE."</style></head><body>{$body}</body></html>\n";
    }
}
