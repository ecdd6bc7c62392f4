import { afterEach, describe, expect, it } from 'vitest';
import { arrived, did, dropped, MOST_STEPS, stepWords, type ScriptStep, type Walk } from '../src/record/steps';
import { madeUp } from '../src/record/typed';

const EMPTY: Walk = { steps: [], at: 0 };

describe('a walk', () => {
    it('begins with a page, and goes on by what led to the next one', () => {
        let walk = arrived(EMPTY, '/loan', 'navigate', 0);
        walk = did(walk, { do: 'click', element: '#next' }, 1000);
        walk = arrived(walk, '/loan/details', 'navigate', 1500);
        walk = did(walk, { do: 'type', element: '[name=mail]', value: '{mail}' }, 3000);
        walk = did(walk, { do: 'click', element: '#send' }, 4000);
        walk = did(walk, { do: 'submit', element: 'form' }, 4010);
        walk = arrived(walk, '/loan/confirm', 'navigate', 4500);
        walk = did(walk, { do: 'expect', element: 'h1', text: 'Thank you', variants: ['short'] }, 6000);
        expect(walk.steps).toEqual([
            { do: 'open', path: '/loan' },
            { do: 'follow', path: '/loan/details', element: '#next' },
            { do: 'type', element: '[name=mail]', value: '{mail}' },
            { do: 'submit', element: 'form' },
            { do: 'expect', element: 'h1', text: 'Thank you', variants: ['short'] },
        ]);
        expect(walk.steps.map(stepWords)).toEqual([
            'open /loan',
            'go on to /loan/details by #next',
            'type made-up data ({mail}) into [name=mail]',
            'send the form form',
            'expect h1 with the text “Thank you” (in short)',
        ]);
    });

    it('takes a page that nothing led to for one that was opened, and knows the way back and loading again', () => {
        let walk = arrived(EMPTY, '/', 'reload', 0);
        walk = did(walk, { do: 'click', element: '#menu' }, 1000);
        walk = arrived(walk, '/far', 'navigate', 60_000);
        walk = arrived(walk, '/', 'back_forward', 61_000);
        walk = arrived(walk, '/', 'reload', 62_000);
        expect(walk.steps.map((one) => one.do)).toEqual(['open', 'click', 'open', 'back', 'reload']);
    });

    it('says once what was typed or chosen again and again in one field, and keeps a click that was none on the form’s button', () => {
        let walk = arrived(EMPTY, '/', 'navigate', 0);
        const type = (element: string): ScriptStep => ({ do: 'type', element, value: '{text}' });
        walk = did(did(did(walk, type('#a'), 1), type('#a'), 2), type('#b'), 3);
        walk = did(walk, { do: 'click', element: '#terms' }, 10);
        walk = did(walk, { do: 'submit', element: 'form' }, 5000);
        expect(walk.steps.map((one) => [one.do, one.element])).toEqual([
            ['open', undefined],
            ['type', '#a'],
            ['type', '#b'],
            ['click', '#terms'],
            ['submit', 'form'],
        ]);
        expect(dropped(walk, 1).steps).toHaveLength(4);
    });

    it('is no longer than a script may be', () => {
        let walk = arrived(EMPTY, '/', 'navigate', 0);
        for (let i = 0; i < 200; i++) {
            walk = did(walk, { do: 'click', element: `#n${i}` }, i);
        }
        expect(walk.steps).toHaveLength(MOST_STEPS);
    });
});

describe('what is typed', () => {
    afterEach(() => void (document.body.innerHTML = ''));

    it.each([
        ['<input type="email" name="x">', '{mail}'],
        ['<input name="e-mail">', '{mail}'],
        ['<label>Your name <input></label>', '{name}'],
        ['<input type="tel">', '{phone}'],
        ['<input placeholder="Street and number">', '{street}'],
        ['<input autocomplete="address-level2" name="city">', '{street}'],
        ['<input name="city">', '{town}'],
        ['<input name="plz">', '10115'],
        ['<input type="number" min="3">', '3'],
        ['<input type="number">', '1'],
        ['<input type="date">', '2031-05-14'],
        ['<input type="password">', '{text}'],
        ['<textarea></textarea>', '{text}'],
    ])('is data of nobody: %s', (html, wanted) => {
        document.body.innerHTML = html;
        const field = document.querySelector<HTMLInputElement>('input, textarea')!;
        field.value = field.type === 'text' ? 'A real person' : field.value;
        expect(madeUp(field)).toBe(wanted);
    });
});
