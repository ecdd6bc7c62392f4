import { describe, expect, it, vi } from 'vitest';
import { EXPERIMENT, load, names, sent } from './visit';

const AWAITED = { ...EXPERIMENT, pages: { all: [] }, trigger: { kind: 'element' as const, selector: 'nav.menu', pages: { all: [] } } };

async function settled(): Promise<void> {
    await Promise.resolve();
    await vi.advanceTimersByTimeAsync(300);
}

describe('an element that something waits for', () => {
    it('lets a visitor in where it is, on any page, and nobody where it is not', async () => {
        await load({ experiments: [AWAITED] });
        await settled();
        expect(names()).toEqual(['page_view']);
        expect(document.querySelector('h1')?.textContent).toBe('Old');
        document.body.insertAdjacentHTML('beforeend', '<nav class="menu"></nav>');
        await settled();
        expect(names()).toContain('exposure');
        expect(document.querySelector('h1')?.textContent).toBe('New <b>words</b>');
    });

    it('is told of once a page view, at once where it is there already', async () => {
        document.body.insertAdjacentHTML('beforeend', '<nav class="menu"></nav>');
        const tag = {
            key: 'menu',
            kind: 'script' as const,
            code: '',
            consent: 'necessary' as const,
            once: 'no' as const,
            triggers: [{ kind: 'element' as const, selector: 'nav.menu' }],
        };
        await load({ experiments: [AWAITED], tags: [tag] });
        await settled();
        document.body.insertAdjacentHTML('beforeend', '<nav class="menu"></nav>');
        await settled();
        expect(names().filter((name) => name === 'exposure')).toHaveLength(1);
        expect(sent.filter(({ name }) => name === 'tag_fired').map(({ props }) => props.why)).toEqual(['nav.menu is on the page']);
        history.pushState({}, '', '/elsewhere');
        await settled();
        expect(names().filter((name) => name === 'exposure')).toHaveLength(2);
        expect(names().filter((name) => name === 'tag_fired')).toHaveLength(2);
    });

    it('is nothing where no browser knows the selector, or the page rule does not match', async () => {
        document.body.insertAdjacentHTML('beforeend', '<nav class="menu"></nav>');
        await load({
            experiments: [
                { ...AWAITED, trigger: { kind: 'element', selector: ':::' } },
                { ...AWAITED, key: 'y', trigger: { ...AWAITED.trigger, pages: { fact: 'url.path', op: 'is', value: '/no' } } },
            ],
        });
        await settled();
        expect(names()).toEqual(['page_view']);
    });
});
