import { describe, expect, it } from 'vitest';
import type { AuditFinding, ReadAudit } from '../api/audits';
import { doors } from '../audits/doors';
import { draftIn, requestOf, type ExclusionDraft } from '../audits/exclusion';
import { chosenIn } from '../audits/part';
import { inZone, localText } from '../audits/zoneTime';

const ZONE = 'Europe/Lisbon';
const draft = (change: Partial<ExclusionDraft>): ExclusionDraft => ({ ...draftIn(new URLSearchParams(), ZONE), ...change });

describe('what is left out', () => {
    it('begins with the stretch that the address names, as clocks of the site show it, and sends the same moments', () => {
        const begun = draftIn(new URLSearchParams('kind=time&from=2026-07-09T13:00:00.000Z&to=2026-07-09T18:30:00Z'), ZONE);
        expect([begun.kind, begun.from, begun.to, begun.everywhere]).toEqual(['time', '2026-07-09T14:00', '2026-07-09T19:30', false]);
        expect(requestOf({ ...begun, name: ' Outage ' }, ZONE).exclusion).toEqual({
            name: 'Outage',
            kind: 'time',
            from: '2026-07-09T13:00:00Z',
            to: '2026-07-09T18:30:00Z',
        });
    });

    it('begins with a page', () => {
        const begun = draftIn(new URLSearchParams('kind=page&page=larkhollow.localhost/loan/done'), ZONE);
        expect(begun.rule).toEqual({
            all: [
                { fact: 'url.host', op: 'is', value: 'larkhollow.localhost' },
                { fact: 'url.path', op: 'is', value: '/loan/done' },
            ],
        });
    });

    it('takes no word of an address that it does not know', () => {
        expect(draftIn(new URLSearchParams('kind=everything&from=yesterday'), ZONE)).toMatchObject({
            kind: 'internal',
            from: '',
            by: 'mark',
        });
    });

    it('sends what tells own people in the way that was chosen, and nothing of the others', () => {
        const rule = { fact: 'browser', op: 'is', value: 'firefox' };
        const filled = { rule, visitors: ' v1 \n\nv2\n', name: 'Office' };
        const sent = (change: Partial<ExclusionDraft>): object => requestOf(draft({ ...filled, ...change }), ZONE).exclusion;
        expect(sent({ by: 'mark' })).toEqual({ name: 'Office', kind: 'internal' });
        expect(sent({ by: 'rule' })).toEqual({ name: 'Office', kind: 'internal', rule });
        expect(sent({ by: 'visitors' })).toEqual({ name: 'Office', kind: 'internal', visitors: ['v1', 'v2'] });
        expect(sent({ kind: 'bots', by: 'rule' })).toEqual({ name: 'Office', kind: 'bots' });
        // What was chosen and left empty is said to be missing, by the server; it never means everybody.
        expect(sent({ by: 'rule', rule: { all: [] } })).toEqual({ name: 'Office', kind: 'internal', rule: null });
        expect(sent({ by: 'visitors', visitors: ' \n' })).toEqual({ name: 'Office', kind: 'internal', visitors: [] });
    });
});

describe('times of the site', () => {
    it.each([
        ['2026-03-29T00:30:00Z', '2026-03-29T00:30'],
        ['2026-03-29T01:30:00Z', '2026-03-29T02:30'],
        ['2026-10-24T23:30:00Z', '2026-10-25T00:30'],
        ['2026-10-25T02:30:00Z', '2026-10-25T02:30'],
    ])('shows %s as %s, and reads it back', (at, local) => {
        expect(localText(at, ZONE)).toBe(local);
        expect(inZone(local, ZONE)).toBe(at);
    });
});

describe('where a finding leads to', () => {
    const audit = { audit: 4, experiment: 'loan-steps' } as ReadAudit;
    const finding = (change: Partial<AuditFinding>): AuditFinding =>
        ({
            code: 'srm.overall',
            link: 'split',
            variant: null,
            goal: null,
            event: null,
            page: null,
            segment: null,
            since: null,
            until: null,
            ...change,
        }) as AuditFinding;
    const labels = (change: Partial<AuditFinding>): string[] => doors('plx_a', audit, finding(change)).map(({ label }) => label);

    it('leads to the picture first, then to what mends it', () => {
        expect(labels({ variant: 'short' })).toEqual([
            'See the split over time',
            'See who is behind it',
            'Rehearse variant short',
            'See what is declared',
        ]);
        expect(labels({ code: 'epoch.weights-changed' })).toContain('Make a new epoch');
        expect(labels({ code: 'gap.page', link: 'page', page: 'a.test/b' })).toEqual([
            'See the volume',
            'Look at these alone',
            'Inspect this page',
        ]);
    });

    it('opens the number that it is about', () => {
        const to = (change: Partial<AuditFinding>): string =>
            doors('plx_a', audit, finding(change))
                .find(({ label }) => label === 'See who is behind it')
                ?.to.split('?')[1] ?? '';
        expect(to({ variant: 'short', segment: { dimension: 'browser', value: 'safari' } })).toBe(
            'behind=exposed&variant=short&dimension=browser&value=safari',
        );
        expect(to({ code: 'assign.outside', numbers: { reason: 'share' } as never })).toBe('behind=outside-share');
        expect(to({ code: 'srm.stage', variant: 'short', numbers: { stage: 'goal-page' } as never })).toBe(
            'behind=goal-page&variant=short',
        );
        expect(to({ code: 'goal.duplicate', goal: 'joined' })).toBe('behind=hits-again&goal=joined');
        expect(to({ code: 'gap.silence' })).toBe('');
    });

    it('offers to leave out what is no visitor, and a stretch that is over', () => {
        expect(labels({ code: 'event.bot', link: 'data' })).toContain('Leave these bots out');
        expect(labels({ code: 'event.internal', link: 'data' })).toContain('Mark internal traffic');
        const over = { code: 'gap.silence', link: 'data', since: '2026-03-09T00:00:00Z', until: '2026-03-09T08:00:00Z' } as const;
        const door = doors('plx_a', audit, finding(over)).find(({ label }) => label === 'Leave this stretch out');
        expect(door?.to).toBe('/sites/plx_a/audits/4/exclusions?kind=time&from=2026-03-09T00%3A00%3A00Z&to=2026-03-09T08%3A00%3A00Z');
        expect(labels({ ...over, until: null })).not.toContain('Leave this stretch out');
    });

    it('looks at a segment alone, but not at one that is several, nor at a day of the week', () => {
        const of = (dimension: string, value: string): string[] => labels({ segment: { dimension, value } });
        expect(of('browser', 'safari')).toContain('Look at these alone');
        expect(of('browser', 'safari,edge')).not.toContain('Look at these alone');
        expect(of('weekday', 'Monday')).not.toContain('Look at these alone');
    });
});

it('knows the part that an address names', () => {
    expect(chosenIn(new URLSearchParams('since=2026-03-09T00:00:00Z&dimension=browser&value=safari&finding=x'))).toEqual({
        since: '2026-03-09T00:00:00Z',
        dimension: 'browser',
        value: 'safari',
    });
});
