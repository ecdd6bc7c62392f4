<?php

declare(strict_types=1);

namespace Pellix\Core\Wiring;

/** The snippet in the forms that different pages need, each with what its lines do and where it goes. */
final class SnippetForms
{
    /**
     * @param string $site   site key
     * @param string $origin scheme, host and port that Pellix is served from
     *
     * @return list<array{key: string, name: string, where: string, text: string, lines: list<array{string, string}>}>
     */
    public static function all(string $site, string $origin): array
    {
        $origin = rtrim($origin, '/');
        $loader = Snippet::loader($site, $origin);

        return [
            [
                'key' => 'html',
                'name' => 'A plain HTML page',
                'where' => 'Into the head of every page, before other scripts and style sheets, so that a change is made before it can be seen.',
                'text' => $loader,
                'lines' => self::loaderLines($site),
            ],
            [
                'key' => 'template',
                'name' => 'A template, on some pages only',
                'where' => 'Into the head of the template that all pages share. Only pages with a path from the list print it; the code around it is '
                    .'PHP and says the same in any other template language.',
                'text' => "<?php if (in_array(parse_url(\$_SERVER['REQUEST_URI'], PHP_URL_PATH), ['/path-of-a-page', '/path-of-another'], true)): ?>\n{$loader}\n<?php endif ?>",
                'lines' => [
                    ['in_array(…)', 'The paths that get the code. Write them as they stand in the address bar, from the first slash on.'],
                    ['$_SERVER[\'REQUEST_URI\']', 'The address that was asked for; parse_url leaves its query out.'],
                    ...self::loaderLines($site),
                ],
            ],
            [
                'key' => 'single-page',
                'name' => 'An application on a single page',
                'where' => 'Once, into the head of the HTML document that the application starts from, not into a component: a script that a component '
                    .'puts onto the page later does not run. Pellix notices every change of the address by itself.',
                'text' => $loader,
                'lines' => [
                    ['history.pushState, popstate', 'Each change of the address counts as a page view, and experiments and triggers look at the new address.'],
                    ...self::loaderLines($site),
                ],
            ],
            [
                'key' => 'pixel',
                'name' => 'A page that is not ours, without scripts',
                'where' => 'Onto a payment or thank-you page that somebody else serves, where no script may run. The page\'s own template fills in what stands in '
                    .'braces. Without the visitor\'s id the order counts, but for no variant.',
                'text' => "<img src=\"{$origin}/p.gif?site={$site}&amp;name=order&amp;visitor={VISITOR}&amp;order_id={ORDER}&amp;value={VALUE}&amp;currency={CURRENCY}\" alt=\"\" width=\"1\" height=\"1\">",
                'lines' => [
                    ['name=order', 'The name of the event. Any other will do for what is no order.'],
                    ['{VISITOR}', 'The visitor\'s id, which your own page hands over on the way to the payment: pellix(\'visitor\', function (id) { … }) gives it.'],
                    ['{ORDER}', 'The number of the order. The same number counts once, however often the page is loaded.'],
                    ['{VALUE}, {CURRENCY}', 'A number with a point, such as 24.50, and a code of three letters, such as EUR.'],
                    ['&amp;', 'Stays as it is: in HTML it stands for a plain &.'],
                ],
            ],
            [
                'key' => 'policy',
                'name' => 'A page under a Content-Security-Policy',
                'where' => 'Into the head as on any page. The server makes a new nonce for each answer and writes it twice: into the script and into the policy.',
                'text' => str_replace('<script ', '<script nonce="{NONCE}" ', $loader),
                'lines' => [
                    ["script-src 'nonce-{NONCE}' {$origin}", 'Lets the inline part run, and the file that it loads. With \'strict-dynamic\' the address is not needed.'],
                    ["connect-src {$origin}", 'Lets the beacons out.'],
                    ["img-src {$origin}", 'Only where the image pixel is used.'],
                    ["style-src 'unsafe-inline'", 'Only for the flicker guard, and for variants that change styles.'],
                    ...self::loaderLines($site),
                ],
            ],
        ];
    }

    /** @return list<array{string, string}> code, what it does */
    private static function loaderLines(string $site): array
    {
        return [
            ["data-pellix=\"{$site}\"", 'The site key. It tells whose pages these are; it is no secret.'],
            ['window.pellix = …', 'Keeps calls such as pellix(\'event\', \'brochure_opened\') until the runtime has come.'],
            ['script.async = true', 'The page never waits for Pellix. If Pellix cannot be reached, nothing happens.'],
            ['script.src = …', 'One file: the runtime, the experiments that are running now, and the published tags.'],
            ['script.onerror = …', 'Shows the page at once if that file cannot be loaded and a flicker guard hides the page.'],
        ];
    }
}
