<?php

use Facebook\WebDriver\WebDriverBy;
use Pellix\Core\SignIn\Base32;
use Pellix\Core\SignIn\TimeCode;

const PEOPLE_PATH = '/sites/plx_larkhollowdemo01';

it('brings somebody in who may prepare, and asks somebody who may publish', function () {
    $desk = $this->signIn();
    $desk->get($this->origin().PEOPLE_PATH.'/people');
    $this->fill($desk, 'E-mail address', 'reed@larkhollow.example');
    $this->choose($desk, 'May then: Look', 'Work');
    $this->press($desk, 'Invite');
    $this->see($desk, 'The invitation of reed@larkhollow.example is on its way.');
    expect($this->axe($desk))->toBe([]);
    $link = $desk->findElement(WebDriverBy::cssSelector('pre'))->getText();

    // The same browser, as somebody else.
    $desk->manage()->deleteAllCookies();
    $desk->get($link);
    $this->see($desk, 'Ines Calder asks reed@larkhollow.example to look after Larkhollow Instrument Library');
    expect($this->axe($desk))->toBe([]);
    $this->fill($desk, 'Your name', 'Tom Reed');
    $this->fill($desk, 'Password', 'passwordpassword');
    $this->press($desk, 'Accept');
    $this->see($desk, 'guessed first');
    $this->fill($desk, 'Password', 'seven boats turn north');
    $this->press($desk, 'Accept');
    $this->see($desk, 'Make an experiment');
    $this->press($desk, 'Make an experiment');
    $this->fill($desk, 'Name', 'Asked for');
    $this->fill($desk, 'Path', '/nowhere-at-all');
    $this->fill($desk, 'Elements (CSS selector)', 'main h1');
    $this->fill($desk, 'New text', 'Come in');
    $this->press($desk, 'Make the draft');
    $this->link($desk, 'goals');
    $this->press($desk, 'Make a goal: a page is reached');
    $this->fill($desk, 'Goal name', 'Came in');
    $this->fill($desk, 'Goal path', '/came-in');
    $this->press($desk, 'Make the goal');
    $this->see($desk, 'It has not counted once in the last seven days.');
    $this->kept($desk);
    $this->askToStart($desk, 'Asked for');
    $this->see($desk, 'You may prepare this; somebody who may publish does it. Ines Calder or Tomé Alder may do it.');
    $this->fill($desk, 'What they should know', 'For Monday');
    $this->press($desk, 'Ask them');
    $this->see($desk, 'can see it under Requests');
    expect($this->axe($desk))->toBe([]);

    $desk->manage()->deleteAllCookies();
    $this->signIn(browser: $desk);
    $this->see($desk, 'One request waits: Tom Reed asks to start “Asked for”');
    $this->press($desk, 'One request waits');
    $this->see($desk, 'For Monday');
    $this->see($desk, 'state');
    expect($this->axe($desk))->toBe([]);
    $this->press($desk, 'Agree, and do it');
    $this->see($desk, 'agreed to by Ines Calder');
    $desk->get($this->origin().PEOPLE_PATH.'/experiments/asked-for');
    $this->see($desk, 'running, ');

    $desk->get($this->origin().PEOPLE_PATH.'/people');
    $this->press($desk, 'Close access');
    $this->see($desk, 'They may do nothing on this site any more');
    $this->press($desk, 'Close it');
    $this->see($desk, 'nothing any more');
    $desk->get($this->origin().PEOPLE_PATH.'/logbook/security');
    $this->see($desk, 'Invitation accepted');
    $this->see($desk, 'Access closed');
    expect($this->axe($desk))->toBe([]);
});

it('signs in with one-time codes, and asks who it is once a while has passed', function () {
    $desk = $this->signIn();
    $desk->get($this->origin().PEOPLE_PATH.'/account/codes');
    $this->press($desk, 'Set them up');
    $this->see($desk, '2. The code that it shows now');
    expect($this->axe($desk))->toBe([]);
    $secret = (string) Base32::decode(trim($desk->findElement(WebDriverBy::cssSelector('form p.font-mono'))->getText()));
    $code = new TimeCode($secret);
    $this->fill($desk, '2. The code that it shows now', $code->at(TimeCode::step(time())));
    $this->press($desk, 'Switch codes on');
    $this->see($desk, 'Your recovery codes.');
    $recovery = explode("\n", $desk->findElement(WebDriverBy::cssSelector('pre'))->getText());
    expect($recovery)->toHaveCount(10);

    $desk->manage()->deleteAllCookies();
    $desk->get($this->origin().'/sign-in');
    $this->fill($desk, 'E-mail address', 'ines@larkhollow.example');
    $this->fill($desk, 'Password', (string) getenv('PELLIX_TEST_PASSWORD'));
    $this->press($desk, 'Sign in');
    $this->see($desk, 'Six digits from your authenticator.');
    expect($this->axe($desk))->toBe([]);
    $this->fill($desk, 'One-time code', '000000');
    $this->press($desk, 'Sign in');
    $this->see($desk, 'This is no code that counts now');
    $this->fill($desk, 'One-time code', $recovery[0]);
    $this->press($desk, 'Sign in');
    $this->see($desk, 'Make an experiment');

    // Some time later: the browser is still signed in, and whoever sits there has to prove who they are.
    $this->db()->exec('update sign_ins set confirmed_at = confirmed_at - interval 1 hour');
    $desk->get($this->origin().PEOPLE_PATH.'/account/codes');
    $this->press($desk, 'Switch codes off');
    $this->see($desk, 'From then on your password alone');
    $this->press($desk, 'Switch them off');
    $this->see($desk, 'Is it you?');
    expect($this->axe($desk))->toBe([]);
    $this->fill($desk, 'One-time code', $recovery[1]);
    $this->press($desk, 'Go on');
    $this->see($desk, 'They are off.');
    foreach (['account', 'account/sessions', 'account/tokens', 'settings', 'first-steps'] as $view) {
        $desk->get($this->origin().PEOPLE_PATH."/{$view}");
        usleep(700_000);
        expect($this->axe($desk))->toBe([], $view);
    }
    $desk->get($this->origin().PEOPLE_PATH.'/account/tokens');
    $this->press($desk, 'Make a token');
    $this->fill($desk, 'Name', 'pipeline');
    $this->press($desk, 'Make it');
    $this->see($desk, '|pellix_');
    $this->see($desk, 'shown this once');
    $this->press($desk, 'Revoke “pipeline”');
    $this->press($desk, 'Revoke it');
    $this->see($desk, 'You have no tokens.');
});

it('gives a new password to whoever has the link from the mail', function () {
    $desk = $this->open();
    $desk->get($this->origin().'/reset');
    $this->fill($desk, 'E-mail address', 'ada@larkhollow.example');
    $this->press($desk, 'Send the link');
    $this->see($desk, 'If there is an account of this name, a link is on its way to it.');
    $mails = $this->await($desk, fn () => str_contains($out = $this->pellix(['mails', '--last=3'])->getOutput(), 'ada@larkhollow.example') ? $out : null, 'the mail', 30);
    preg_match('~/reset/\w{43}~', $mails, $m);
    $desk->get($this->origin().$m[0]);
    $this->see($desk, 'ada@larkhollow.example');
    expect($this->axe($desk))->toBe([]);
    $this->fill($desk, 'New password', 'quiet harbour moss lantern');
    $this->press($desk, 'Set it');
    $this->see($desk, 'every session of the account has ended');
    $desk->get($this->origin().$m[0]);
    $this->see($desk, 'This link is not good, or not any more.');
    $desk->get($this->origin().'/sign-in');
    $this->fill($desk, 'E-mail address', 'ada@larkhollow.example');
    $this->fill($desk, 'Password', 'quiet harbour moss lantern');
    $this->press($desk, 'Sign in');
    $this->see($desk, 'Ada Quill');
    // She looks on: everything shows, nothing is offered that she may not do, and nothing lets itself be filled in.
    expect($this->text($desk))->not->toContain('Make an experiment');
    $desk->get($this->origin().PEOPLE_PATH.'/measures/goals/new');
    $this->see($desk, 'You may look at this, and change nothing.');
    expect($desk->executeScript('return [...document.querySelectorAll("main form button, main form input")].every((one) => one.matches(":disabled"))'))->toBeTrue();
    expect($desk->executeScript('return document.documentElement.scrollWidth'))->toBeLessThanOrEqual(1280);
});
