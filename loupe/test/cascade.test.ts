import { expect, it } from 'vitest';
import { written } from '../src/look/cascade/lines';
import { listed, specificity } from '../src/look/cascade/specificity';
import { against, type Declared } from '../src/look/cascade/winner';

// Source: the examples of Selectors Level 4 (W3C), "Calculating a selector's specificity", from memory.
it.each([
    ['*', [0, 0, 0]],
    ['LI', [0, 0, 1]],
    ['UL LI', [0, 0, 2]],
    ['UL OL+LI', [0, 0, 3]],
    ['H1 + *[REL=up]', [0, 1, 1]],
    ['UL OL LI.red', [0, 1, 3]],
    ['LI.red.level', [0, 2, 1]],
    ['#x34y', [1, 0, 0]],
    ['#s12:not(FOO)', [1, 0, 1]],
    ['.foo :is(.bar, #baz)', [1, 1, 0]],
    [':is(em, #foo)', [1, 0, 0]],
    ['.qux:where(em, #foo#bar#baz)', [0, 1, 0]],
    [':nth-child(even of li, .item)', [0, 2, 0]],
    [':not(em, strong#foo)', [1, 0, 1]],
    ['p::first-line', [0, 0, 2]],
    ['a:before', [0, 0, 2]],
    ['[title="a, b > c"]:hover', [0, 2, 0]],
    ['.a\\:b\\.c #d\\#e', [1, 1, 0]],
    [':is(.card, :is(#a))>p', [1, 0, 1]],
])('counts %s', (selector, expected) => {
    expect(specificity(selector)).toEqual(expected);
});

it('parts a list of selectors at its own commas', () => {
    expect(listed('a, b:is(c, d), [x="1,2"], e\\,f')).toEqual(['a', 'b:is(c, d)', '[x="1,2"]', 'e\\,f']);
});

it('finds the lines of rules, whatever stands between them', () => {
    const css =
        '/* a {\n} */\n.one { color: red; }\n@media (min-width: 1px) {\n  .two,\n  .three { content: "} .no {" }\n}\n@import "x.css";\n\n.four{}\n.five { .six { a: b } }\n.cut { color: red';
    expect(written(css)).toEqual([
        { selector: '.one', line: 3 },
        { selector: '.two,\n  .three', line: 5 },
        { selector: '.four', line: 10 },
        { selector: '.five', line: 11 },
        { selector: '.six', line: 11 },
        { selector: '.cut', line: 12 },
    ]);
    expect(written('')).toEqual([]);
    expect(written('"never closed')).toEqual([]);
});

// Source: CSS Cascading and Inheritance Level 5 (W3C), 6.1 "Cascade Sorting Order", 6.4.3 for layers within layers.
it('sorts declarations as the cascade does', () => {
    const one = (change: Partial<Declared>): Declared => ({
        property: 'color',
        value: 'x',
        isImportant: false,
        by: 'rule',
        selector: '',
        specificity: [0, 1, 0],
        layer: [Infinity],
        order: 1,
        at: null,
        name: '',
        element: document.body,
        ...change,
    });
    const inOrder = [
        one({ layer: [0, 0, Infinity], specificity: [9, 0, 0] }),
        one({ layer: [0, Infinity], specificity: [8, 0, 0] }),
        one({ layer: [1, Infinity] }),
        one({ specificity: [0, 0, 9], order: 9 }),
        one({ order: 1 }),
        one({ order: 2 }),
        one({ specificity: [1, 0, 0] }),
        one({ by: 'attribute' }),
        one({ by: 'animation' }),
        one({ isImportant: true, order: 1 }),
        one({ isImportant: true, specificity: [1, 0, 0] }),
        one({ isImportant: true, layer: [1, Infinity] }),
        one({ isImportant: true, layer: [0, Infinity], specificity: [0, 0, 1] }),
        one({ isImportant: true, layer: [0, 0, Infinity] }),
        one({ isImportant: true, by: 'attribute' }),
        one({ by: 'transition' }),
    ];
    for (let i = 0; i < inOrder.length; i++) {
        for (let k = 0; k < inOrder.length; k++) {
            expect(Math.sign(against(inOrder[i], inOrder[k]))).toBe(Math.sign(i - k));
        }
    }
});
