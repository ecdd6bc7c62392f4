import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { Bench } from '../bench/Bench';
import { MakeExperiment } from '../experiments/MakeExperiment';
import { LINKS } from '../parts/chain';
import { Briefs } from '../wiring/Briefs';
import { Coverage } from '../wiring/Coverage';
import { Groups } from '../wiring/Groups';
import { Tags } from '../wiring/Tags';
import { asked, Refusal, sentTo, serve } from './server';
import { field, open, press, type } from './view';

describe('the Bench', () => {
    const experiment = (key: string, state = 'running') => ({ key, name: `Test ${key}`, state });
    const chain = (key: string, state: string, visitors: number) => ({
        experiment: key,
        visitors,
        last_exposure: null,
        counting: 'current',
        words: `${key} is ${state}.`,
        links: LINKS.map(({ link }, i) => ({ link, state: i === 3 ? state : 'holds', words: '', evidence: [] })),
    });
    const names = (): string[] =>
        screen
            .getAllByRole('row')
            .slice(1)
            .map((row) => within(row).getAllByRole('link')[0].textContent ?? '');

    it('puts the worst of what runs first, and another order on top when asked', async () => {
        serve({
            'GET /experiments': [experiment('a'), experiment('b'), experiment('c', 'ended')],
            'GET /chains': [chain('a', 'holds', 5), chain('b', 'broken', 90), chain('c', 'broken', 700)],
        });
        open(<Bench />, '/bench');
        await screen.findByText('b is broken.');
        expect(names()).toEqual(['Test b', 'Test a', 'Test c']);
        fireEvent.click(screen.getByRole('button', { name: 'Visitors' }));
        expect(names()).toEqual(['Test c', 'Test b', 'Test a']);
    });

    it('filters by state in the address, and is honest where nothing is left', async () => {
        serve({ 'GET /experiments': [experiment('a')], 'GET /chains': [chain('a', 'holds', 5)] });
        open(<Bench />, '/bench', '/bench?state=ended');
        expect(await screen.findByText('No experiment is in this state.')).toBeTruthy();
    });
});

describe('coverage', () => {
    const page = (id: number, state: string) => ({
        id,
        url: `https://larkhollow.localhost/page-${id}`,
        source: 'sitemap',
        in_sitemap: true,
        group: null,
        state,
        inspected_at: null,
        required: [{ code: 'snippet', stands: state === 'broken' ? false : null }],
    });
    const states = { holds: 0, doubt: 0, broken: 1, unseen: 1, stale: 0 };
    const known = {
        total: 2,
        capped: false,
        per_page: 100,
        inventory: 2,
        states,
        groups: [],
        pages: [page(1, 'broken'), page(2, 'unseen')],
    };

    it('lets the server sort and filter, and keeps both in the address', async () => {
        serve({ 'GET /pages': known, 'GET /scans': [], 'GET /findings': [] });
        const router = open(<Coverage />, '/wiring/coverage/:page?', '/wiring/coverage');
        await screen.findByText('/page-1');
        fireEvent.click(screen.getByRole('button', { name: 'Page' }));
        await waitFor(() => expect(router.state.location.search).toBe('?sort=url'));
        await waitFor(() => expect(asked.some((one) => one.path === '/pages' && one.query.get('sort') === 'url')).toBe(true));
        fireEvent.click(await screen.findByRole('button', { name: /^Page/ }));
        await waitFor(() => expect(router.state.location.search).toBe('?sort=-url'));
        type('Part of the address', 'page-1');
        await waitFor(() => expect(asked.some((one) => one.query.get('q') === 'page-1' && one.query.get('sort') === '-url')).toBe(true));
    });

    it('marks what is missing, and says that more was found than was counted', async () => {
        serve({ 'GET /pages': { ...known, total: 1000, capped: true, inventory: 100_000 }, 'GET /scans': [], 'GET /findings': [] });
        open(<Coverage />, '/wiring/coverage/:page?', '/wiring/coverage?q=page');
        expect((await screen.findByText(/at least/)).textContent).toMatch(/at least 1.000 pages of 100.000/);
        expect(screen.getByText('✕ snippet')).toBeTruthy();
        expect(screen.getByText('? snippet')).toBeTruthy();
    });
});

describe('what must stand where', () => {
    const group = (name: string) => ({
        name,
        pages: { fact: 'url.path', op: 'starts', value: `/${name}` },
        snippet: true,
        guard: null,
        unlinked: false,
        tags: [],
    });

    it('keeps groups in the order in which they are asked, and takes a change back', async () => {
        serve({ 'GET /page-groups': [group('a'), group('b')], 'PUT /page-groups': [] });
        open(<Groups />, '/wiring/groups');
        await screen.findByDisplayValue('a');
        fireEvent.click(screen.getAllByRole('button', { name: 'Ask earlier' })[1]);
        press('Remove group 2');
        expect(screen.queryByDisplayValue('a')).toBeNull();
        press('Undo');
        press('Keep the groups');
        await screen.findByText(/Kept\./);
        expect((sentTo('PUT /page-groups')[0].body as { groups: { name: string }[] }).groups.map(({ name }) => name)).toEqual(['b', 'a']);
    });
});

describe('a tag', () => {
    const wiring = {
        revision: 4,
        tags: [
            {
                key: 'first',
                name: 'First',
                kind: 'script',
                code: 'x()',
                consent: 'statistics',
                once: 'page',
                triggers: [{ kind: 'page', pages: { all: [] } }],
            },
        ],
        versions: [],
        faults: {},
        unpublished: [],
        fired: {},
    };

    it('gets its key from its name, and is sent with the others and the revision that was seen', async () => {
        serve({ 'GET /wiring': wiring, 'PUT /wiring/tags': wiring });
        open(<Tags />, '/wiring/tags/:tag?', '/wiring/tags/new');
        type(await screen.findByLabelText('Tag name').then(() => 'Tag name'), 'Café counter');
        type('JavaScript', 'count()');
        press('Keep the tag');
        await screen.findByText('Somewhere else').catch(() => undefined);
        const body = sentTo('PUT /wiring/tags')[0].body as { revision: number; tags: { key: string; name: string }[] };
        expect(body.revision).toBe(4);
        expect(body.tags.map(({ key }) => key)).toEqual(['first', 'cafe-counter']);
    });

    it('shows what is wrong with the code of this tag, whatever its place among the others', async () => {
        serve({
            'GET /wiring': wiring,
            'PUT /wiring/tags': new Refusal(422, { message: 'No.', errors: { 'tags.1.code': ['A tag needs code.'] } }),
        });
        open(<Tags />, '/wiring/tags/:tag?', '/wiring/tags/new');
        await screen.findByLabelText('Tag name');
        type('Tag name', 'Second');
        press('Keep the tag');
        await waitFor(() => expect(field('JavaScript').getAttribute('aria-invalid')).toBe('true'));
        expect(field('Tag name').value).toBe('Second');
    });
});

describe('a brief', () => {
    it('is made for a person, and the next one begins with the same message', async () => {
        const brief = {
            id: 1,
            recipient: 'Moss',
            message: 'Please',
            address: null,
            created_at: '2026-03-02T10:00:00Z',
            ends_at: '2026-03-16T10:00:00Z',
            revoked_at: null,
            opened_at: null,
            author: 'Ines',
            guard_ms: null,
        };
        serve({ 'GET /briefs': [], 'POST /briefs': brief });
        open(<Briefs />, '/wiring/briefs');
        await screen.findByText(/No brief has been made/);
        type('For whom', 'Moss');
        type('What you want to tell them', 'Please');
        press('Make the brief');
        await waitFor(() => expect(field('For whom').value).toBe(''));
        expect(field('What you want to tell them').value).toBe('Please');
        expect(sentTo('POST /briefs')[0].body).toEqual({ recipient: 'Moss', message: 'Please', days: 14, guard_ms: null });
    });
});

describe('an experiment that is being made', () => {
    it('is not sent before what can be known here is right', async () => {
        serve({ 'GET /goals': [], 'POST /experiments': { key: 'shorter' } });
        open(<MakeExperiment />, '/experiments/new');
        await screen.findByText('Make an experiment');
        press('Make the draft');
        expect(screen.getByText(/fields need another look/)).toBeTruthy();
        expect(sentTo('POST /experiments')).toHaveLength(0);
        type('Name', 'Shorter');
        type('Path', '/join');
        type('Elements (CSS selector)', 'h1');
        type('New text', 'Join');
        press('Make the draft');
        expect(await screen.findByText('Somewhere else')).toBeTruthy();
        expect(sentTo('POST /experiments')[0].body).toMatchObject({
            name: 'Shorter',
            share: 1,
            pages: { value: '/join' },
            goals: [],
        });
    });
});
