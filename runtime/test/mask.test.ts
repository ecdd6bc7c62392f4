import { expect, it } from 'vitest';
import { mask, maskAll } from '../src/mask';

// 4111 1111 1111 1111 and 5500 0000 0000 0004 satisfy the check digit of ISO/IEC 7812-1, annex B; they are test numbers, from memory.
it.each([
    ['http://a.test/?mail=ines@larkhollow.example&x=1', 'http://a.test/?mail=[email]&x=1'],
    ['http://a.test/u/ines%40larkhollow.example/', 'http://a.test/u/[email]/'],
    ['card 4111 1111 1111 1111 ok', 'card [card] ok'],
    ['5500000000000004', '[card]'],
    ['4111111111111112', '4111111111111112'],
    ['call +351 912 345 678 now', 'call [phone] now'],
    ['tel=%2B351912345678', 'tel=[phone]'],
    ['(0351) 912 345 678', '[phone]'],
    ['order 2026-11-24-0012', 'order 2026-11-24-0012'],
    ['G-000123456789', 'G-000123456789'],
    ['/catalogue/2026/11/24', '/catalogue/2026/11/24'],
    ['a @ b, x@y', 'a @ b, x@y'],
])('masks what looks personal in %j', (text, masked) => {
    expect(mask(text)).toBe(masked);
});

it('reaches into objects and lists, and leaves numbers and names alone', () => {
    expect(maskAll({ 'x@y.zz': [{ mail: 'me@x.example' }, 4111111111111111], n: null })).toEqual({
        'x@y.zz': [{ mail: '[email]' }, 4111111111111111],
        n: null,
    });
});
