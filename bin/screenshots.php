<?php

declare(strict_types=1);

/*
 * Refreshes docs/screenshots/ from a running copy:
 *   php bin/screenshots.php http://localhost:8900 PASSWORD [FOLDER] [NAME…]
 */

use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverExpectedCondition;
use Support\Chrome;

require dirname(__DIR__).'/vendor/autoload.php';

[, $origin, $password] = $argv;
$folder = $argv[3] ?? dirname(__DIR__).'/docs/screenshots';
$wanted = array_slice($argv, 4);
$site = "{$origin}/sites/plx_larkhollowdemo01";
$views = [
    'rehearsal' => "{$origin}/sites/plx_larkhollowstage1/experiments/outranked/rehearsal",
    'bench' => "{$site}/bench",
    'experiment' => "{$site}/experiments/loan-steps",
    'audit' => "{$site}/audits/7",
    'readout' => "{$site}/experiments/join-reason/readout",
    'draft' => "{$site}/experiments/workshop-invite/exposure",
    'plan' => "{$site}/experiments/evening-shelves/plan",
    'ready' => "{$site}/experiments/workshop-invite/ready",
    'notices' => "{$site}/notices/outbox",
    'logbook' => "{$site}/logbook",
    'wiring' => "{$site}/wiring",
    'tags' => "{$site}/wiring/tags",
    'coverage' => "{$site}/wiring/coverage",
    'inspect' => "{$site}/wiring/inspect",
    'brief' => "{$site}/wiring/briefs",
    'goals' => "{$site}/measures",
    'feed' => "{$site}/measures/feed?event=order",
    'loupe' => "{$site}/experiments/loan-steps/preview",
    'change' => "{$site}/experiments/workshop-invite/exposure",
];

$chrome = new Chrome();
try {
    $browser = $chrome->open();
    $signedIn = false;
    foreach ($views as $name => $address) {
        if (! $signedIn) {
            $browser->get("{$origin}/sign-in");
            $browser->wait(10)->until(WebDriverExpectedCondition::presenceOfElementLocated(WebDriverBy::name('email')));
            $browser->findElement(WebDriverBy::name('email'))->sendKeys('ines@larkhollow.example');
            $browser->findElement(WebDriverBy::name('password'))->sendKeys($password);
            $browser->findElement(WebDriverBy::cssSelector('button[type=submit]'))->click();
            $browser->wait(10)->until(WebDriverExpectedCondition::urlContains('/bench'));
            $signedIn = true;
        }
        if ($wanted === [] || in_array($name, $wanted, true)) {
            $browser->get($address);
            $browser->wait(10)->until(static fn () => ! str_contains($browser->findElement(WebDriverBy::tagName('body'))->getText(), 'Reading…'));
            // What a view shows only after somebody has done something.
            $press = static fn (string $path) => $browser->wait(10)->until(WebDriverExpectedCondition::elementToBeClickable(WebDriverBy::xpath($path)))->click();
            if ($name === 'inspect') {
                $html = Demo\Repairs::pages('https://measure.larkhollow.example')['head-ended-early'][1];
                $browser->findElement(WebDriverBy::tagName('textarea'))->sendKeys($html);
                $press('//button[@type="submit"]');
            } elseif ($name === 'feed') {
                $press('//tr[@data-event]//a');
            } elseif ($name === 'notices') {
                $press('//table//button');
            } elseif ($name === 'brief') {
                if ($browser->findElements(WebDriverBy::xpath('//a[contains(@href, "/brief/")]')) === []) {
                    $browser->findElement(WebDriverBy::xpath('//form//input'))->sendKeys('Wren, who looks after the templates');
                    $press('//button[@type="submit"]');
                }
                $link = $browser->wait(10)->until(WebDriverExpectedCondition::presenceOfElementLocated(WebDriverBy::xpath('//a[contains(@href, "/brief/")]')));
                $browser->get((string) $link->getAttribute('href'));
            }
            if ($name === 'loupe' || $name === 'change') {
                // The page of the site, in the tab that opens: with what happened on it, or to be changed.
                $press($name === 'loupe' ? '//button[text()="Open it with the Loupe"]' : '//button[text()="Change it on the page"]');
                $browser->wait(20)->until(static fn (): bool => count($browser->getWindowHandles()) > 1);
                $browser->switchTo()->window(array_slice($browser->getWindowHandles(), -1)[0]);
                $browser->executeCustomCommand('/session/:sessionId/goog/cdp/execute', 'POST', ['cmd' => 'Emulation.setDeviceMetricsOverride', 'params' => ['width' => 1280, 'height' => 800, 'deviceScaleFactor' => 1, 'mobile' => false]]);
                $browser->wait(20)->until(static fn (): bool => (bool) $browser->executeScript('return document.querySelector("plx-loupe") !== null;'));
                if ($name === 'change') {
                    usleep(3_000_000);
                    $browser->findElement(WebDriverBy::cssSelector('main h1'))->click();
                } else {
                    $browser->executeScript('const kept = JSON.parse(sessionStorage.plx_loupe); sessionStorage.plx_loupe = JSON.stringify({ ...kept, tab: "look", edge: "right", chosen: { "loan-steps": "short" } }); location.reload();');
                    usleep(5_000_000);
                }
            }
            if ($name === 'rehearsal' && str_contains($browser->findElement(WebDriverBy::tagName('body'))->getText(), 'not been rehearsed yet')) {
                $press('//button[text()="Rehearse now"]');
                $browser->wait(240)->until(static fn (): bool => str_contains($browser->findElement(WebDriverBy::tagName('body'))->getText(), 'does not work.'));
            }
            if ($name === 'plan') {
                $browser->wait(40)->until(static fn (): bool => str_contains($browser->findElement(WebDriverBy::tagName('body'))->getText(), 'a variant find'));
            }
            usleep(1_500_000);
            // What is counted in the background gets its figures.
            $browser->wait(30)->until(static fn (): bool => $browser->findElements(WebDriverBy::tagName('progress')) === []);
            $browser->takeScreenshot("{$folder}/{$name}.png");
            echo "{$name}\n";
        }
    }
} finally {
    $chrome->quit();
}
