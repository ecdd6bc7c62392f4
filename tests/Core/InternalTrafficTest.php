<?php

use Pellix\Core\Internal\AddressRange;
use Pellix\Core\Internal\InternalReason;
use Pellix\Core\Internal\InternalTraffic;
use Pellix\Core\Internal\InvalidInternal;
use Pellix\Core\Rules\EventFacts;

it('reads a range however RFC 4291, section 2.3, writes it', function (string $text) {
    expect(AddressRange::read($text, 'x')->text())->toBe('2001:db8:0:cd30::/60');
})->with([['2001:0DB8:0000:CD30:0000:0000:0000:0000/60'], ['2001:0DB8::CD30:0:0:0:0/60'], ['2001:0DB8:0:CD30::/60'], ['2001:0DB8:0:CD30:123:4567:89AB:CDEF/60']]);

it('knows what lies in a range', function (string $range, string $address, bool $lies) {
    expect(AddressRange::read($range, 'x')->contains($address))->toBe($lies);
})->with([
    // RFC 4632, section 3.1: a /20 from 172.16.0.0 (from memory); the ranges for documentation are of RFC 5737 and RFC 3849.
    ['172.16.0.0/20', '172.16.15.255', true], ['172.16.0.0/20', '172.16.16.0', false], ['192.0.2.7', '192.0.2.7', true], ['192.0.2.7', '192.0.2.8', false], ['192.0.2.200/25', '192.0.2.128', true],
    ['192.0.2.0/25', '192.0.2.128', false], ['2001:db8::/32', '2001:db8:ffff::1', true], ['2001:db8::/33', '2001:db8:8000::', false], ['192.0.2.0/24', '::ffff:192.0.2.9', true], ['::ffff:192.0.2.0/120', '192.0.2.9', true],
    ['192.0.2.0/24', '2001:db8::1', false], ['192.0.2.0/24', '', false], ['192.0.2.0/24', 'unix:', false], ['2001:db8::1', '2001:DB8:0::1', true],
]);

it('agrees with whole numbers about every range and address', function () {
    $dice = new Random\Randomizer(new Random\Engine\Mt19937(7));
    for ($i = 0; $i < 2000; $i++) {
        $prefix = $dice->getInt(8, 32);
        $network = $dice->getInt(0, 0xffffffff);
        $address = $network ^ (1 << $dice->getInt(0, 31));
        expect(AddressRange::read(long2ip($network)."/{$prefix}", 'x')->contains(long2ip($address)))->toBe($network >> (32 - $prefix) === $address >> (32 - $prefix));
    }
});

it('refuses what is no range, or would leave out everybody', function (string $text) {
    AddressRange::read($text, 'addresses.0.range');
})->with([[''], ['192.0.2'], ['192.0.2.0/33'], ['192.0.2.0/-1'], ['192.0.2.0/024'], ['192.0.2.0/24/3'], ['0.0.0.0/0'], ['::/0'], ['2001:db8::/129'], ['office'], ["192.0.2.0\n".'/24x'], ['2001:0DB8:0:CD3/60']])->throws(InvalidInternal::class);

it('says by what own people are known, the beacon before the event', function () {
    $rules = InternalTraffic::read([
        'addresses' => [['range' => '192.0.2.0/24', 'note' => 'Office']], 'agents' => ['Uptime-Check'], 'rule' => ['fact' => 'event.props.staff', 'op' => 'is', 'value' => true],
        'marks' => [['name' => 'Ana', 'token' => 'abcdefghij0123456789']],
    ]);
    $facts = static fn (array $props): EventFacts => new EventFacts('page_view', 'https://larkhollow.example/', $props);
    expect($rules->ofBeacon('192.0.2.9', ''))->toBe(InternalReason::Address)->and($rules->ofBeacon('198.51.100.1', 'My uptime-CHECK/2'))->toBe(InternalReason::Agent)->and($rules->ofBeacon('198.51.100.1', 'Mozilla'))->toBeNull()
        ->and($rules->ofEvent('abcdefghij0123456789', $facts([])))->toBe(InternalReason::Mark)->and($rules->ofEvent(['x'], $facts(['staff' => true])))->toBe(InternalReason::Rule)->and($rules->ofEvent('abcdefghij012345678x', $facts([])))->toBeNull()
        ->and(InternalTraffic::read($rules->toArray())->toArray())->toBe($rules->toArray())->and(InternalTraffic::read([])->isEmpty())->toBeTrue();
});

it('says at which field rules cannot be kept', function (array $json, string $field) {
    try {
        InternalTraffic::read($json);
        $this->fail('It was taken.');
    } catch (InvalidInternal $e) {
        expect($e->field)->toBe($field);
    }
})->with([
    [['addresses' => 'x'], 'addresses'], [['addresses' => [['range' => '1.2.3.4', 'note' => str_repeat('x', 81)]]], 'addresses.0.note'], [['addresses' => [7]], 'addresses.0.range'], [['agents' => ['abc']], 'agents.0'], [['agents' => ["\xff\xfe\xfd\xfc"]], 'agents.0'],
    [['rule' => ['fact' => 'nothing', 'op' => 'is', 'value' => 1]], 'rule.fact'], [['rule' => 7], 'rule'], [['rule' => ['all' => []]], 'rule'], [['rule' => ['not' => ['any' => []]]], 'rule'], [['marks' => [['name' => 'A', 'token' => 'short']]], 'marks.0.token'], [['addresses' => array_fill(0, 201, ['range' => '192.0.2.1'])], 'addresses'],
]);
