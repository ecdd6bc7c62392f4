import { describe, expect, it } from 'vitest';
import type { Experiment } from '../api/client';
import { changeMistakes, cleaned, type Change } from '../experiments/changeDraft';
import { draftOf, emptyDraft, linkOf, mistakes, nextVariant, parts, requestOf, type Draft } from '../experiments/draft';

const FULL: Draft = {
    ...emptyDraft(),
    name: ' Shorter ',
    pages: { fact: 'url.path', op: 'is', value: ' /loan' },
    variants: [
        { key: 'control', name: 'As it is', weight: '40', control: true, changes: [], target: '' },
        {
            key: 'short',
            name: 'Short',
            weight: '60',
            control: false,
            changes: [{ kind: 'text', selector: 'h1', value: 'New' }],
            target: '',
        },
    ],
    goals: [
        { key: 'done', role: 'primary' },
        { key: 'joined', role: 'guardrail' },
    ],
};

const changed = (change: Partial<Draft>): Draft => ({ ...FULL, ...change });

describe('an experiment that is being written', () => {
    it('is sent as the API takes it', () => {
        const request = requestOf(changed({ share: '12,5' }));
        expect(request).toMatchObject({
            name: 'Shorter',
            share: 0.125,
            pages: { fact: 'url.path', op: 'is', value: '/loan' },
            trigger: null,
            audience: null,
            unit: 'visitor',
            lifetime_days: null,
        });
        expect(requestOf(changed({ lifetime: ' 30 ' })).lifetime_days).toBe(30);
        expect(request.variants.map(({ key, weight, control }) => [key, weight, control])).toEqual([
            ['control', 40, true],
            ['short', 60, false],
        ]);
        expect(request.goals).toEqual([
            { key: 'done', role: 'primary' },
            { key: 'joined', role: 'guardrail' },
        ]);
    });

    it('sends a property with a style only', () => {
        const variants = [
            FULL.variants[0],
            {
                ...FULL.variants[1],
                changes: [
                    { kind: 'style' as const, selector: ' h1 ', property: ' color ', value: 'red' },
                    { kind: 'text' as const, selector: 'p', property: 'color', value: 'x' },
                ],
            },
        ];
        expect(requestOf(changed({ variants })).variants[1].changes).toEqual([
            { kind: 'style', selector: 'h1', property: 'color', value: 'red' },
            { kind: 'text', selector: 'p', value: 'x' },
        ]);
    });

    it.each([
        [
            { kind: 'class', selector: ' p ', add: ['a', ''], remove: [], value: 'left over' },
            { kind: 'class', selector: 'p', add: ['a'], remove: [] },
        ],
        [
            { kind: 'move', selector: 'p', to: ' main ' },
            { kind: 'move', selector: 'p', place: 'before', to: 'main' },
        ],
        [
            { kind: 'attribute', selector: 'a', attribute: ' href ', value: null },
            { kind: 'attribute', selector: 'a', attribute: 'href', value: null },
        ],
        [
            { kind: 'insert', selector: 'p', place: 'last', value: ' <b>' },
            { kind: 'insert', selector: 'p', place: 'last', value: ' <b>' },
        ],
        [
            { kind: 'hide', selector: 'p', value: 'left over', off: true },
            { kind: 'hide', selector: 'p', off: true },
        ],
        [
            { kind: 'script', selector: 'left over', value: 'x()' },
            { kind: 'script', value: 'x()' },
        ],
    ] as [Change, Change][])('sends what the kind takes: %j', (typed, sent) => {
        expect(cleaned(typed)).toEqual(sent);
    });

    it.each([
        [{ kind: 'move', selector: 'p', to: ':::' }, 'to'],
        [{ kind: 'class', selector: 'p', add: [''] }, 'add'],
        [{ kind: 'attribute', selector: 'p' }, 'attribute'],
        [{ kind: 'insert', selector: 'p', value: '' }, 'value'],
        [{ kind: 'sheet', value: '' }, 'value'],
        [{ kind: 'html', selector: '', value: 'x' }, 'selector'],
    ] as [Change, string][])('finds what is missing: %j', (change, field) => {
        expect(Object.keys(changeMistakes(change))).toEqual([field]);
    });

    it('has no mistake where all is said', () => {
        expect(mistakes(FULL)).toEqual({});
    });

    it.each<[Partial<Draft>, string]>([
        [{ name: ' ' }, 'name'],
        [{ pages: { fact: 'url.path', op: 'is', value: ' ' } }, 'pages.value'],
        [{ lifetime: '0' }, 'lifetime_days'],
        [{ lifetime: '1.5' }, 'lifetime_days'],
        [{ share: '101' }, 'share'],
        [{ share: '' }, 'share'],
        [{ variants: [FULL.variants[0], { ...FULL.variants[1], weight: '-1' }] }, 'variants.1.weight'],
        [
            { variants: [FULL.variants[0], { ...FULL.variants[1], changes: [{ kind: 'text', selector: ':::', value: 'x' }] }] },
            'variants.1.changes.0.selector',
        ],
        [
            { variants: [FULL.variants[0], { ...FULL.variants[1], changes: [{ kind: 'text', selector: 'h1', value: '' }] }] },
            'variants.1.changes.0.value',
        ],
        [{ planned: '500' }, 'planned_days'],
        [{ kind: 'redirect' }, 'variants.1.target'],
    ])('names the field of a mistake: %j', (change, field) => {
        expect(Object.keys(mistakes(changed(change)))).toEqual([field]);
    });

    it('shows what each weight comes to', () => {
        expect(parts(FULL.variants)).toEqual([0.4, 0.6]);
        expect(parts([{ ...FULL.variants[0], weight: 'x' }, FULL.variants[1]])).toBeNull();
        expect(parts(FULL.variants.map((variant) => ({ ...variant, weight: '0' })))).toBeNull();
    });

    it('gives each new variant a key of its own', () => {
        const taken = [FULL.variants[0], { ...FULL.variants[1], key: 'variant-2' }];
        expect(nextVariant(taken).key).toBe('variant-3');
        expect(nextVariant([FULL.variants[0]]).key).toBe('variant-1');
    });

    it('is opened again as it was kept', () => {
        const kept = {
            key: 'x',
            name: 'X',
            hypothesis: '',
            share: 0.25,
            pages: { fact: 'url.path', op: 'starts', value: '/loan' },
            trigger: { kind: 'event', name: 'opened' },
            variants: requestOf(FULL).variants,
            goals: [{ key: 'done', name: 'Done', role: 'primary', kind: 'page', count: 'visitor', pages: { all: [] } }],
        } as unknown as Experiment;
        const draft = draftOf(kept);
        expect(draft).toMatchObject({
            share: '25',
            pages: { fact: 'url.path', op: 'starts', value: '/loan' },
            trigger: { kind: 'event', name: 'opened' },
        });
        expect(requestOf(draft).goals).toEqual([{ key: 'done', role: 'primary' }]);
    });

    it('is opened unfinished as it was written, and sent again as it is', () => {
        const written = JSON.parse(
            JSON.stringify(
                requestOf({
                    ...FULL,
                    share: 'x',
                    planned: '12',
                    labels: 'a, b,',
                    variants: [FULL.variants[0], { ...FULL.variants[1], weight: '' }],
                }),
            ),
        );
        const again = draftOf({ ...written, name: 'whole', unfinished: written } as Experiment);
        expect(again).toMatchObject({ name: 'Shorter', share: '', planned: '12', labels: 'a, b' });
        expect(JSON.parse(JSON.stringify(requestOf(again)))).toEqual(written);
    });

    it('keeps the hypothesis as a text until one of its parts says something', () => {
        expect(requestOf(changed({ hypothesis: 'Because.', parts: { because: ' ' } }))).toMatchObject({ hypothesis: 'Because.' });
        expect(requestOf(changed({ hypothesis: 'Because.', parts: { because: 'x' } }))).toMatchObject({
            hypothesis: '',
            hypothesis_parts: { because: 'x' },
        });
    });

    it.each([
        ['name', null],
        ['pages.value', 'page'],
        ['trigger.selector', 'page'],
        ['audience.any.0.value', 'entry'],
        ['variants.1.weight', 'split'],
        ['variants.1.changes.0.selector', 'exposure'],
        ['variants.1.target', 'exposure'],
        ['goals', 'goals'],
        ['planned_days', 'data'],
    ])('belongs to a link of the chain: %s', (field, link) => {
        expect(linkOf(field)).toBe(link);
    });
});
