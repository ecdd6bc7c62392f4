<?php

use Demo\Logs\LogMaker;
use Facebook\WebDriver\Interactions\WebDriverActions;
use Facebook\WebDriver\Remote\LocalFileDetector;
use Facebook\WebDriver\Remote\RemoteWebDriver;
use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverKeys;
use Tests\Support\AuditLogs;

const LARKHOLLOW = '/sites/plx_larkhollowdemo01';

beforeEach(function () {
    // The address of the newest audit of an experiment, once it is done.
    $this->auditOf = function (RemoteWebDriver $desk, string $name): string {
        $desk->get($this->origin().LARKHOLLOW.'/audits');
        $this->await($desk, fn () => $desk->findElements(WebDriverBy::linkText($name)) !== [] && ! str_contains($this->text($desk), 'It waits.') && ! str_contains($this->text($desk), 'Under way:') ?: null, 'all audits are done', 60);

        return $this->origin().$desk->findElement(WebDriverBy::linkText($name))->getAttribute('href');
    };
});

it('leads from the Bench to the cause in three clicks', function () {
    $desk = $this->signIn();
    ($this->auditOf)($desk, 'A heading that invites');
    $desk->get($this->origin().LARKHOLLOW.'/bench');
    $this->see($desk, 'New since you last looked');
    // One: what is new. Two: who is missing. Three: a segment alone.
    $this->await($desk, function () use ($desk) {
        $desk->findElement(WebDriverBy::xpath('//section[contains(@aria-label, "New since")]//a[text()="A heading that invites"]'))->click();

        return true;
    }, 'a click on what is new');
    $this->see($desk, 'Do not decide on this data: variant plain lost');
    $this->see($desk, 'What makes it fire though nothing is wrong');
    $this->see($desk, 'Visitors of one variant are lost before their exposure');
    $desk->findElement(WebDriverBy::linkText('Who is missing'))->click();
    $this->see($desk, 'segments tested');
    $this->press($desk, 'Show the table');
    $this->press($desk, 'browser firefox');
    $this->see($desk, 'A look after the fact');
    expect($desk->getCurrentURL())->toContain('dimension=browser')->toContain('value=firefox')->and($this->axe($desk))->toBe([]);
    // It stays chosen in the other views, and is let go of.
    $desk->findElement(WebDriverBy::linkText('Stages'))->click();
    $this->see($desk, 'A look after the fact');
    $this->press($desk, 'Show all of it');
    $this->see($desk, 'All of it is shown.');
    // What is new is new until it was seen.
    $desk->get($this->origin().LARKHOLLOW.'/bench');
    $this->press($desk, 'I have seen them');
    $this->await($desk, fn () => ! str_contains($this->text($desk), 'New since you last looked') ?: null, 'nothing is new any more');
});

it('shows every view of an audit as a picture and as a table, without a fault that axe can find, also on a phone', function (int $width) {
    $desk = $this->signIn($width);
    $audit = ($this->auditOf)($desk, 'A heading that invites');
    foreach (['' => 'The numbers, and how it was decided', '/split' => 'left its bounds', '/segments' => 'segments tested', '/stages' => 'of the stage before', '/volume' => 'events of people', '/delays' => 'were received within', '/orders' => 'orders', '/exclusions' => 'Nothing is left out.', '/rows?behind=exposed&variant=plain' => 'visitors exposed, variant plain', '/checks' => 'checks were made'] as $view => $text) {
        foreach (in_array($view, ['', '/exclusions', '/rows?behind=exposed&variant=plain', '/checks'], true) ? [''] : ['', '?table=1'] as $form) {
            $desk->get($audit.$view.$form);
            $view === '/stages' ? $this->see($desk, 'Stages') : $this->see($desk, $text);
            expect($desk->executeScript('return document.documentElement.scrollWidth'))->toBeLessThanOrEqual($width, $view.$form)->and($this->axe($desk))->toBe([], $view.$form);
        }
    }
    foreach (['/audits', '/audits/logs', '/experiments/catalogue-heading/audits'] as $path) {
        $desk->get($this->origin().LARKHOLLOW.$path);
        $this->see($desk, 'udit');
        expect($desk->executeScript('return document.documentElement.scrollWidth'))->toBeLessThanOrEqual($width, $path)->and($this->axe($desk))->toBe([], $path);
    }
})->with([1280, 390]);

it('reaches each point of a picture by keyboard, and a stretch by dragging or typing', function () {
    $desk = $this->signIn();
    $audit = ($this->auditOf)($desk, 'A heading that invites');
    $desk->get("{$audit}/split");
    $this->see($desk, 'share of the visitors of its epoch');
    $point = $this->await($desk, fn () => $desk->findElement(WebDriverBy::cssSelector('g[role=group] > g[tabindex="0"]')), 'a point that has its turn');
    $desk->executeScript('arguments[0].focus()', [$point]);
    $first = $this->text($desk, 'figure');
    $desk->getKeyboard()->sendKeys(WebDriverKeys::END);
    $this->await($desk, fn () => $this->text($desk, 'figure') !== $first && str_contains($this->text($desk, 'figure'), '; bounds') ?: null, 'the last point is read out');
    $picture = $desk->findElement(WebDriverBy::cssSelector('rect.cursor-crosshair'));
    (new WebDriverActions($desk))->moveToElement($picture, -200, 0)->clickAndHold()->moveByOffset(300, 0)->release()->perform();
    $this->see($desk, 'A look after the fact');
    expect($desk->getCurrentURL())->toContain('since=')->toContain('until=');
    $this->press($desk, 'Show all of it');
    $this->press($desk, 'Choose a stretch…');
    $this->press($desk, 'Look at it');
    $this->see($desk, 'A look after the fact');
});

it('explains a finding with a reason, and takes that back', function () {
    $desk = $this->signIn();
    $desk->get(($this->auditOf)($desk, 'A heading that invites'));
    $this->press($desk, 'Explain it…');
    $this->press($desk, 'Explain it');
    $this->see($desk, 'Say in a few words why, or what was done.');
    $this->fill($desk, 'Why it is so, and why the data can be used all the same', 'The redirect of the old shelf page');
    $this->press($desk, 'Explain it');
    $this->see($desk, 'The explanation holds.');
    expect($this->axe($desk))->toBe([]);
    $this->press($desk, 'Take back what was said');
    $this->await($desk, fn () => ! str_contains($this->text($desk), 'The explanation holds.') ?: null, 'it is taken back');
});

it('audits a log of other columns that somebody brings, and finds its cause', function () {
    $settings = AuditLogs::settings(['lose:variant=short:browser=safari:strength=0.8'], 1500, 14);
    $file = sys_get_temp_dir().'/shop-'.getmypid().'.csv';
    $csv = "ts;uid;event_name;location;test;group;ua;hit\n";
    foreach ((new LogMaker($settings))->events() as $event) {
        $csv .= implode(';', [gmdate('d.m.Y H:i:s', intdiv($event['time'], 1000)), $event['visitor'], ['page_view' => 'pageview', 'exposure' => 'impression'][$event['name']] ?? $event['name'], $event['url'], $event['props']['experiment'] ?? '', $event['props']['variant'] ?? '', "\"{$event['agent']}\"", $event['id']])."\n";
    }
    file_put_contents($file, $csv);
    $desk = $this->signIn();
    $desk->get($this->origin().LARKHOLLOW.'/audits/logs');
    $this->see($desk, 'Choose a file');
    $input = $desk->findElement(WebDriverBy::cssSelector('input[type=file]'));
    $input->setFileDetector(new LocalFileDetector())->sendKeys($file);
    $this->see($desk, 'with the mapping that was guessed', 60);
    expect($this->axe($desk))->toBe([]);
    $this->choose($desk, 'Experiment: Choose which experiment…', 'loan-steps, as the log tells: control, short');
    $this->press($desk, 'Audit it');
    $this->see($desk, 'Do not decide on this data: variant short lost', 60);
    $this->see($desk, 'on safari');
    $this->press($desk, 'Share…');
    $this->fill($desk, 'For whom', 'Wren');
    $this->press($desk, 'Make a link');
    $link = (string) $this->await($desk, fn () => $desk->findElement(WebDriverBy::xpath('//a[contains(@href, "/audit/")]'))->getAttribute('href'), 'a link');
    expect($this->axe($desk))->toBe([]);
    $reader = $this->open(820);
    $reader->get($link);
    $this->see($reader, 'Not fit to decide on');
    // Scripts do not run on it, not even those that look for faults: a copy without its policy is looked at.
    $copy = sys_get_temp_dir().'/report-'.getmypid().'.html';
    file_put_contents($copy, preg_replace('/<meta http-equiv[^>]*>/', '', $reader->getPageSource()));
    $reader->get("file://{$copy}");
    $this->see($reader, 'Not fit to decide on');
    expect($this->axe($reader))->toBe([]);
    unlink($copy);
    unlink($file);
});

it('leaves a stretch out of the next audit, shows it with and without, and withdraws it', function () {
    $desk = $this->signIn();
    $audit = ($this->auditOf)($desk, 'Say what the next step is');
    $desk->get($audit.'/split?since='.gmdate('Y-m-d\TH:i:s\Z', strtotime('today -6 days')).'&until='.gmdate('Y-m-d\TH:i:s\Z', strtotime('today -4 days')));
    $this->await($desk, function () use ($desk) {
        $desk->findElement(WebDriverBy::linkText('Leave this stretch out…'))->click();

        return true;
    }, 'the way to leave it out');
    $this->press($desk, 'Leave it out');
    $this->see($desk, 'Say why, for whoever reads the audit later.');
    $this->fill($desk, 'Its name', 'Two odd days');
    $this->fill($desk, 'Why', 'The shop was closed');
    expect($this->axe($desk))->toBe([]);
    $this->press($desk, 'Leave it out');
    $this->see($desk, 'the next audit goes by it');
    $this->press($desk, 'Audit again');
    $this->see($desk, '1 exclusion leaves out', 60);
    expect($this->axe($desk))->toBe([]);
    $desk->findElement(WebDriverBy::linkText('Without exclusions'))->click();
    $this->see($desk, 'Nothing is left out of what you see here');
    $desk->findElement(WebDriverBy::linkText('Left out'))->click();
    $this->press($desk, 'Withdraw');
    $this->press($desk, 'Withdraw it');
    $this->see($desk, 'withdrawn by');
    expect($this->axe($desk))->toBe([]);
});

it('holds a table of another source against an experiment, with columns that are not ours', function () {
    $file = sys_get_temp_dir().'/analytics-'.getmypid().'.csv';
    $csv = "Date;Group;Users\n";
    for ($day = 12; $day > 2; $day--) {
        foreach (['A', 'B'] as $i => $group) {
            $csv .= date('d.m.Y', strtotime("today -{$day} days")).";{$group};".(60 + 7 * $i + $day)."\n";
        }
    }
    file_put_contents($file, $csv);
    $desk = $this->signIn();
    $desk->get($this->origin().LARKHOLLOW.'/audits/reconcile');
    $this->see($desk, 'File of the other source');
    $desk->findElement(WebDriverBy::cssSelector('input[type=file]'))->setFileDetector(new LocalFileDetector())->sendKeys($file);
    $this->see($desk, 'Days are written');
    $this->see($desk, '02.03.2026');
    $against = (string) $this->await($desk, fn () => $desk->findElement(WebDriverBy::cssSelector('button[aria-label^="Against: "]'))->getAttribute('aria-label') ?: null, 'what it is held against');
    $this->choose($desk, $against, 'Say what the next step is');
    expect($this->axe($desk))->toBe([]);
    $this->press($desk, 'Hold it against');
    $this->see($desk, 'The experiment has no variant "A"');
    $this->fill($desk, 'Where their names of variants are others', "A = control\nB = short");
    $this->press($desk, 'Hold it against');
    $this->see($desk, 'Do all variants differ alike?', 60);
    $this->see($desk, 'Day by day');
    expect($this->axe($desk))->toBe([]);
    $desk->get($this->origin().LARKHOLLOW.'/audits/reconcile');
    $this->see($desk, basename($file));
    expect($this->axe($desk))->toBe([]);
    unlink($file);
});
