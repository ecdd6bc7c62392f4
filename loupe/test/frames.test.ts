import { expect, it } from 'vitest';
import { isFramedByStrangers } from '../src/frames';

const framed = (ancestorOrigins: string[] | undefined, referrer = ''): Window =>
    ({
        top: {},
        pellixSite: { hosts: ['shop.test', 'www.shop.test'], collector: 'https://measure.test/c' },
        location: { ancestorOrigins },
        document: { referrer },
    }) as unknown as Window;

it('opens in frames of the site and of Pellix alone', () => {
    const alone = { location: {} } as { top?: unknown };
    alone.top = alone;
    expect(isFramedByStrangers(alone as unknown as Window)).toBe(false);
    expect(isFramedByStrangers(framed(['https://shop.test']))).toBe(false);
    expect(isFramedByStrangers(framed(['https://www.shop.test', 'https://measure.test']))).toBe(false);
    expect(isFramedByStrangers(framed(['https://evil.test']))).toBe(true);
    expect(isFramedByStrangers(framed(['https://shop.test', 'https://evil.test']))).toBe(true);
    expect(isFramedByStrangers(framed(['null']))).toBe(true);
    // Browsers that do not list those around.
    expect(isFramedByStrangers(framed(undefined, 'https://shop.test/page'))).toBe(false);
    expect(isFramedByStrangers(framed(undefined, 'https://evil.test/'))).toBe(true);
    expect(isFramedByStrangers(framed(undefined, ''))).toBe(true);
});
