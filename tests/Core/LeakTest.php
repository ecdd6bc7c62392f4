<?php

use Pellix\Core\Rehearsal\CheckCode;
use Pellix\Core\Rehearsal\DataJudge;
use Pellix\Core\Rehearsal\Finding;
use Pellix\Core\Rehearsal\Leak;
use Pellix\Core\Rehearsal\MadeUp;

it('finds what was typed wherever it turns up, and in whatever form', function (callable $sent, ?string $form) {
    $typed = new MadeUp('qwertz');
    expect(Leak::in($sent($typed->values['mail'], $typed->values['phone']), array_values($typed->values), 'qwertz')[1] ?? null)->toBe($form);
})->with([
    'plain' => [fn (string $mail) => "https://shop.test/?mail={$mail}", 'as it was typed'],
    'percent-encoded' => [fn (string $mail) => 'https://shop.test/?mail='.rawurlencode($mail), 'as it was typed'],
    'twice' => [fn (string $mail) => 'https://shop.test/?u='.rawurlencode('https://a.test/?m='.rawurlencode($mail)), 'as it was typed'],
    'as JSON' => [fn (string $mail) => json_encode(['who' => strtoupper($mail)]), 'as it was typed'],
    'escaped' => [fn (string $mail) => str_replace('@', '\\u0040', $mail), 'as it was typed'],
    'a form' => [fn (string $mail) => 'name=Wren+Tallowqwertz', 'as it was typed'],
    'an entity' => [fn (string $mail) => str_replace('@', '&#64;', "<b>{$mail}</b>"), 'as it was typed'],
    'in part' => [fn (string $mail) => 'last=tallowqwertz', 'a part of it'],
    'the number alone' => [fn (string $mail, string $phone) => 'tel='.ltrim($phone, '+'), 'its digits'],
    'Base64 in JSON' => [fn (string $mail) => json_encode(['a' => base64_encode("{\"m\":\"{$mail}\"}")]), 'in Base64'],
    'Base64 for addresses, after something else' => [fn (string $mail) => 'id=v1_'.rtrim(strtr(base64_encode("??{$mail}"), '+/', '-_'), '='), 'in Base64'],
    'Base64 in Base64' => [fn (string $mail) => 'd='.base64_encode(base64_encode($mail)), 'in Base64'],
    'hexadecimal' => [fn (string $mail) => 'x='.bin2hex($mail), 'in hexadecimal'],
    'a hash' => [fn (string $mail) => 'h='.hash('sha256', $mail), 'as a hash (SHA256)'],
    'a hash in capitals' => [fn (string $mail) => 'h='.strtoupper(md5(strtolower($mail))), 'as a hash (MD5)'],
    'a hash in Base64' => [fn (string $mail) => 'h='.rawurlencode(base64_encode(hash('sha256', $mail, true))), 'as a hash (SHA256)'],
    'a hash of the number' => [fn (string $mail, string $phone) => 'h='.sha1(ltrim($phone, '+')), 'as a hash (SHA1)'],
    'nothing of it' => [fn (string $mail) => 'https://shop.test/?page=2&colour=dark&id='.hash('sha256', 'somebody else').'&d='.base64_encode(str_repeat('no', 90)), null],
    'bytes' => [fn (string $mail) => random_bytes(3000), null],
]);

it('takes nothing for a leak that is short or was not typed', function () {
    expect(Leak::in('https://shop.test/?town=Porto', ['Porto']))->toBeNull()->and(Leak::in('anything', []))->toBeNull();
});

it('looks at a long text as far as its bounds go', function () {
    expect(Leak::in(str_repeat(base64_encode(random_bytes(60)).'%2B', 4000), ['wren.qwertz@example.org'], 'qwertz'))->toBeNull();
});

it('looks less deeply at what comes after very much, and not away', function () {
    $much = array_fill(0, 60, ['method' => 'POST', 'url' => 'https://ads.test/p', 'body' => str_repeat('rosin and hair ', 5000)]);
    $sent = static fn (string $body): array => ['method' => 'POST', 'url' => 'https://ads.test/p', 'body' => $body];
    $found = static fn (string $body): int => count(DataJudge::personal([...$much, $sent($body)], ['wren.qwertz@example.org'], 'qwertz', 'https://pellix.test', ['shop.test'], 'short'));
    expect($found('m=wren.qwertz%40example.org'))->toBe(1)->and($found(base64_encode(base64_encode('wren.qwertz@example.org'))))->toBe(0);
});

it('tells where what was typed may go from where it may not', function (string $url, ?string $body, ?CheckCode $code) {
    $found = DataJudge::personal([['method' => 'POST', 'url' => $url, 'body' => $body]], ['wren.qwertz@example.org'], 'qwertz', 'https://pellix.test', ['shop.test'], 'short');
    expect(array_map(static fn (Finding $one): CheckCode => $one->code, $found))->toBe($code === null ? [] : [$code]);
})->with([
    'to the site itself' => ['https://shop.test/order', 'mail=wren.qwertz@example.org', null],
    'in an address of the site' => ['https://shop.test/thanks?mail=wren.qwertz%40example.org', null, CheckCode::DataAddress],
    'to somebody else' => ['https://ads.test/p', '{"m":"wren.qwertz@example.org"}', CheckCode::DataPersonal],
    'to Pellix' => ['https://pellix.test/c', '{"mail":"wren.qwertz@example.org"}', CheckCode::DataPersonal],
    'nothing' => ['https://ads.test/p?page=2', null, null],
]);
