<?php

use Pellix\Core\SignIn\Base32;
use Pellix\Core\SignIn\CommonPasswords;
use Pellix\Core\SignIn\InvalidSecret;
use Pellix\Core\SignIn\PasswordRules;
use Pellix\Core\SignIn\RecoveryCodes;
use Pellix\Core\SignIn\TimeCode;
use Random\Engine\Mt19937;

/** RFC 6238, appendix B: seconds, code with SHA-1, with SHA-256, with SHA-512; eight digits. */
const TOTP_VECTORS = [
    [59, '94287082', '46119246', '90693936'],
    [1111111109, '07081804', '68084774', '25091201'],
    [1111111111, '14050471', '67062674', '99943326'],
    [1234567890, '89005924', '91819424', '93441116'],
    [2000000000, '69279037', '90698825', '38618901'],
    [20000000000, '65353130', '77737706', '47863826'],
];

it('makes the codes of RFC 6238', function (int $seconds, string $sha1, string $sha256, string $sha512) {
    // The secret of the appendix is "12345678901234567890", repeated to the length of the hash (its reference implementation).
    $seed = str_repeat('1234567890', 7);
    expect((new TimeCode(substr($seed, 0, 20), 8))->at(TimeCode::step($seconds)))->toBe($sha1)
        ->and((new TimeCode(substr($seed, 0, 32), 8, 'sha256'))->at(TimeCode::step($seconds)))->toBe($sha256)
        ->and((new TimeCode(substr($seed, 0, 64), 8, 'sha512'))->at(TimeCode::step($seconds)))->toBe($sha512);
})->with(TOTP_VECTORS);

it('makes the codes of RFC 4226, appendix D, for the counters 0 to 9', function () {
    $code = new TimeCode('12345678901234567890');
    expect(array_map($code->at(...), range(0, 9)))->toBe(['755224', '287082', '359152', '969429', '338314', '254676', '287922', '162583', '399871', '520489']);
});

it('takes a code of the step before and after, and each once (RFC 6238, section 5.2)', function () {
    $code = new TimeCode('12345678901234567890');
    $now = 3000;
    expect($code->accepted($code->at(100), $now))->toBe(100)
        ->and($code->accepted($code->at(99), $now))->toBe(99)
        ->and($code->accepted($code->at(101), $now))->toBe(101)
        ->and($code->accepted($code->at(98), $now))->toBeNull()
        ->and($code->accepted($code->at(102), $now))->toBeNull()
        ->and($code->accepted($code->at(100), $now, 100))->toBeNull()
        ->and($code->accepted($code->at(99), $now, 100))->toBeNull()
        ->and($code->accepted($code->at(101), $now, 100))->toBe(101)
        ->and($code->accepted('', $now))->toBeNull()
        ->and($code->accepted('0'.$code->at(100), $now))->toBeNull();
    expect(static fn () => new TimeCode('too short'))->toThrow(InvalidSecret::class);
});

it('says base 32 as RFC 4648, section 10, does', function (string $bytes, string $text) {
    expect(Base32::encode($bytes))->toBe($text)->and(Base32::decode($text))->toBe($bytes)->and(Base32::decode(strtolower(rtrim($text, '='))))->toBe($bytes);
})->with([['', ''], ['f', 'MY======'], ['fo', 'MZXQ===='], ['foo', 'MZXW6==='], ['foob', 'MZXW6YQ='], ['fooba', 'MZXW6YTB'], ['foobar', 'MZXW6YTBOI======']]);

it('reads no base 32 out of what is none', function (string $text) {
    expect(Base32::decode($text))->toBeNull();
})->with(['M', 'MZX', 'MZXW6Y', 'MZ1Q', 'MZ0Q', 'ü', 'MZ']);

it('knows the address that authenticators read', function () {
    expect((new TimeCode('12345678901234567890'))->address('Pellix', 'a b@shop.test'))
        ->toBe('otpauth://totp/Pellix:a%20b%40shop.test?secret=GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ&issuer=Pellix&algorithm=SHA1&digits=6&period=30');
});

it('takes a recovery code once, however it is typed', function () {
    $codes = RecoveryCodes::make(new Mt19937(7));
    $hashes = array_map(RecoveryCodes::hash(...), $codes);
    // 120 bits: 24 characters of base 32.
    expect($codes)->toHaveCount(10)->and(array_unique($codes))->toHaveCount(10)->and($codes[0])->toMatch('/\A([a-z2-7]{4}-){5}[a-z2-7]{4}\z/');
    $left = RecoveryCodes::without(' '.strtoupper(str_replace('-', ' ', $codes[3])), $hashes);
    expect($left)->toHaveCount(9)->and(RecoveryCodes::without($codes[3], $left))->toBeNull()->and(RecoveryCodes::without('', $hashes))->toBeNull();
});

/** @return PasswordRules with the list that ships */
function shippedRules(): PasswordRules
{
    return new PasswordRules(CommonPasswords::of((string) file_get_contents(dirname(__DIR__, 2).'/resources/passwords/common.txt')));
}

it('refuses short, common and patterned passwords (NIST SP 800-63B-4, section 3.1.1.2)', function (string $password, string $why) {
    expect(shippedRules()->wrong($password, ['Ana Fold', 'ana.fold@larkhollow.example', 'Pellix', 'Larkhollow Library']))->toContain($why);
})->with([
    ['', '15 characters'], ['Tr0ub4dor&3', '15 characters'], ['äöüäöüäöüäöüäö', '15 characters'],
    ['passwordpassword', 'list'], ['Password12345678', 'list'], ['iloveyou-sunshine', 'list'], ['!!!!!!!password1!!!', 'list'],
    ['abcabcabcabcabcabc', 'pattern'], ['abcdefghijklmnopq', 'pattern'], ['zzzzzzzzzzzzzzzzz', 'pattern'],
    ['ana.fold@larkhollow', 'Most of this'], ['larkhollow-pellix-1', 'Most of this'], [str_repeat('long words ', 30), 'at most 256'], ["\xff\xfe not utf-8 text", 'not text'],
]);

it('takes long ones of any characters, and asks for no kinds of them', function (string $password) {
    expect(shippedRules()->wrong($password, ['Ana Fold', 'ana.fold@larkhollow.example']))->toBeNull();
})->with(['quiet harbour moss lantern', 'zwölf graue Reiher am Teich', '漢字かな交じり文でも十五文字以上なら可', 'qwmzpxvtrkblnh ', str_repeat('green kettle ', 19), 'vgkq 7 boats turn north']);

it('takes one password for the same, whatever code points a keyboard sends', function () {
    expect(PasswordRules::normal("zwo\u{0308}lf"))->toBe(PasswordRules::normal('zwölf'))->and(PasswordRules::normal("\xff"))->toBeNull();
});
