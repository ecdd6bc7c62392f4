import { afterEach, describe, expect, it, vi } from 'vitest';
import { Refused } from '../src/answers';
import { colour, contrastOf, hex, luminance, over, ratio, type Colour } from '../src/change/contrast';
import { Draft, type Desk } from '../src/change/Draft';
import { editInPlace } from '../src/change/inplace';
import { isAbout, moved, shown, switched, withChange, without, type Change, type Kept } from '../src/change/list';
import { markup } from '../src/change/markup';
import { lineOf, spotAt } from '../src/change/place';
import { lengthOf } from '../src/change/styles';
import { widthWords } from '../src/change/widths';

const text = (value: string): Change => ({ kind: 'text', selector: 'h1', value });
const hide = (selector: string): Change => ({ kind: 'hide', selector });

describe('a list of changes', () => {
    it('has one change about one thing: the later wording takes the place of the earlier', () => {
        const list = [text('One'), hide('p')];
        expect(withChange(list, text('Two'))).toEqual([text('Two'), hide('p')]);
        expect(withChange(list, { ...text('Two'), selector: 'h2' })).toHaveLength(3);
        expect(withChange(list, { ...text('Two'), media: '(max-width: 600px)' })).toHaveLength(3);
        // Two insertions are two things.
        const insert: Change = { kind: 'insert', selector: 'p', place: 'after', value: '<b>x</b>' };
        expect(isAbout(insert, insert)).toBe(false);
        expect(withChange([insert], insert)).toHaveLength(2);
    });

    it('is put in another order, and its changes are switched off and on, and left out where they cannot be read', () => {
        const list = [hide('a'), hide('b'), hide('c')];
        expect(moved(list, 2, 0).map(({ selector }) => selector)).toEqual(['c', 'a', 'b']);
        expect(without(list, 1)).toEqual([hide('a'), hide('c')]);
        const off = switched(list, 1);
        expect(off[1].off).toBe(true);
        expect(switched(off, 1)).toEqual(list);
        expect(shown(off, { 2: 'selector: no selector' }, off)).toEqual([hide('a')]);
    });
});

describe('a draft', () => {
    const kept = (changes: Change[], more: Partial<Kept> = {}): Kept => ({
        revision: 1,
        state: 'draft',
        changed_by: 'Ada',
        may_code: true,
        changes,
        problems: {},
        ...more,
    });
    /** Pellix, with one list that several people change: as app/Loupe/Drafting.php, where they change different things. */
    function pellix(first: Change[]) {
        const state = { list: first, revision: 1, by: 'Ada', asked: [] as [Change[], Change[]][], fails: null as Error | null };
        const desk = (name: string): Desk => ({
            draft: async () => kept(state.list, { revision: state.revision, changed_by: state.by }),
            keep: async (base, mine) => {
                if (state.fails) {
                    throw state.fails;
                }
                state.asked.push([base, mine]);
                const has = (list: Change[], one: Change): boolean => list.some((other) => JSON.stringify(other) === JSON.stringify(one));
                const isAlone = JSON.stringify(base) === JSON.stringify(state.list);
                const by = state.by;
                state.list = isAlone
                    ? mine
                    : [
                          ...state.list.filter((one) => !has(base, one) || has(mine, one)),
                          ...mine.filter((one) => !has(base, one) && !has(state.list, one)),
                      ];
                state.revision++;
                state.by = name;

                return kept(state.list, { revision: state.revision, changed_by: name, with: isAlone ? null : by });
            },
        });

        return { state, desk };
    }
    const draftOf = (desk: Desk, list: Change[], save = (): void => undefined): Draft =>
        new Draft(kept(list), desk, { past: [], future: [] }, save);
    const settled = (): Promise<void> => new Promise((done) => setTimeout(done, 0));

    it('keeps each step at once, takes it back and makes it again', async () => {
        const { state, desk } = pellix([]);
        const draft = draftOf(desk('Ada'), []);
        draft.set([hide('a')], 'a hidden');
        draft.set([hide('a'), hide('b')], 'b hidden');
        await settled();
        expect(state.list).toEqual([hide('a'), hide('b')]);
        expect(draft.keeping).toBe('kept');
        await draft.undo();
        expect(draft.list).toEqual([hide('a')]);
        expect(state.list).toEqual([hide('a')]);
        await draft.redo();
        expect(state.list).toEqual([hide('a'), hide('b')]);
        // A new step: what was taken back before it is gone.
        await draft.undo();
        draft.set([hide('a'), hide('c')], 'c hidden');
        expect(draft.history.future).toEqual([]);
        expect(draft.told).toBeNull();
    });

    it('shows what others do, says who, and takes back no more than its own step', async () => {
        const { state, desk } = pellix([]);
        const [ada, ben] = [draftOf(desk('Ada'), []), draftOf(desk('Ben'), [])];
        ada.set([hide('a')], 'a hidden');
        await settled();
        ben.set([hide('b')], 'b hidden');
        await settled();
        expect(ben.list).toEqual([hide('a'), hide('b')]);
        expect(ben.told).toBe('Ada');
        await ada.look();
        expect(ada.list).toEqual([hide('a'), hide('b')]);
        expect(ada.told).toBe('Ben');
        await ada.undo();
        expect(state.list).toEqual([hide('b')]);
        expect(ada.list).toEqual([hide('b')]);
    });

    it('loses nothing where Pellix does not answer, and tries again; where it says no, it ends', async () => {
        const { state, desk } = pellix([]);
        const save = vi.fn();
        const draft = draftOf(desk('Ada'), [], save);
        state.fails = new Error('Failed to fetch');
        draft.set([hide('a')], 'a hidden');
        await settled();
        expect(draft.keeping).toBe('failed');
        expect(draft.list).toEqual([hide('a')]);
        draft.set([hide('a'), hide('b')], 'b hidden');
        await settled();
        state.fails = null;
        await draft.look();
        expect(state.list).toEqual([hide('a'), hide('b')]);
        expect(draft.keeping).toBe('kept');
        state.fails = new Refused('This link opens nothing, or not any more.');
        draft.set([], 'all out');
        await settled();
        expect(draft.keeping).toBe('ended');
        expect(draft.problem).toContain('not any more');
        // A step that could not be taken back out of others' work is still there to be taken back.
        const two = pellix([hide('a')]);
        const ada = draftOf(two.desk('Ada'), [hide('a')]);
        ada.set([hide('a'), hide('b')], 'b hidden');
        await settled();
        two.state.list = [hide('a'), hide('b'), hide('c')];
        two.state.revision++;
        await ada.look();
        two.state.fails = new Error('Failed to fetch');
        await ada.undo();
        expect([ada.list.length, ada.history.past.length, ada.history.future.length]).toEqual([3, 1, 0]);
        two.state.fails = null;
        await ada.undo();
        expect(ada.list).toEqual([hide('a'), hide('c')]);
        expect(save).toHaveBeenCalled();
    });

    it('lets nothing wait for a look at what others do, takes back two steps that are asked for at once, and tells of news alone', async () => {
        const { state, desk } = pellix([]);
        const own = desk('Ada');
        let answer = (): void => undefined;
        const held = new Promise<void>((done) => (answer = done));
        const draft = draftOf({ ...own, draft: () => held.then(() => own.draft()) }, []);
        const drawn = vi.fn();
        const looking = draft.look();
        draft.set([hide('a')], 'a hidden');
        draft.set([hide('a'), hide('b')], 'b hidden');
        await settled();
        expect(state.list).toEqual([hide('a'), hide('b')]);
        answer();
        await looking;
        expect([draft.list.length, draft.told, draft.keeping]).toEqual([2, null, 'kept']);
        draft.onChange(drawn);
        await draft.look();
        expect(drawn).not.toHaveBeenCalled();
        await Promise.all([draft.undo(), draft.undo()]);
        await settled();
        expect([state.list, draft.list, draft.history.future.length]).toEqual([[], [], 2]);
    });

    it('remembers steps within bounds', async () => {
        const { desk } = pellix([]);
        const draft = draftOf(desk('Ada'), []);
        for (let i = 0; i < 80; i++) {
            draft.set([text('x'.repeat(20_000)), hide(`.n${i}`)], 'another');
        }
        await settled();
        expect(draft.history.past.length).toBeLessThanOrEqual(60);
        expect(JSON.stringify(draft.history.past).length).toBeLessThan(500_000);
        expect(draft.list[1]).toEqual(hide('.n79'));
    });
});

describe('contrast', () => {
    // WCAG 2.2, definitions of relative luminance and of contrast ratio: black on white is 21, and a colour on itself 1.
    it('is that of WCAG 2.2', () => {
        const [black, white]: Colour[] = [
            [0, 0, 0, 1],
            [255, 255, 255, 1],
        ];
        expect(luminance(white)).toBeCloseTo(1, 12);
        expect(ratio(black, white)).toBeCloseTo(21, 12);
        expect(ratio(white, white)).toBe(1);
        // The weights of the three colours in the definition, each alone at its full.
        expect([luminance([255, 0, 0, 1]), luminance([0, 255, 0, 1]), luminance([0, 0, 255, 1])]).toEqual([0.2126, 0.7152, 0.0722]);
        // From memory, without a source at hand: the greys that just miss and just meet 4.5 : 1 on white.
        expect(ratio([119, 119, 119, 1], white)).toBeLessThan(4.5);
        expect(ratio([118, 118, 118, 1], white)).toBeGreaterThan(4.5);
    });

    it('looks through what is not opaque, and knows large text', () => {
        document.body.innerHTML =
            '<div style="background-color: rgb(0, 0, 0)"><p style="background-color: rgba(255, 255, 255, 0.5); color: rgb(255, 255, 255); font-size: 16px">x</p></div>';
        const p = document.querySelector('p')!;
        expect(over([255, 255, 255, 0.5], [0, 0, 0, 1])).toEqual([127.5, 127.5, 127.5, 1]);
        expect(contrastOf(p)).toMatchObject({ needed: 4.5, holds: false });
        expect(contrastOf(p)!.ratio).toBeCloseTo(ratio([255, 255, 255, 1], [127.5, 127.5, 127.5, 1]), 9);
        p.style.fontSize = '24px';
        expect(contrastOf(p)).toMatchObject({ needed: 3, holds: true });
        Object.assign(p.style, { fontSize: '19px', fontWeight: '700' });
        expect(contrastOf(p)!.needed).toBe(3);
        p.parentElement!.style.backgroundImage = 'url("x.png")';
        expect(contrastOf(p)).toBeNull();
    });

    it('reads colours as browsers compute them', () => {
        expect(colour('rgb(1, 2, 3)')).toEqual([1, 2, 3, 1]);
        expect(colour('rgba(1, 2, 3, 0.25)')).toEqual([1, 2, 3, 0.25]);
        expect(colour('rgb(1 2 3 / 50%)')).toEqual([1, 2, 3, 0.5]);
        expect(hex([255, 128, 0, 1])).toBe('#ff8000');
    });
});

describe('what is done to elements', () => {
    afterEach(() => void (document.body.innerHTML = ''));

    it('types a text in place, tells the page nothing of it, and gives the element back as it was', () => {
        document.body.innerHTML = '<h1>Old words</h1>';
        const [heading, node] = [document.querySelector('h1')!, document.querySelector('h1')!.firstChild];
        const [done, heard] = [vi.fn(), vi.fn()];
        document.body.addEventListener('keydown', heard);
        editInPlace(heading, 'Old words', done);
        heading.textContent = '  New\u00a0words ';
        heading.dispatchEvent(new KeyboardEvent('keydown', { key: 'w', bubbles: true }));
        heading.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
        expect(done).toHaveBeenCalledExactlyOnceWith('New words');
        expect(heard).not.toHaveBeenCalled();
        expect([heading.outerHTML, heading.firstChild]).toEqual(['<h1>Old words</h1>', node]);
        editInPlace(heading, 'Old words', done);
        heading.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', bubbles: true }));
        expect(done).toHaveBeenLastCalledWith(null);
    });

    it('copies an element without what there may be only once, and without code', () => {
        document.body.innerHTML = '<div id="a" class="card" onclick="go()"><p id="b">x</p><script>go()</script></div>';
        expect(markup(document.body.firstElementChild!)).toBe('<div class="card"><p>x</p></div>');
    });

    it('tells where something goes that is let go of', () => {
        document.body.innerHTML = '<main><p>One</p><div style="display: flex"><b>Two</b></div></main>';
        const at = (css: string, box: Partial<DOMRect>): Element => {
            const element = document.querySelector(css)!;
            element.getBoundingClientRect = () =>
                ({ left: 0, top: 0, width: 100, height: 100, right: 100, bottom: 100, ...box }) as DOMRect;

            return element;
        };
        const [p, main, b] = [at('p', {}), at('main', { height: 400, bottom: 400 }), at('b', {})];
        expect(spotAt(p, 50, 30).place).toBe('before');
        expect(spotAt(p, 50, 70).place).toBe('after');
        expect(spotAt(main, 50, 200).place).toBe('last');
        expect(spotAt(main, 50, 395).place).toBe('after');
        // Where neighbours stand side by side, the side counts.
        expect(spotAt(b, 10, 90).place).toBe('before');
        expect(lineOf({ target: b, place: 'after' })).toEqual({ left: 98, top: 0, width: 4, height: 100 });
        expect(lineOf({ target: p, place: 'before' })).toEqual({ left: 0, top: -2, width: 100, height: 4 });
    });

    it('reads lengths and widths', () => {
        expect(lengthOf('12.345px')).toEqual({ number: '12.35', unit: 'px' });
        expect(lengthOf('normal')).toEqual({ number: '', unit: 'px' });
        expect(widthWords('(max-width: 600px)')).toBe('up to 600 pixels wide');
        expect(widthWords('(min-width: 601px) and (max-width: 900px)')).toBe('601 to 900 pixels wide');
    });
});
