import { describe, expect, it } from 'vitest';
import { asRows, inWords, opsOf, ruleOf, type RuleJson } from '../parts/ruleRows';

/** Rules that the form can show, each with what it says in words. */
const SHOWN: [RuleJson, string][] = [
    [{ fact: 'url.path', op: 'is', value: '/join' }, 'path is exactly /join'],
    [
        { fact: 'url.path', op: 'is', value: '/join', ignore: ['case', 'slash'] },
        'path is exactly /join (capitals aside, slash at the end aside)',
    ],
    [{ fact: 'url.path', op: 'matches', value: '^/order/\\d+$' }, 'path matches the pattern ^/order/\\d+$'],
    [{ fact: 'url.path', op: 'in', value: ['/a', '/b'] }, 'path is one of /a, /b'],
    [{ fact: 'url.query.id', op: 'exists' }, 'query parameter id exists'],
    [{ not: { fact: 'url.query.id', op: 'exists' } }, 'query parameter id does not exist'],
    [{ not: { fact: 'url.host', op: 'contains', value: 'desk' } }, 'host does not contain desk'],
    [{ fact: 'event.props.basket.total', op: 'gte', value: 20.5 }, 'property basket.total is at least 20.5'],
    [{ fact: 'event.props.n', op: 'is', value: 5 }, 'property n is exactly 5'],
    [{ fact: 'data.event', op: 'is', value: 'booked' }, 'data layer event is exactly booked'],
    [
        {
            all: [
                { fact: 'url.path', op: 'starts', value: '/loan' },
                { fact: 'device', op: 'is', value: 'mobile' },
            ],
        },
        'path starts with /loan and device is exactly mobile',
    ],
    [
        {
            any: [
                { fact: 'url.path', op: 'is', value: '/a' },
                { fact: 'url.path', op: 'is', value: '/b' },
            ],
        },
        'path is exactly /a or path is exactly /b',
    ],
    [{ all: [] }, 'always'],
    [{ any: [] }, 'never'],
    [{ not: { all: [] } }, 'never'],
    [{ not: { any: [{ fact: 'url.host', op: 'is', value: 'a' }] } }, 'none of: host is exactly a'],
    [
        {
            all: [
                { fact: 'url.path', op: 'starts', value: '/loan' },
                {
                    any: [
                        { fact: 'device', op: 'is', value: 'mobile' },
                        {
                            not: {
                                all: [
                                    { fact: 'language', op: 'is', value: 'pt' },
                                    { fact: 'cookie.member', op: 'exists' },
                                ],
                            },
                        },
                    ],
                },
            ],
        },
        'path starts with /loan and (device is exactly mobile or (not all of: language is exactly pt, cookie member exists))',
    ],
    [{ all: [{ any: [{ fact: 'url.path', op: 'is', value: '/' }] }] }, '(path is exactly /)'],
];

describe('a rule as rows', () => {
    it.each(SHOWN)('comes back as it was: %j', (rule) => {
        const rows = asRows(rule);
        expect(rows).not.toBeNull();
        expect(rows && ruleOf(rows)).toEqual(rule);
    });

    it.each(SHOWN)('is said in words: %j', (rule, words) => {
        expect(inWords(rule)).toBe(words);
    });

    it.each([
        [{ not: { not: { all: [] } } }],
        [{ all: [], any: [] }],
        [{ all: ['x', null] }],
        [{ not: { fact: 'url.path', op: 'is', value: '/' } }],
        [{ any: 'x' }],
        [{ fact: 'url.path', op: 'almost', value: '/' }],
        [{ fact: 'url.path', op: 'gt', value: 5 }],
    ])('is left to its JSON where the form cannot show it: %j', (rule) => {
        expect(asRows(rule as RuleJson)).toBeNull();
        expect(inWords(rule as RuleJson)).toBe(JSON.stringify(rule));
    });

    it('takes a property that reads like a number or a truth value as one', () => {
        const row = { fact: 'event.props.', name: 'n', op: 'is', value: '5', ignore: [] };
        const value = (text: string, change = {}): unknown => ruleOf({ join: 'all', rows: [{ ...row, value: text, ...change }] }).value;
        expect([value('5'), value('-2.5'), value('true'), value('false'), value('x'), value('5 EUR')]).toEqual([
            5,
            -2.5,
            true,
            false,
            'x',
            '5 EUR',
        ]);
        // The path of an address is always a text.
        expect(value('5', { fact: 'url.query.', name: 'id' })).toBe('5');
        expect(value('5', { op: 'contains' })).toBe('5');
    });

    it('takes a decimal comma, and no number as none', () => {
        const row = { fact: 'event.props.', name: 'n', op: 'gt', value: '2,5', ignore: [] };
        expect(ruleOf({ join: 'all', rows: [row] }).value).toBe(2.5);
        expect(ruleOf({ join: 'all', rows: [{ ...row, value: ' ' }] }).value).toBeNull();
    });

    it('forgets what is ignored where a pattern is written', () => {
        const row = { fact: 'url.path', name: '', op: 'matches', value: 'x', ignore: ['slash'] };
        expect(ruleOf({ join: 'all', rows: [row] })).toEqual({ fact: 'url.path', op: 'matches', value: 'x' });
    });

    it('offers what a fact can be compared by', () => {
        const values = (fact: string): string[] => opsOf(fact).map(({ value }) => value);
        expect(values('url.path')).not.toContain('gt');
        expect(values('event.props.')).toContain('gt');
        expect(values('url.query.')).toContain('not:exists');
        expect(values('url.host')).not.toContain('exists');
    });
});
