<?php

use Facebook\WebDriver\Interactions\WebDriverActions;
use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverKeys;
use Tests\Support\LoupeSteps;

pest()->use(LoupeSteps::class);

it('records a walk from page to page, and keeps it as the script of the rehearsals', function () {
    $desk = $this->signIn();
    $browser = $this->visitor();
    $browser->get($this->address(['purpose' => 'look'], $desk));
    $this->find($browser, '[role=tab]', 'Record')->click();
    $this->find($browser, 'button', 'Record from this page on')->click();
    $this->find($browser, 'li', 'open /loan');
    $this->find($browser, 'button', 'This must be seen…')->click();
    $heading = $browser->findElement(WebDriverBy::cssSelector('main h1'));
    (new WebDriverActions($browser))->moveToElement($heading)->click()->perform();
    $this->find($browser, 'li', 'expect');
    // Folded, it goes on.
    $this->find($browser, 'button', 'Fold')->click();
    $browser->findElement(WebDriverBy::cssSelector('main select'))->sendKeys(WebDriverKeys::ARROW_DOWN);
    $browser->findElement(WebDriverBy::id('next'))->click();
    $this->await($browser, fn () => str_contains($browser->getCurrentURL(), '/loan/details') ?: null, 'the next page');
    $this->find($browser, 'button.handle', 'Loupe')->click();
    $this->find($browser, 'li', 'send the form');
    $this->find($browser, 'button', 'Fold')->click();
    $browser->findElement(WebDriverBy::cssSelector('header a[href="/join"]'))->click();
    $field = $this->await($browser, fn () => $browser->findElement(WebDriverBy::name('name')), 'the form');
    $field->clear()->sendKeys('Ada of Elm Street');
    $browser->getKeyboard()->sendKeys(WebDriverKeys::TAB);
    $this->find($browser, 'button.handle', 'Loupe')->click();
    $this->find($browser, 'li', 'go on to /join');
    $this->find($browser, 'li', 'type made-up data ({name})');
    expect($this->said($browser).$browser->executeScript('return JSON.stringify({ ...sessionStorage });'))->not->toContain('Elm Street');
    $this->find($browser, 'button', 'Keep it as the script')->click();
    $this->find($browser, '[role=status]', 'Kept as the script of the rehearsals');
    $kept = $this->ask($desk, 'experiments/loan-steps/rehearsal-script', [], 'GET');
    $does = array_column($kept['script']['steps'], 'do');
    expect($kept['written'])->toBeTrue()->and($does[0])->toBe('open')->and($does[1])->toBe('expect')->and($does)->toContain('choose', 'follow', 'type')->and(json_encode($kept))->not->toContain('Elm Street');
    $this->ask($desk, 'experiments/loan-steps/rehearsal-script', [], 'DELETE');
});
