<?php

use Facebook\WebDriver\WebDriverBy;

beforeEach(function () {
    $this->readout = function (string $experiment, int $width = 1280) {
        $desk = $this->signIn($width);
        $desk->get($this->origin()."/sites/plx_larkhollowdemo01/experiments/{$experiment}/readout");

        return $desk;
    };
});

it('says which variant won, by how much, and whether to believe it, before anybody scrolls', function (string $experiment, array $said, string $verdict) {
    $desk = ($this->readout)($experiment);
    foreach ($said as $words) {
        $this->see($desk, $words);
    }
    $headline = $desk->findElement(WebDriverBy::cssSelector('[data-figure=verdict]'));
    expect($headline->getText())->toContain($said[0])->and($headline->getLocation()->getY() + $headline->getSize()->getHeight())->toBeLessThan(800);
    $this->see($desk, $verdict);
    $this->see($desk, 'Proposed: keep');
    expect($this->axe($desk))->toBe([]);
})->with([
    ['join-reason', ['Names the reason raises “Joined” by', 'points, that is +', 'Enough visitors: yes.', 'Data fit:'], 'better'],
    ['home-welcome', ['No difference found in “Joined”', 'more either way is ruled out', 'Data fit:'], 'no difference found'],
    ['gift-sizes', ['Largest first raises “Gift in euros” by', 'Rate and money disagree', 'Money per visitor decides.'], 'better'],
    ['loan-shortcut', ['Loan first raises “Loan noted” by', 'Loan first harms “Read an instrument for half a minute”', 'falls below the margin'], 'worse'],
]);

it('covers figures of a broken split until somebody says why, also on a phone', function () {
    $desk = ($this->readout)('catalogue-heading', 390);
    $this->see($desk, 'The figures are covered');
    expect($this->text($desk))->not->toContain('points (')->and($desk->findElements(WebDriverBy::cssSelector('[data-figure=difference]')))->toBe([])->and($desk->executeScript('return document.documentElement.scrollWidth'))->toBeLessThanOrEqual(390);
    $this->press($desk, 'Lift the cover');
    $this->see($desk, 'Say why the figures are to be shown');
    $this->field($desk, 'Why they are to be shown all the same')->sendKeys('We know which proxy drops them');
    $this->press($desk, 'Lift the cover');
    $this->see($desk, 'has lifted the cover');
    $this->see($desk, '“We know which proxy drops them”');
    expect($desk->findElements(WebDriverBy::cssSelector('[data-figure=difference]')))->not->toBe([])->and($this->axe($desk))->toBe([]);
    $this->press($desk, 'Put it back');
    $this->see($desk, 'The figures are covered');
    $this->see($desk, 'put back by Ines Calder');
});

it('declares a rule, decides, and finds it again', function () {
    $desk = ($this->readout)('workshop-invite');
    $this->see($desk, 'Decided by');
    $this->field($desk, 'Smallest difference worth having')->sendKeys('x');
    $this->see($desk, 'A number above 0 is needed.');
    $this->fill($desk, 'Smallest difference worth having', '0.03');
    $this->press($desk, 'Keep the rule');
    $this->see($desk, 'Kept.');
    expect($this->axe($desk))->toBe([]);
    $desk->get($this->origin().'/sites/plx_larkhollowdemo01/experiments/join-reason/readout');
    $this->press($desk, 'Decide…');
    $this->see($desk, 'What was learned');
    $this->field($desk, 'What was learned')->sendKeys('Reasons win over warmth');
    $this->press($desk, 'Decide');
    $this->see($desk, 'Learned: Reasons win over warmth');
    $desk->get($this->origin().'/sites/plx_larkhollowdemo01/learned?search=warmth');
    $this->see($desk, 'A reason to join');
    $this->see($desk, 'Known then: Names the reason raises');
    expect($this->axe($desk))->toBe([]);
});
