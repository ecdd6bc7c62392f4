<?php

use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverKeys;
use Pellix\Core\Notices\HttpSignature;

const NOTICES = '/sites/plx_larkhollowdemo01/notices';

it('tells by a webhook what its receiver can prove, says what became of it, and tries again', function () {
    $desk = $this->signIn();
    $desk->get($this->origin().NOTICES.'/webhooks');
    $this->press($desk, 'Make a webhook');
    $this->fill($desk, 'Name', 'Booking desk');
    $this->fill($desk, 'Address', 'https://example.org/told');
    $this->press($desk, 'Make it');
    $this->see($desk, 'none of this site');
    expect($this->axe($desk))->toBe([]);
    $told = str_replace('larkhollow.localhost', 'desk.larkhollow.localhost', (string) getenv('PELLIX_TEST_DEMO_ORIGIN')).'/told';
    $this->fill($desk, 'Address', "{$told}?to=desk");
    $this->press($desk, 'Make it');
    $this->see($desk, 'It is shown this once');
    expect($this->axe($desk))->toBe([]);
    $secret = trim($desk->findElement(WebDriverBy::cssSelector('pre[aria-label="Code of the secret"]'))->getText());
    $this->press($desk, 'Test');
    $this->see($desk, '(HTTP 204)', 30);

    // What the receiver got, and how it knows that nobody else has sent it (RFC 9421, 3.2).
    $lines = array_filter(explode("\n", (string) shell_exec('curl -s '.escapeshellarg($told))));
    $taken = json_decode((string) end($lines), true);
    ['headers' => $headers, 'body' => $body] = $taken;
    expect(json_decode($body, true))->toMatchArray(['pellix' => 1, 'kind' => 'test'])->and($headers['content-digest'])->toBe(HttpSignature::digest($body));
    preg_match('/\Apellix=(\(.*\);created=(\d+);.*)\z/', $headers['signature-input'], $m);
    $base = "\"@method\": POST\n\"@authority\": {$headers['host']}\n\"@path\": /told\n\"@query\": ?to=desk\n\"content-type\": {$headers['content-type']}\n\"content-digest\": {$headers['content-digest']}\n\"@signature-params\": {$m[1]}";
    expect($headers['signature'])->toBe('pellix=:'.base64_encode(hash_hmac('sha256', $base, $secret, true)).':')->and(abs(time() - (int) $m[2]))->toBeLessThan(120);

    // One that refuses it.
    $this->press($desk, 'Change');
    $this->fill($desk, 'Address', "{$told}?answer=503");
    $this->press($desk, 'Keep');
    $this->await($desk, fn () => str_contains($this->text($desk), 'answer=503') ?: null, 'the other address');
    $this->press($desk, 'Test');
    $this->see($desk, 'It answered 503. 1 try failed', 30);
    expect($this->axe($desk))->toBe([]);
    $this->press($desk, 'Delete');
    $this->press($desk, 'Delete it');
    $this->see($desk, 'No address is called yet.');
});

it('keeps what somebody wants to be told, and the mails that it would send', function (int $width) {
    $desk = $this->signIn($width);
    $desk->get($this->origin().NOTICES.'/settings');
    $this->fill($desk, 'Quiet from', '25:00');
    $this->fill($desk, 'Quiet until', '07:00');
    $this->press($desk, 'Keep');
    $this->see($desk, 'such as 22:00');
    expect($this->axe($desk))->toBe([]);
    $this->fill($desk, 'Quiet from', '22:00');
    $this->press($desk, 'Keep');
    $this->see($desk, 'Kept.');
    $this->press($desk, 'Send me a test');
    $this->see($desk, 'It is on its way');
    $desk->findElement(WebDriverBy::linkText('see what becomes of it'))->click();
    $this->await($desk, fn () => preg_match('/Test\s+Ines Calder by mail\s+Told/', $this->text($desk)) === 1 ?: null, 'the test was told', 30);
    expect($this->axe($desk))->toBe([]);
    $desk->get($this->origin().NOTICES.'/outbox');
    $this->press($desk, 'A test from Pellix, Larkhollow Instrument Library');
    $this->see($desk, 'As text');
    $frame = $desk->findElement(WebDriverBy::cssSelector('iframe'));
    expect($frame->getAttribute('sandbox'))->toBe('')->and((string) $frame->getAttribute('srcdoc'))->toContain('Mails arrive');
    $desk->get($this->origin().NOTICES);
    $this->see($desk, 'Each trouble is told once');
    expect($this->axe($desk))->toBe([]);
    // As it was before.
    $desk->get($this->origin().NOTICES.'/settings');
    $this->fill($desk, 'Quiet from', WebDriverKeys::BACKSPACE);
    $this->fill($desk, 'Quiet until', WebDriverKeys::BACKSPACE);
    $this->press($desk, 'Keep');
    $this->see($desk, 'Kept.');
})->with([1280, 390]);
