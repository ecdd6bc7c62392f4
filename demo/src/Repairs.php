<?php

declare(strict_types=1);

namespace Demo;

use Pellix\Core\Wiring\Guard;
use Pellix\Core\Wiring\Snippet;

/** Pages of the demo site with real faults in their wiring, and sound ones that only look odd. The demo serves them at /repairs/NAME. */
final class Repairs
{
    /** What the pages must have besides the snippet. */
    public const EXPECTED = ['guard' => true, 'tags' => [
        ['key' => 'shelf', 'contains' => 'window.shelf ='],
        ['key' => 'counter', 'contains' => 'counter.js', 'after' => 'shelf'],
    ], 'unlinked' => [['fact' => 'url.path', 'op' => 'is', 'value' => '/repairs/sound-evening']]];

    private const OTHER_KEY = 'plx_someoneelse00001';

    private const TAGS = "<script>window.shelf = []</script>\n<script async src=\"/counter.js\"></script>";

    /** @return array<string, array{list<string>, string, 2?: array{status?: int, headers: array<string, string>}}> name => the codes to be found, the page, and how it is served */
    public static function pages(string $origin): array
    {
        $snippet = Snippet::loader(Library::SITE_KEY, $origin);
        $guard = Guard::text();
        $hash = static fn (string $script): string => "'sha256-".base64_encode(hash('sha256', (string) preg_replace('~\A<script[^>]*>|</script>\z~', '', $script), true))."'";
        $head = static fn (string $wiring, string $before = '', string $after = self::TAGS): string => "<!DOCTYPE html>\n<html lang=\"en\">\n<head>\n<meta charset=\"utf-8\">\n"
            ."{$before}{$wiring}\n{$after}\n<title>Repairs</title>\n</head>\n<body>\n<h1>Repairs</h1>\n</body>\n</html>\n";
        $policy = static fn (string $policy): string => "<meta http-equiv=\"Content-Security-Policy\" content=\"{$policy}\">\n";
        $typographic = str_replace('"', '”', $snippet);

        return [
            'sound' => [[], $head("{$guard}\n{$snippet}")],
            'sound-minified' => [[], (string) preg_replace('/\s+/', ' ', $head("{$guard}\n{$snippet}"))],
            'sound-upper-case' => [[], str_replace(['<script', '</script', '<head', '</head', 'data-pellix='], ['<SCRIPT', '</SCRIPT', '<HEAD', '</HEAD', 'DATA-PELLIX='], $head("{$guard}\n{$snippet}"))],
            'sound-unclosed' => [[], "<title>Repairs</title>\n{$guard}\n{$snippet}\n".self::TAGS."\n<p>Never closed<div>"],
            'sound-attributes' => [[], $head($guard."\n".str_replace('<script ', "<script\n  id=measure   nonce='n1'\n  ", $snippet))],
            'sound-two-heads' => [[], str_replace('<body>', "<head>\n<body>", $head("{$guard}\n{$snippet}"))],
            'sound-policy' => [[], $head(str_replace('<script ', '<script nonce="n1" ', "{$guard}\n{$snippet}"), $policy("script-src 'nonce-n1' {$origin} ; connect-src {$origin}"))],
            'sound-policy-hash' => [[], $head("{$guard}\n{$snippet}", $policy("script-src {$hash($snippet)} {$hash($guard)} 'strict-dynamic'"))],
            'sound-waiting-later' => [[], $head("{$guard}\n{$snippet}", '<script async src="/a.js"></script><script defer src="/b.js"></script><link rel="stylesheet" media="print" href="/p.css">')],
            'missing' => [['snippet.missing'], $head('')],
            'in-a-string' => [['snippet.missing'], $head('<script>var later = '.str_replace('</script>', '<\/script>', (string) json_encode($snippet, JSON_UNESCAPED_SLASHES)).'</script>')],
            'duplicate' => [['snippet.duplicate'], $head("{$guard}\n{$snippet}\n{$snippet}")],
            'wrong-key' => [['snippet.wrong-key'], $head($guard."\n".str_replace(Library::SITE_KEY, self::OTHER_KEY, $snippet))],
            'in-body' => [['snippet.in-body'], str_replace('<h1>', "{$guard}\n{$snippet}\n<h1>", $head(''))],
            'head-ended-early' => [['snippet.in-body'], $head("{$guard}\n{$snippet}", "<div></div>\n")],
            'after-blocking-script' => [['snippet.after-blocking'], $head("{$guard}\n{$snippet}", '<script src="/slow.js"></script>')],
            'after-blocking-sheet' => [['snippet.after-blocking'], $head("{$guard}\n{$snippet}", '<link rel="stylesheet" href="/larkhollow.css">')],
            'commented-out' => [['snippet.commented-out'], $head("<!-- {$snippet} -->")],
            'inside-noscript' => [['snippet.inside-noscript'], $head("<noscript>{$snippet}</noscript>")],
            'inside-template' => [['snippet.inside-template'], $head("<template>{$snippet}</template>")],
            'typographic-quotes' => [['snippet.altered'], $head($guard."\n".str_replace('data-pellix=”'.Library::SITE_KEY.'”', 'data-pellix="'.Library::SITE_KEY.'"', $typographic))],
            'escaped' => [['snippet.altered'], str_replace('<h1>', '<p>'.htmlspecialchars($snippet).'</p><h1>', $head($guard))],
            'cut' => [['snippet.altered'], $head($guard."\n".substr($snippet, 0, (int) strpos($snippet, 'script.async')).'</script>')],
            'edited' => [['snippet.altered'], $head($guard."\n".str_replace('script.async = true', 'script.async = false', $snippet))],
            'swallowing' => [['tag.missing'], "<head>{$guard}<script src=\"{$origin}/s/".Library::SITE_KEY.'.js">'.self::TAGS],
            'frameset' => [['tag.missing', 'tag.missing', 'snippet.never-runs'], "<head>{$guard}</head><frameset>{$snippet}".self::TAGS.'</frameset>'],
            'other-names' => [['snippet.altered'], $head($guard."\n".str_replace('script.', 'element.', str_replace('(script)', '(element)', str_replace('appendChild(script)', 'appendChild(element)', $snippet))))],
            'module' => [['snippet.deferred'], $head($guard."\n".str_replace('<script ', '<script type="module" ', $snippet))],
            'consent-type' => [['snippet.consent-gated'], $head($guard."\n".str_replace('<script ', '<script type="text/plain" data-consent="statistics" ', $snippet))],
            'policy-without-us' => [['guard.csp-blocked', 'snippet.csp-blocked'], $head("{$guard}\n{$snippet}", $policy("default-src 'self'"))],
            'policy-without-connection' => [['snippet.csp-blocked'], $head("{$guard}\n{$snippet}", $policy("script-src 'unsafe-inline' {$origin}; connect-src 'self'"))],
            'policy-without-guard' => [['guard.csp-blocked'], $head("{$guard}\n{$snippet}", $policy("script-src {$hash($snippet)} 'strict-dynamic'"))],
            'policy-after-snippet' => [['snippet.csp-blocked'], $head("{$guard}\n{$snippet}", '', self::TAGS."\n".$policy("connect-src 'self'"))],
            'guard-altered' => [['guard.altered'], $head(str_replace('opacity: 0', 'opacity: 1', $guard)."\n{$snippet}")],
            'guard-after-snippet' => [['guard.after-snippet'], $head("{$snippet}\n{$guard}")],
            'guard-missing' => [['guard.missing'], $head($snippet)],
            'tag-missing' => [['tag.missing'], $head("{$guard}\n{$snippet}", '', '<script>window.shelf = []</script>')],
            'tag-duplicate' => [['tag.duplicate'], $head("{$guard}\n{$snippet}", '', self::TAGS."\n<img src=\"/counter.js?again\">")],
            'tag-order' => [['tag.order'], $head("{$guard}\n{$snippet}", '', "<script async src=\"/counter.js\"></script>\n<script>window.shelf = []</script>")],
            'meta-refresh' => [['page.meta-refresh'], $head("{$guard}\n{$snippet}", '<meta http-equiv="refresh" content="600; url=/">')],
            'variant-linked' => [['variant.linked'], str_replace('<h1>', '<p><a href="../repairs/sound-evening?from=shelf">By lamplight</a></p><h1>', $head("{$guard}\n{$snippet}"))],
            'sound-evening' => [[], $head("{$guard}\n{$snippet}")],
            'not-html' => [['page.not-html'], '{"page": "repairs"}', ['headers' => ['Content-Type' => 'application/json']]],
        ];
    }

    /** @return array<string, array{list<string>, string, array{status?: int, headers: array<string, string>}}> faults that lie in the answer, not in the page */
    public static function deliveries(string $origin): array
    {
        $page = self::pages($origin)['sound'][1];

        return [
            'gone' => [['page.unreachable'], $page, ['status' => 410, 'headers' => []]],
            'redirected' => [['page.redirected'], '', ['status' => 302, 'headers' => ['Location' => '/repairs/sound']]],
            'policy-header' => [['guard.csp-blocked', 'snippet.csp-blocked'], $page, ['headers' => ['Content-Security-Policy' => "default-src 'self'"]]],
        ];
    }
}
