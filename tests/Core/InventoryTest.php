<?php

use Eris\Generator;
use Pellix\Core\Wiring\Inspection\PageGroup;
use Pellix\Core\Wiring\Inventory\Address;
use Pellix\Core\Wiring\Inventory\InvalidSitemap;
use Pellix\Core\Wiring\Inventory\Links;
use Pellix\Core\Wiring\Inventory\Robots;
use Pellix\Core\Wiring\Inventory\Sitemap;

// Source: RFC 9309, 5.1 (Simple Example).
const ROBOTS = <<<'TXT'
    User-Agent: *
    Disallow: *.gif$
    Disallow: /example/
    Allow: /publications/

    User-Agent: foobot
    Disallow:/
    Allow:/example/page.html
    Allow:/example/allowed.gif

    User-Agent: barbot
    User-Agent: bazbot
    Disallow: /example/page.html

    User-Agent: quxbot
    TXT;

it('reads the example of RFC 9309, 5.1', function (string $agent, array $paths) {
    $robots = Robots::parse(ROBOTS, $agent);
    foreach ($paths as $path => $allowed) {
        expect($robots->allows($path))->toBe($allowed, "{$agent} {$path}");
    }
})->with([
    ['anybot', ['/a.gif' => false, '/a.gif?x' => true, '/example/' => false, '/publications/b.gif' => true, '/' => true, '/robots.txt' => true]],
    ['FooBot', ['/' => false, '/example/page.html' => true, '/example/allowed.gif' => true, '/example/other.gif' => false]],
    ['bazbot', ['/example/page.html' => false, '/example/other.html' => true, '/a.gif' => true]],
    ['barbot', ['/example/page.html' => false]],
    ['quxbot', ['/example/page.html' => true, '/a.gif' => true]],
]);

it('lets the longest match decide, as RFC 9309, 5.2 shows', function () {
    $robots = Robots::parse("User-Agent: foobot\nAllow: /example/page/\nDisallow: /example/page/disallowed.gif\n", 'foobot');
    expect($robots->allows('/example/page/disallowed.gif'))->toBeFalse()->and($robots->allows('/example/page/other.gif'))->toBeTrue();
});

it('compares escapes in one spelling, as the table of RFC 9309, 2.2.2 says', function (string $rule, string $path) {
    expect(Robots::parse("User-agent: *\nDisallow: {$rule}", 'x')->allows($path))->toBeFalse();
})->with([
    ['/foo/bar?baz=quz', '/foo/bar?baz=quz'],
    ['/foo/bar?baz=https://foo.bar', '/foo/bar?baz=https://foo.bar'],
    ['/foo/bar/ツ', '/foo/bar/%E3%83%84'],
    ['/foo/bar/%E3%83%84', '/foo/bar/%E3%83%84'],
    ['/foo/bar/%62%61%7A', '/foo/bar/baz'],
]);

it('keeps to the rest of RFC 9309', function () {
    expect(Robots::none()->allows('/x'))->toBeTrue()->and(Robots::unreachable()->allows('/x'))->toBeFalse()->and(Robots::unreachable()->allows('/robots.txt'))->toBeTrue();
    // 2.2.1: groups for one agent are joined; 2.2.2: of two rules as long, allow wins; 2.2.3: comments; 2.2.4: other records do not end a group.
    $robots = Robots::parse("\xef\xbb\xbfuser-agent: a\r\nSitemap: http://a.test/s.xml\r\ndisallow: /x # private\r\n\r\nuser-agent: a\r\ndisallow: /y\r\nallow: /y\r\nDisallow:\r\n", 'a');
    expect([$robots->allows('/x1'), $robots->allows('/y'), $robots->allows('/z')])->toBe([false, true, true])->and($robots->sitemaps)->toBe(['http://a.test/s.xml']);
});

it('reads any robots.txt, and answers in time for any pattern', function () {
    $this->limitTo(200)->forAll(Generator\string(), Generator\string())->then(function (string $text, string $path) {
        expect(Robots::parse("user-agent: *\ndisallow: {$text}", 'a')->allows("/{$path}"))->toBeBool();
    });
    expect(Robots::parse("user-agent: *\ndisallow: /".str_repeat('*a', 5000).'$', 'a')->allows('/'.str_repeat('a', 20000).'b'))->toBeTrue();
});

// Source: sitemaps.org, protocol: "Sample XML Sitemap" and "Sample XML Sitemap Index".
const SITEMAP = <<<'XML'
    <?xml version="1.0" encoding="UTF-8"?>
    <urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">
       <url>
          <loc>http://www.example.com/</loc>
          <lastmod>2005-01-01</lastmod>
          <changefreq>monthly</changefreq>
          <priority>0.8</priority>
       </url>
       <url><loc>http://www.example.com/catalog?item=12&amp;desc=vacation_hawaii</loc></url>
    </urlset>
    XML;
const SITEMAP_INDEX = <<<'XML'
    <?xml version="1.0" encoding="UTF-8"?>
    <sitemapindex xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">
       <sitemap><loc>http://www.example.com/sitemap1.xml.gz</loc><lastmod>2004-10-01T18:23:17+00:00</lastmod></sitemap>
       <sitemap><loc>http://www.example.com/sitemap2.xml.gz</loc><lastmod>2005-01-01</lastmod></sitemap>
    </sitemapindex>
    XML;

it('reads the samples of the sitemaps protocol, packed or not', function () {
    $pages = ['http://www.example.com/', 'http://www.example.com/catalog?item=12&desc=vacation_hawaii'];
    expect(Sitemap::read(SITEMAP)->pages)->toBe($pages)->and(Sitemap::read((string) gzencode(SITEMAP))->pages)->toBe($pages)
        ->and(Sitemap::read(SITEMAP_INDEX)->sitemaps)->toBe(['http://www.example.com/sitemap1.xml.gz', 'http://www.example.com/sitemap2.xml.gz'])
        ->and(Sitemap::read("http://www.example.com/file1.html\nhttp://www.example.com/file2.html\n")->pages)->toHaveCount(2);
});

it('takes the addresses of pages only, not of their images', function () {
    $xml = str_replace('</loc></url>', '</loc><image:image xmlns:image="i"><image:loc>http://x.test/i.png</image:loc></image:image></url>', SITEMAP);
    expect(Sitemap::read($xml)->pages)->toHaveCount(2);
});

it('refuses what is no sitemap, or would unpack without end', function (string $bytes, string $why) {
    expect(fn () => Sitemap::read($bytes))->toThrow(InvalidSitemap::class, $why);
})->with([
    ['<urlset><url><loc>http://a.test/', 'broken at line 1'],
    ['<!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><urlset/>', 'no document type'],
    ['just words', 'neither XML nor a list'],
    [(string) gzencode(str_repeat("\0", 60_000_000), 9), 'larger than 50 MB'],
    ["\x1f\x8bnonsense", 'damaged'],
]);

it('resolves references as RFC 3986, 5.4 lists', function (string $reference, string $address) {
    expect(Address::resolve($reference, 'http://a/b/c/d;p?q'))->toBe($address);
})->with([
    // 5.4.1, without those that are no http address; a fragment is no part of a page's address.
    ['g', 'http://a/b/c/g'], ['./g', 'http://a/b/c/g'], ['g/', 'http://a/b/c/g/'], ['/g', 'http://a/g'], ['//g', 'http://g/'], ['?y', 'http://a/b/c/d;p?y'],
    ['g?y', 'http://a/b/c/g?y'], ['#s', 'http://a/b/c/d;p?q'], ['g#s', 'http://a/b/c/g'], ['g?y#s', 'http://a/b/c/g?y'], [';x', 'http://a/b/c/;x'],
    ['g;x', 'http://a/b/c/g;x'], ['', 'http://a/b/c/d;p?q'], ['.', 'http://a/b/c/'], ['./', 'http://a/b/c/'], ['..', 'http://a/b/'], ['../', 'http://a/b/'],
    ['../g', 'http://a/b/g'], ['../..', 'http://a/'], ['../../', 'http://a/'], ['../../g', 'http://a/g'],
    // 5.4.2
    ['../../../g', 'http://a/g'], ['../../../../g', 'http://a/g'], ['/./g', 'http://a/g'], ['/../g', 'http://a/g'], ['g.', 'http://a/b/c/g.'], ['.g', 'http://a/b/c/.g'],
    ['g..', 'http://a/b/c/g..'], ['..g', 'http://a/b/c/..g'], ['./../g', 'http://a/b/g'], ['./g/.', 'http://a/b/c/g/'], ['g/./h', 'http://a/b/c/g/h'],
    ['g/../h', 'http://a/b/c/h'], ['g;x=1/./y', 'http://a/b/c/g;x=1/y'], ['g;x=1/../y', 'http://a/b/c/y'], ['g?y/../x', 'http://a/b/c/g?y/../x'],
]);

it('spells addresses as RFC 3986, 6.2 normalises', function (string $given, ?string $address) {
    expect(Address::resolve($given))->toBe($address);
})->with([
    // 6.2.2.1 to 6.2.3
    ['HTTP://www.EXAMPLE.com/', 'http://www.example.com/'], ['http://a.test/%7euser', 'http://a.test/~user'], ['http://a.test/%c3%a9', 'http://a.test/%C3%A9'],
    ['http://example.com', 'http://example.com/'], ['http://example.com:80/', 'http://example.com/'], ['http://a.test/a/./b/../b/%63/%7bfoo%7d', 'http://a.test/a/b/c/%7Bfoo%7D'],
    [' http://a.test/a b ', 'http://a.test/a%20b'], ['http://a.test/é', 'http://a.test/%C3%A9'],
    ['mailto:a@a.test', null], ['javascript:alert(1)', null], ['http://user@a.test/', null], ['http:///x', null], ['/path', null], ['http://[', null],
    ['http://a.test/'.str_repeat('x', 2000), null],
]);

it('finds where a page leads, by its base, and nothing inside of templates or comments', function () {
    $html = '<base href="/deep/"><base href="/other/"><a href="one">1</a><A HREF=/two>2</A><template><a href=no>n</a></template><!-- <a href=no> -->'
        .'<map><area href="../three#x"></map><a href="mailto:x@a.test">m</a><a>none</a><a href="one">again</a>';
    expect(array_keys(Links::on($html, 'http://a.test/page')))->toBe(['http://a.test/deep/one', 'http://a.test/two', 'http://a.test/three'])
        ->and(Links::areForbidden('<meta name="ROBOTS" content="noindex, nofollow">'))->toBeTrue()->and(Links::areForbidden($html))->toBeFalse();
});

it('says what is wrong with a group of pages', function (array $json, string $complaint) {
    expect(complaint(fn () => PageGroup::read($json)))->toStartWith($complaint);
})->with([
    [['pages' => ['all' => []]], 'name: A text of 1 to 80'],
    [['name' => 'x', 'pages' => ['fact' => 'url.path', 'op' => 'is', 'value' => 'join']], 'pages.value: A path begins'],
    [['name' => 'x', 'pages' => ['all' => []], 'tags' => [['key' => 'a', 'contains' => 'b', 'after' => 'c']]], 'tags.0.after: There is no tag "c"'],
    [['name' => 'x', 'pages' => ['all' => []], 'snippet' => 'yes'], 'snippet: true or false'],
]);
