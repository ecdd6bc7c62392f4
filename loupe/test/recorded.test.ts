import { expect, it } from 'vitest';
import { recordedSelector } from '../src/point/recorded';

/** As core/src/Happenings/ElementSelector.php takes them. */
const TAKEN = /^[A-Za-z][\w-]*(?:\.[\w-]+)*(?: [A-Za-z#][\w-]*(?:\.[\w-]+)*)*$|^#[\w-]+(?: [A-Za-z#][\w-]*(?:\.[\w-]+)*)*$/;

it('goes by names, ids and classes alone, as they are recorded with a click', () => {
    const page = new DOMParser().parseFromString(
        '<main><nav class="css-1q2w3e"><a href="/a" class="item">A</a><a href="/b" class="item last-item">B</a></nav><form id="loan" class="mt-4"><p><button class="next big">Go</button></p></form><footer><a href="/c">C</a></footer><p>x</p><p>y</p></main>',
        'text/html',
    );
    const of = (css: string): string | null => recordedSelector(page.querySelector(css)!);
    expect(of('#loan')).toBe('#loan');
    expect(of('button')).toBe('button.next');
    expect(of('nav a:last-child')).toBe('a.last-item');
    expect(of('footer a')).toBe('footer a');
    expect(of('main')).toBe('main');
    // Two that only their place tells apart.
    expect(of('nav a')).toBeNull();
    expect(of('main > p')).toBeNull();
    for (const element of Array.from(page.body.querySelectorAll('*'))) {
        const selector = recordedSelector(element);
        if (selector !== null) {
            expect(selector).toMatch(TAKEN);
            expect(Array.from(page.querySelectorAll(selector))).toEqual([element]);
        }
    }
});
