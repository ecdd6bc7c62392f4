<?php

use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverKeys;

const WIRING = '/sites/plx_larkhollowdemo01/wiring';

afterEach(fn () => array_map(unlink(...), glob(getenv('PELLIX_TEST_DATA').'/pasted.html')));

it('proves an installation: copied, pasted, covered; a tag published, fired, restored away', function () {
    $pasted = getenv('PELLIX_TEST_DATA').'/pasted.html';
    $write = fn (string $head): int|false => file_put_contents($pasted, "<!DOCTYPE html>\n<html><head><meta charset=\"utf-8\">{$head}<title>Workbench</title></head><body><h1>Workbench</h1><button id=\"go\">Go</button></body></html>");
    $write('');
    $desk = $this->signIn();
    $state = function (string $wanted) use ($desk): void {
        $path = "//tr[@data-page='{$this->demo()}/workbench']";
        $this->await($desk, fn () => $desk->findElement(WebDriverBy::xpath($path))->getAttribute('data-state') === $wanted ?: null, "the page {$wanted}", 30);
    };

    // The page is known, and inspected as it is: without the snippet.
    $desk->get($this->origin().WIRING.'/coverage?q=workbench');
    $this->press($desk, 'Type or paste addresses');
    $this->fill($desk, 'Addresses or paths, one a line', "/workbench\nhttps://elsewhere.test/x");
    $this->press($desk, 'Add them');
    $this->see($desk, '1 page added, 0 known before.');
    $this->see($desk, 'none of this site');
    $state('unseen');
    $this->press($desk, 'Inspect all pages');
    $state('broken');

    // A person copies the snippet from the interface and pastes it into the page.
    $desk->get($this->origin().WIRING);
    $this->see($desk, 'Copy the snippet');
    $desk->executeScript('navigator.clipboard.writeText = (text) => { window.copied = text; return Promise.resolve(); }');
    $this->press($desk, 'Copy the snippet');
    $this->see($desk, 'Copied');
    $write((string) $desk->executeScript('return window.copied'));
    $desk->get($this->origin().WIRING.'/coverage?q=workbench');
    $this->await($desk, fn () => $desk->findElements(WebDriverBy::xpath("//button[normalize-space()='Inspect all pages']")) !== [] ?: null, 'the end of the scan', 40);
    $this->press($desk, $this->demo().'/workbench');
    $this->press($desk, 'Inspect it now');
    $this->see($desk, 'Everything that must stand on this page does');
    $state('holds');
    expect($this->axe($desk))->toBe([]);

    // A tag with a trigger, published.
    $desk->get($this->origin().WIRING.'/tags/new');
    $this->fill($desk, 'Tag name', 'Lamp');
    $desk->findElement(WebDriverBy::xpath("//button[starts-with(@aria-label, 'Consent')]"))->click();
    $desk->findElement(WebDriverBy::xpath("//*[@role='option'][normalize-space()='needs no consent']"))->click();
    $this->fill($desk, 'JavaScript', 'document.title = "Lit";');
    $this->press($desk, 'Trigger 1: what happens: A page is reached');
    $desk->findElement(WebDriverBy::xpath("//*[@role='option'][normalize-space()='An element is clicked']"))->click();
    $this->fill($desk, 'Elements (CSS selector)', '#go');
    $this->press($desk, 'Keep the tag');
    $this->see($desk, 'Not published: it fires nowhere.');
    expect($this->axe($desk))->toBe([]);
    $visitor = $this->open();
    $click = function () use ($visitor): string {
        $visitor->get($this->demo().'/workbench');
        $this->await($visitor, fn () => $visitor->executeScript('return window.pellix && window.pellix.running'), 'the runtime', 5);
        $visitor->findElement(WebDriverBy::id('go'))->click();
        usleep(300_000);

        return $visitor->getTitle();
    };
    expect($click())->toBe('Workbench');
    $this->press($desk, 'Publish version 3');
    $this->see($desk, 'Visitors get it with their next page view.');
    $this->press($desk, 'Publish');
    $this->see($desk, 'Say in a few words what is new');
    $this->fill($desk, 'What is new', 'A lamp');
    $this->press($desk, 'Publish');
    $this->see($desk, 'Published as it is in version 3.');
    expect($click())->toBe('Lit');
    $trace = $visitor->executeScript('return window.pellix.trace.filter((one) => one.tag === "lamp")');
    expect($trace)->toHaveCount(1)->and($trace[0])->toMatchArray(['fired' => true, 'why' => 'click on #go']);
    $visitor->get('about:blank');
    $this->await($desk, fn () => (int) $this->scalar('select count(*) from events where name = "tag_fired" and json_value(props, "$.tag") = "lamp"') === 1 ?: null, 'the fired tag');
    $desk->navigate()->refresh();
    $this->see($desk, 'Fired 1 time');

    // The earlier version is restored: the tag stops.
    $this->press($desk, 'Restore version 2');
    $this->see($desk, 'published again as version 4');
    $this->press($desk, 'Restore it');
    $this->see($desk, 'Version 4 is on the pages');
    expect($click())->toBe('Workbench')->and($visitor->executeScript('return window.pellix.trace.filter((one) => one.tag === "lamp")'))->toBe([]);
    $this->press($desk, 'What is new in version 4');
    $this->see($desk, 'lamp removed');
});

it('hands the job over to somebody without an account', function () {
    $desk = $this->signIn();
    $desk->get($this->origin().WIRING.'/briefs');
    $this->press($desk, 'Make the brief');
    $this->see($desk, 'Say who it is for');
    $this->fill($desk, 'For whom', 'Wren');
    $this->press($desk, 'Make the brief');
    $this->see($desk, '/brief/');
    expect($this->axe($desk))->toBe([]);
    $link = $desk->findElement(WebDriverBy::xpath("//a[contains(@href, '/brief/')]"))->getAttribute('href');
    $reader = $this->open();
    $reader->get($link);
    $this->see($reader, 'Code to put onto Larkhollow Instrument Library');
    $this->see($reader, $this->demo().'/about');
    expect($this->axe($reader))->toBe([]);
    $this->press($desk, 'Take it back');
    $this->see($desk, 'Take the link for Wren back?');
    $this->press($desk, 'Take it back');
    $this->see($desk, 'Taken back');
    $reader->navigate()->refresh();
    $this->see($reader, 'This link does not work');
});

it('shows what a capture holds', function () {
    $file = tempnam(sys_get_temp_dir(), 'har').'.har';
    $entry = ['startedDateTime' => '2026-03-02T10:00:00Z', 'request' => ['method' => 'GET', 'url' => $this->origin().'/s/plx_larkhollowdemo01.js?n=<b>'], 'response' => ['status' => 404, 'content' => ['mimeType' => 'text/html', 'text' => '<p>']]];
    file_put_contents($file, json_encode(['log' => ['version' => '1.2', 'entries' => [$entry]]]));
    $desk = $this->signIn();
    $desk->get($this->origin().WIRING.'/inspect');
    $this->see($desk, 'Inspect a page');
    $desk->findElement(WebDriverBy::cssSelector('input[type=file]'))->setFileDetector(new Facebook\WebDriver\Remote\LocalFileDetector())->sendKeys($file);
    usleep(300_000);
    $this->press($desk, 'Inspect');
    $this->see($desk, 'n=<b>');
    expect($this->axe($desk))->toBe([]);
    unlink($file);
});

it('is as quick with the keyboard among pages', function () {
    $desk = $this->signIn();
    $desk->get($this->origin().WIRING.'/coverage?state=broken&q=/about');
    $this->see($desk, '/about');
    $desk->getKeyboard()->sendKeys('j');
    $desk->getKeyboard()->sendKeys(WebDriverKeys::ENTER);
    $this->see($desk, 'snippet.missing');
    $this->see($desk, 'Text to paste');
});
