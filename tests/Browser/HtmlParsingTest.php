<?php

use Pellix\Core\Wiring\Html\PageReader;
use Pellix\Core\Wiring\Html\Script;

/** Where our reader sees the marked scripts: mark => place, or the element that they are inside of. */
function ourScripts(string $html): array
{
    $found = [];
    foreach (PageReader::nodes($html) as $node) {
        if ($node->name === 'script' && $node->attribute('data-n') !== null) {
            $found[$node->attribute('data-n')] ??= $node->inside ?? $node->place;
        }
    }
    ksort($found);

    return $found;
}

const IN_CHROMIUM = <<<'JS'
    return arguments[0].map((html) => {
        const frame = document.createElement('iframe');
        document.body.append(frame);
        // Written, not parsed by DOMParser: only a document of a window is parsed with scripting on.
        const page = frame.contentDocument;
        page.open();
        page.write(html);
        page.close();
        const found = {};
        const look = (root, inside) => {
            for (const script of root.querySelectorAll('script[data-n]')) {
                found[script.getAttribute('data-n')] ??= inside || (page.head && page.head.contains(script) ? 'head' : 'body');
            }
            for (const template of root.querySelectorAll('template')) {
                if (template.content) look(template.content, 'template');
            }
        };
        look(page, null);
        frame.remove();
        return Object.fromEntries(Object.entries(found).sort(([a], [b]) => (a < b ? -1 : 1)));
    });
    JS;

it('sees scripts where Chromium puts them, in odd places and in random ones', function () {
    $s = fn (int $n): string => "<script type=x data-n={$n}>";
    $documents = [
        "{$s(1)}</script><p>{$s(2)}</script>",
        "<html><head></head>{$s(1)}</script><body>{$s(2)}</script></body>{$s(3)}</script></html>{$s(4)}</script>",
        "<head><title>a{$s(1)}</script></title>{$s(2)}</script></head>",
        "<head><div>{$s(1)}</script></head><head>{$s(2)}</script>",
        "<HEAD><META charset=utf-8><SCRIPT TYPE=x DATA-N='1'></SCRIPT ></HEAD>",
        "<head>text{$s(1)}</script>",
        "<head><!-- {$s(1)}</script> -->{$s(2)}</script><!-->{$s(3)}</script><!--->{$s(4)}</script>--!>{$s(5)}</script>",
        "<head><noscript>{$s(1)}</script></noscript>{$s(2)}</script></head><noscript>{$s(3)}</script></noscript>{$s(4)}</script>",
        "<head><template>{$s(1)}</script><div><template>{$s(2)}</script></template></template>{$s(3)}</script>",
        "<head></head><template>{$s(1)}</script></template>{$s(2)}</script><body>",
        "<script type=x>var a = '{$s(1)}<\\/script>'; {$s(2)}</script>{$s(3)}</script>",
        "<script type=x><!-- {$s(1)}</script> --></script>{$s(2)}</script>",
        "<script type=x><!-- <script> </script> </script>{$s(1)}</script>",
        "<body><svg>{$s(1)}</script><title>{$s(2)}</script></title><desc>{$s(3)}</script></desc></svg>{$s(4)}</script>",
        "<svg><![CDATA[{$s(1)}</script>]]>{$s(2)}</script></svg><![CDATA[{$s(3)}</script>]]>{$s(4)}</script>",
        "<textarea>{$s(1)}</script></textarea>{$s(2)}</script><iframe>{$s(3)}</script></iframe><xmp>{$s(4)}</script></xmp>{$s(5)}</script>",
        "<style>{$s(1)}</script></STYLE foo>{$s(2)}</script>",
        "<p a=\"{$s(1)}</script>\" b='{$s(2)}</script>' c={$s(3)}</script>",
        "<head/>{$s(1)}</script><br/>{$s(2)}</script>",
        "<?xml version='1.0'?><!doctype html>{$s(1)}</script><?php {$s(2)}</script> ?>",
        "<head></p>{$s(1)}</script></br>{$s(2)}</script>",
        "<head><link rel=x><base href=/><style>x</style>{$s(1)}</script></head><link>{$s(2)}</script> <meta>{$s(3)}</script>x{$s(4)}</script>",
        '<head><script data-n=1 type=x data-n=9>', "<head>{$s(1)}", '<script data-n=1 type="x', "</>{$s(1)}</script></ x>{$s(2)}</script>",
        "<title>never closed {$s(1)}</script>", "<plaintext>{$s(1)}</script>", '<script type=x data-n=1 =x></script>', "<script/type=x/data-n=1/>{$s(2)}</script>",
    ];
    mt_srand(11);
    $pieces = [
        '<head>', '</head>', '<body>', '</body>', '<html>', '</html>', '<title>', '</title>', '<style>', '</style>', '<noscript>', '</noscript>', '<template>', '</template>',
        '<div>', '</div>', '<p>', ' ', "\n", 'word', '<!--', '-->', '--!>', '<!-->', '<br>', '</br>', '<meta charset=x>', '<link>', '<svg>', '</svg>', '<textarea>', '</textarea>',
        '<script type=x>', '</script>', '</SCRIPT >', '<!doctype html>', '<a b="', '">', "<i c='", "'>", '<?pi', '>', '</>', '<img>', '<foreignObject>', '</foreignObject>', '<desc>', '</desc>',
    ];
    for ($i = 0; $i < 800; $i++) {
        $html = '';
        for ($j = mt_rand(2, 14), $n = 1; $j > 0; $j--) {
            $html .= mt_rand(0, 3) === 0 ? $s($n++).'</script>' : $pieces[array_rand($pieces)];
        }
        $documents[] = $html;
    }
    $browser = $this->open();
    $browser->get($this->origin().'/sign-in');
    $differing = [];
    $places = ['head' => 0, 'body' => 0, 'template' => 0];
    foreach (array_chunk($documents, 250) as $chunk) {
        $theirs = $browser->executeScript(IN_CHROMIUM, [$chunk]);
        foreach ($chunk as $i => $html) {
            $wanted = (array) $theirs[$i];
            ksort($wanted);
            array_walk($wanted, function (string $place) use (&$places): void {
                $places[$place]++;
            });
            if (ourScripts($html) !== $wanted) {
                $differing[] = ['html' => $html, 'ours' => ourScripts($html), 'chromium' => $wanted];
            }
        }
    }
    // Each place is really met.
    expect(min($places))->toBeGreaterThan(30);
    expect(array_slice($differing, 0, 8))->toBe([], count($differing).' documents of '.count($documents).' differ');
});

/** @return list<int> the marked scripts that run, by our reading */
function ourRuns(string $html): array
{
    $ran = [];
    foreach (PageReader::nodes($html) as $node) {
        if ($node->name === 'script' && preg_match('~\A\s*parent\.ran\.push\((\d+)\);//~', $node->text, $m) === 1 && (new Script($node))->runs()) {
            $ran[] = (int) $m[1];
        }
    }
    sort($ran);

    return $ran;
}

const RUN_IN_CHROMIUM = <<<'JS'
    return arguments[0].map((html) => {
        const frame = document.createElement('iframe');
        document.body.append(frame);
        window.ran = [];
        const page = frame.contentDocument;
        page.open();
        page.write(html);
        page.close();
        frame.remove();
        return window.ran.slice().sort((a, b) => a - b);
    });
    JS;

it('says that a script runs where Chromium runs it, and only there', function () {
    mt_srand(8);
    $pieces = [
        '<head>', '</head>', '<body>', '</body>', '</html>', '<title>', '</title>', '<style>', '</style>', '<noscript>', '</noscript>', '<template>', '</template>', '<div>', '</div>', '<p>', '</p>', ' ', 'word',
        '<!--', '-->', '</br>', '<meta charset=x>', '<svg>', '</svg>', '<math>', '</math>', '<mi>', '<g>', '</g>', '<textarea>', '</textarea>', '<script type=x>', '</script>', '<script>', '<a b="', '">', '<img>',
        '<foreignObject>', '</foreignObject>', '<desc>', '</desc>', '<frameset>', '</frameset>', '<frame>', '<noframes>', '</noframes>', '<table>', '<tr>', '<td>', '</td>', '</table>', '<select>', '</select>', '<b>', '</b>',
        '<template shadowrootmode=open>', '<template shadowrootmode=closed>', '<annotation-xml>', '<annotation-xml encoding=text/html>', '<svg/>', '<button>', '</button>', '<object>', '<li>', '</ul>', '<h1>', '</h2>', '<x-y>',
        '<![CDATA[', ']]>', '<iframe>', '</iframe>', '<font color=x>', '<title/>', '<col>', '<form>', '</form>', '<input>', '<plaintext>',
    ];
    $attributes = [' type=text/javascript', ' type=text/plain', ' nomodule', ' language=vbscript', ' for=window event=onload', ' for=x event=y', ' type=""', ' async', ' defer', ' type="application/JSON"', ' src=""'];
    $documents = [];
    for ($i = 0; $i < 1500; $i++) {
        $html = '';
        for ($j = mt_rand(2, 14), $n = 1; $j > 0; $j--) {
            $html .= mt_rand(0, 3) !== 0 ? $pieces[array_rand($pieces)]
                : '<script'.(mt_rand(0, 3) === 0 ? $attributes[array_rand($attributes)] : '').'>parent.ran.push('.$n++.');//'.(mt_rand(0, 9) === 0 ? '' : '</script>');
        }
        $documents[] = $html;
    }
    $browser = $this->open();
    // A page without a policy, which frames would inherit.
    $browser->get('about:blank');
    $differing = [];
    $runs = 0;
    foreach (array_chunk($documents, 250) as $chunk) {
        foreach ($browser->executeScript(RUN_IN_CHROMIUM, [$chunk]) as $i => $ran) {
            $runs += count($ran);
            if (ourRuns($chunk[$i]) !== array_map(intval(...), $ran)) {
                $differing[] = ['html' => $chunk[$i], 'ours' => ourRuns($chunk[$i]), 'chromium' => $ran];
            }
        }
    }
    expect($runs)->toBeGreaterThan(1000)->and(array_slice($differing, 0, 8))->toBe([], count($differing).' documents differ');
});
