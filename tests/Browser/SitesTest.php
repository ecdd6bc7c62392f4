<?php

const SITE_PATH = '/sites/plx_larkhollowdemo01';

/** What stands where a snippet asks for its site's file. */
function siteFile(string $address): string
{
    return (string) (new GuzzleHttp\Client(['http_errors' => false]))->get($address)->getBody();
}

it('marks a browser as one of own people, and counts nothing of what it does', function () {
    $desk = $this->signIn();
    $desk->get($this->origin().SITE_PATH.'/internal-traffic');
    $this->see($desk, 'Nothing. Mark your own browser below');
    $this->fill($desk, 'Whose browsers', 'Ines');
    $this->press($desk, 'Make a link');
    $link = $this->await($desk, fn () => preg_match('~(http\S+\?plx_own=([a-z0-9]{20}))~', $this->text($desk), $found) === 1 ? $found : null, 'the link');
    $this->press($desk, 'Add an address');
    $this->fill($desk, 'Address or range 1', '0.0.0.0/0');
    $this->press($desk, 'Keep');
    $this->see($desk, 'This range would leave out whole countries');
    $this->fill($desk, 'Address or range 1', '198.51.100.0/24');
    $this->fill($desk, 'What address 1 is', 'the workshop');
    $this->press($desk, 'Keep');
    $this->see($desk, 'Kept');
    expect($this->axe($desk))->toBe([]);

    $page = $this->open();
    $page->get($link[1]);
    $own = fn () => $this->scalar('select count(*) from own_events where json_value(props, "$.plx_own") = ?', $link[2]);
    $this->await($page, fn () => (int) $own() >= 1 ?: null, 'what own people did', 10);
    $before = (int) $own();
    // Without the link, from page to page.
    $page->get($this->demo().'/catalogue');
    $this->await($page, fn () => (int) $own() > $before ?: null, 'the next page of the same browser', 10);
    expect((int) $this->scalar('select count(*) from events where json_value(props, "$.plx_own") = ?', $link[2]))->toBe(0);
    $desk->navigate()->refresh();
    $this->see($desk, 'Marked browser');
    $this->press($desk, 'live feed');
    $this->see($desk, 'page_view');
    expect($desk->getCurrentURL())->toContain('own=1');

    $desk->get($this->origin().SITE_PATH.'/internal-traffic');
    $this->press($desk, 'Take back the mark of Ines');
    $this->press($desk, 'Take it back');
    $this->await($desk, fn () => str_contains($this->text($desk), '?plx_own='.$link[2]) ? null : true, 'the mark to go');
});

it('replaces a site’s key, archives the site and deletes it', function () {
    $desk = $this->signIn();
    $desk->get($this->origin().'/new-site');
    $this->fill($desk, 'Name', 'Harbour Books');
    $this->fill($desk, 'Host 1', 'books.localhost');
    $this->press($desk, 'Make the site');
    $this->see($desk, 'First steps');
    preg_match('~/sites/(plx_\w+)~', $desk->getCurrentURL(), $old);
    $desk->get($this->origin()."/sites/{$old[1]}/settings");
    $this->press($desk, 'Replace the key');
    $this->fill($desk, 'The earlier key counts for, days', '500');
    $this->press($desk, 'Replace it');
    $this->see($desk, 'a whole number, 0 to 400');
    $this->fill($desk, 'The earlier key counts for, days', '14');
    expect($this->axe($desk))->toBe([]);
    $this->press($desk, 'Replace it');
    $this->see($desk, 'not since');
    preg_match('~/sites/(plx_\w+)~', $desk->getCurrentURL(), $new);
    expect($new[1])->not->toBe($old[1])->and(siteFile($this->origin()."/s/{$new[1]}.js"))->toContain($new[1])->and(siteFile($this->origin()."/s/{$old[1]}.js"))->toContain($old[1])->not->toContain($new[1]);
    // What was bookmarked leads on.
    $desk->get($this->origin()."/sites/{$old[1]}/settings?x=1");
    $this->await($desk, fn () => str_ends_with($desk->getCurrentURL(), "/sites/{$new[1]}/settings?x=1") ?: null, 'the address with the new key');
    $this->press($desk, "Change the end of {$old[1]}");
    $this->press($desk, 'End it now');
    $this->see($desk, ', ended');
    expect(siteFile($this->origin()."/s/{$old[1]}.js"))->not->toContain('pellixSite')->and($this->axe($desk))->toBe([]);

    $this->press($desk, 'Archive the site');
    $this->see($desk, 'leave its pages at once');
    $this->press($desk, 'Archive it');
    $this->see($desk, 'Take it from the archive');
    $this->press($desk, 'Delete it with everything');
    $this->fill($desk, 'Type the name of the site', 'Harbour');
    expect($this->axe($desk))->toBe([])->and($desk->findElement(Facebook\WebDriver\WebDriverBy::xpath('//button[normalize-space()="Delete it"]'))->isEnabled())->toBeFalse();
    $this->fill($desk, 'Type the name of the site', 'Harbour Books');
    $this->press($desk, 'Delete it');
    $this->await($desk, fn () => str_contains($desk->getCurrentURL(), $new[1]) ? null : true, 'another site');
    expect(siteFile($this->origin()."/s/{$new[1]}.js"))->not->toContain('pellixSite')->and($this->scalar('select deleting_at is not null from sites where `key` = ?', $new[1]))->toEqual(1);
});
