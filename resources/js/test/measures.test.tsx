import { act, fireEvent, screen, waitFor, within } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Capture } from '../measures/Capture';
import { EventPage } from '../measures/EventPage';
import { Events } from '../measures/Events';
import { GoalPage } from '../measures/GoalForm';
import { Goals } from '../measures/Goals';
import { LiveFeed } from '../measures/LiveFeed';
import { count } from '../parts/figures';
import { asked, Refusal, sentTo, serve } from './server';
import { field, open, press, SITE, type } from './view';

const CURRENT = { state: 'current', done: 0, total: 0, error: null };

function kept(key: string, change: object = {}) {
    return {
        goal: { key, name: `Goal ${key}`, kind: 'page', count: 'visitor', pages: { fact: 'url.path', op: 'is', value: '/done' } },
        revision: 1,
        revisions: [],
        experiments: [],
        recent: { hits: 0, visitors: 0, last: null },
        counting: CURRENT,
        ...change,
    };
}

describe('goals', () => {
    it('say how often they were reached, and whether that is still being counted', async () => {
        serve({
            'GET /goals': [
                kept('reached', { recent: { hits: 1200, visitors: 900, last: '2026-03-02T10:00:00Z' } }),
                kept('unused', { counting: { state: 'building', done: 10, total: 40, error: null } }),
                kept('broken', { counting: { ...CURRENT, error: 'It cannot be counted: pages: …' } }),
            ],
        });
        open(<Goals />, '/measures');
        const one = within(await screen.findByRole('region', { name: 'Goal reached' }));
        expect(one.getByText(/hits by/).textContent).toContain(`${count(1200)} hits by ${count(900)} visitors`);
        expect(one.getByRole('img').getAttribute('aria-label')).toBe('holds');
        expect(within(screen.getByRole('region', { name: 'Goal unused' })).getByRole('status').textContent).toContain(
            'these are the old figures',
        );
        expect(within(screen.getByRole('region', { name: 'Goal broken' })).getByRole('alert').textContent).toContain('cannot be counted');
    });

    it('invite to define the first, and say what is wrong when they cannot be read', async () => {
        serve({ 'GET /goals': [] });
        open(<Goals />, '/measures');
        expect(await screen.findByText(/No goal is defined/)).toBeTruthy();
        serve({ 'GET /goals': new Refusal(500, { message: 'The database does not answer.' }) });
        open(<Goals />, '/measures');
        expect((await screen.findByRole('alert')).textContent).toContain('The database does not answer.');
    });
});

describe('a goal that is being defined', () => {
    beforeEach(() => {
        vi.useFakeTimers({ shouldAdvanceTime: true });
    });
    afterEach(() => {
        vi.useRealTimers();
    });

    it('is tried when the writing pauses, not with every letter, and kept as it was written', async () => {
        serve({
            'POST /goals/trial': { id: 7, state: 'running', done: 0, total: 10, result: null },
            'GET /goals/trials/7': { id: 7, state: 'running', done: 3, total: 10, result: null },
            'POST /goals': kept('done'),
        });
        open(<GoalPage />, '/measures/goals/:goal', '/measures/goals/new');
        ['/d', '/do', '/done'].forEach((path) => type('Condition 1: value', path));
        await act(() => vi.advanceTimersByTimeAsync(1000));
        expect(sentTo('POST /goals/trial').map((one) => (one.body as { pages: unknown }).pages)).toEqual([
            { fact: 'url.path', op: 'is', value: '/done' },
        ]);
        type('Goal name', 'Loan done');
        press('Keep the goal');
        expect(await screen.findByText('Somewhere else')).toBeTruthy();
        expect(sentTo('POST /goals')[0].body).toMatchObject({ name: 'Loan done', kind: 'page', count: 'visitor' });
    });

    it('keeps what was typed when the server refuses it, and points at the field', async () => {
        serve({
            'POST /goals/trial': { id: 7, state: 'running', done: 0, total: 10, result: null },
            'GET /goals/trials/7': { id: 7, state: 'running', done: 3, total: 10, result: null },
            'POST /goals': new Refusal(422, { message: 'Not so.', errors: { name: ['Another goal has this name.'] } }),
        });
        open(<GoalPage />, '/measures/goals/:goal', '/measures/goals/new');
        type('Goal name', 'Joined');
        press('Keep the goal');
        expect((await screen.findAllByText(/Another goal has this name/)).length).toBe(2);
        expect(field('Goal name').value).toBe('Joined');
        expect(document.activeElement).toBe(field('Goal name'));
    });
});

describe('the tracking plan', () => {
    const volume = (name: string, change: object = {}) => ({
        name,
        planned: true,
        own: false,
        meaning: '',
        count: 5,
        last: null,
        ...change,
    });

    it('tells what is planned and seen, planned and not seen, and seen without a plan', async () => {
        serve({
            'GET /events': [
                volume('joined'),
                volume('left', { count: 0 }),
                volume('stray', { planned: false }),
                volume('click', { planned: false, own: true }),
            ],
        });
        open(<Events />, '/measures/events');
        await screen.findByText('joined');
        const states = ['joined', 'left', 'stray', 'click'].map((name) =>
            within(screen.getByText(name).closest('tr') as HTMLElement)
                .getByRole('img')
                .getAttribute('aria-label'),
        );
        expect(states).toEqual(['holds', 'unseen', 'doubt', 'holds']);
    });

    it('refuses a name that none can have before anything is asked', async () => {
        serve({
            'GET /events': [],
            'GET /api/session': { name: 'Ines', sites: [{ key: SITE.key, name: SITE.name, right: 'work' }] },
        });
        const router = open(<Events />, '/measures/events');
        await screen.findByText(/No event was seen/);
        await screen.findByLabelText('New event');
        type('New event', 'two words');
        press('Plan it');
        expect(field('New event').getAttribute('aria-invalid')).toBe('true');
        expect(router.state.location.pathname).toBe('/sites/plx_a/measures/events');
        type('New event', 'brochure_opened');
        press('Plan it');
        await waitFor(() => expect(router.state.location.pathname).toBe('/sites/plx_a/measures/events/brochure_opened'));
    });

    it('keeps what the form does not show of a schema, and takes no example that is no JSON', async () => {
        const schema = {
            type: 'object',
            properties: { pages: { type: 'integer', minimum: 1 } },
            required: ['pages'],
            additionalProperties: false,
        };
        const page = {
            name: 'read',
            plan: { meaning: 'Read', sent_from: '', schema, examples: [] },
            days: [],
            judged: 0,
            verdicts: {},
            first_violation: null,
        };
        serve({ 'GET /events/read': page, 'PUT /events/read': page });
        open(<EventPage />, '/measures/events/:event', '/measures/events/read');
        await screen.findByText('It has not been received.');
        type(/Example of its properties/, '{"pages": ');
        press('Keep the plan');
        expect(sentTo('PUT /events/read')).toHaveLength(0);
        expect(screen.getByText('The example is the JSON object of the properties.')).toBeTruthy();
        type(/Example of its properties/, '{"pages": 3}');
        type('What it means', 'A brochure was read');
        press('Keep the plan');
        expect(await screen.findByText('Kept.')).toBeTruthy();
        expect(sentTo('PUT /events/read')[0].body).toEqual({
            meaning: 'A brochure was read',
            sent_from: '',
            schema,
            examples: [{ pages: 3 }],
        });
    });
});

describe('what is captured', () => {
    const known = {
        data_layer: 'shelf',
        data_events: [{ push: 'sold', name: 'order', props: { value: 'total' } }],
        consent_mode: 'none',
        honour_gpc: false,
        session_minutes: 30,
        page_parameters: ['id'],
    };

    it('is sent whole: what was not touched as it was', async () => {
        serve({ 'GET /capture': known, 'PUT /capture': known });
        open(<Capture />, '/measures/capture');
        await screen.findByText('What is captured', { selector: 'h1' });
        type(/Idle minutes/, '45 min');
        type(/Query parameters/, 'id, lang,');
        press('Keep and publish');
        expect(await screen.findByText(/Published/)).toBeTruthy();
        expect(sentTo('PUT /capture')[0].body).toEqual({ ...known, session_minutes: 45, page_parameters: ['id', 'lang'] });
    });

    it('shows a mistake in the third mapping at the third mapping', async () => {
        serve({
            'GET /capture': known,
            'PUT /capture': new Refusal(422, { message: 'No.', errors: { 'data_events.2.push': ['Which push is it?'] } }),
        });
        open(<Capture />, '/measures/capture');
        await screen.findByText('What is captured', { selector: 'h1' });
        press('Add a mapping');
        press('Add a mapping');
        press('Keep and publish');
        await waitFor(() => expect(field('Push 3: its event').getAttribute('aria-invalid')).toBe('true'));
        expect(field('Push 2: its event').getAttribute('aria-invalid')).toBeNull();
        press('Undo');
        expect(screen.queryByLabelText('Push 3: its event')).toBeNull();
    });
});

describe('the live feed', () => {
    const event = (n: number) => ({
        key: `e${n}`,
        visitor: 'visitor-1',
        time: '',
        received: `2026-03-02T10:00:0${n}.000Z`,
        name: 'page_view',
        url: 'https://larkhollow.localhost/join',
        experiment: null,
        variant: null,
        verdict: 'conforms',
    });
    const rejected = {
        key: 'r1',
        received: '2026-03-02T10:00:05.000Z',
        reason: 'event.url',
        message: 'The host is none of this site.',
        sample: '<script>alert(1)</script>',
    };

    it('shows what is rejected as text only, and asks with the filters of the address', async () => {
        serve({ 'GET /feed': { after: 9, after_rejected: 1, events: [event(1), event(2)], rejected: [rejected] }, 'GET /experiments': [] });
        open(<LiveFeed />, '/measures/feed/:event?', '/measures/feed?page=join');
        expect(await screen.findByText('rejected, event.url')).toBeTruthy();
        expect(screen.getByText('<script>alert(1)</script>').tagName).toBe('PRE');
        expect(asked.find((one) => one.path === '/feed')?.query.get('page')).toBe('join');
        expect(screen.getByText('3 newest events')).toBeTruthy();
    });

    it('holds still while it is paused, and shows what waited afterwards', async () => {
        vi.useFakeTimers({ shouldAdvanceTime: true });
        let events = [event(1)];
        serve({ 'GET /feed': () => ({ after: 9, after_rejected: 0, events, rejected: [] }), 'GET /experiments': [] });
        open(<LiveFeed />, '/measures/feed/:event?', '/measures/feed');
        await screen.findByText('1 newest event');
        press('Pause');
        events = [event(3), event(2), event(1)];
        await act(() => vi.advanceTimersByTimeAsync(1500));
        expect(await screen.findByRole('button', { name: 'Go on, 2 wait' })).toBeTruthy();
        expect(screen.getByText('1 newest event')).toBeTruthy();
        fireEvent.keyDown(document.body, { key: 'p' });
        expect(await screen.findByText('3 newest events')).toBeTruthy();
        vi.useRealTimers();
    });

    it('says what to do where nothing comes', async () => {
        serve({ 'GET /feed': { after: 0, after_rejected: 0, events: [], rejected: [] }, 'GET /experiments': [] });
        open(<LiveFeed />, '/measures/feed/:event?', '/measures/feed');
        expect(await screen.findByText(/Nothing has arrived that matches/)).toBeTruthy();
        expect(SITE.key).toBe('plx_a');
    });
});
