import { screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { CodesPart } from '../account/CodesPart';
import { clientName } from '../account/clientName';
import { TokensPart } from '../account/TokensPart';
import { useMoveExperiment } from '../api/life';
import { AskOthers } from '../app/AskOthers';
import { forWorkers } from '../app/LookOnly';
import { Confirm } from '../app/Confirm';
import { GoalPage } from '../measures/GoalForm';
import { listed } from '../parts/words';
import { People } from '../people/People';
import { Requests } from '../requests/Requests';
import { StepList } from '../sites/FirstSteps';
import { Refusal, sentTo, serve } from './server';
import { open, press, SITE, type } from './view';

const session = (right: string) => ({
    'GET /api/session': { name: 'Ines', makes_sites: false, sites: [{ key: SITE.key, name: SITE.name, right, archived: false }] },
});

const request = {
    id: 4,
    title: 'Start “Shorter words”',
    method: 'POST',
    path: 'experiments/shorter-words/stage',
    body: { action: 'start' },
    changes: [{ field: 'state', before: 'draft', after: 'start' }],
    note: 'For Monday',
    author: 'Tom',
    is_yours: false,
    at: '2026-03-02T10:00:00Z',
    state: 'open',
    decider: '',
    decided_at: null,
    answer: '',
};

describe('proving who one is', () => {
    const account = { name: 'Ines', email: 'i@l.example', password_at: null, codes_since: '2026-03-02T10:00:00Z', recovery_codes_left: 2 };

    it('asks, and then does what was to be done', async () => {
        let isProved = false;
        serve({
            'GET /api/account': account,
            'POST /api/account/recovery-codes': () =>
                isProved
                    ? { recovery_codes: ['aaaa-bbbb'] }
                    : new Refusal(423, { message: 'Type a one-time code first.', confirm: 'code' }),
            'POST /api/session/confirmed': () => {
                isProved = true;

                return {};
            },
        });
        open(
            <>
                <CodesPart />
                <Confirm />
            </>,
            '/account/codes',
        );
        await screen.findByText(/2 recovery codes are left/);
        press('Make new recovery codes');
        press('Make them');
        await screen.findByText('Is it you?');
        type('One-time code', '123456');
        press('Go on');
        await screen.findByText('aaaa-bbbb');
        expect(sentTo('POST /api/session/confirmed')[0].body).toEqual({ code: '123456' });
        expect(sentTo('POST /api/account/recovery-codes')).toHaveLength(2);
    });

    it('leaves everything as it is where somebody does not', async () => {
        serve({
            'GET /api/account': account,
            'DELETE /api/account/codes': new Refusal(423, { message: 'Type a one-time code first.', confirm: 'code' }),
        });
        open(
            <>
                <CodesPart />
                <Confirm />
            </>,
            '/account/codes',
        );
        await screen.findByText(/2 recovery codes are left/);
        press('Switch codes off');
        press('Switch them off');
        await screen.findByText('Is it you?');
        const leave = screen.getAllByRole('button', { name: 'Leave it as it is', hidden: true });
        leave[leave.length - 1].click();
        await screen.findAllByText('Type a one-time code first.');
        expect(sentTo('DELETE /api/account/codes')).toHaveLength(1);
    });
});

function Starter() {
    const move = useMoveExperiment(SITE.key, 'shorter-words');

    return <button onClick={() => move.mutate({ action: 'start', reason: 'Because' })}>Start it</button>;
}

describe('asking those who may', () => {
    it('keeps what was prepared as a request, with what they should know', async () => {
        serve({
            'POST /experiments/shorter-words/stage': new Refusal(403, { message: 'You may prepare this.', ask: ['Ana', 'Tom'] }),
            'POST /requests': request,
        });
        open(
            <>
                <Starter />
                <AskOthers />
            </>,
            '/bench',
        );
        press('Start it');
        await screen.findByText('You may prepare this. Ana or Tom may do it.');
        type('What they should know', 'For Monday');
        press('Ask them');
        await screen.findByText(/Ana and Tom can see it/);
        expect(sentTo('POST /requests')[0].body).toEqual({
            method: 'POST',
            path: 'experiments/shorter-words/stage',
            body: { action: 'start', reason: 'Because' },
            note: 'For Monday',
        });
    });

    it('offers nothing where nobody could do it', async () => {
        serve({ 'POST /experiments/shorter-words/stage': new Refusal(403, { message: 'This needs the right to work.' }) });
        open(
            <>
                <Starter />
                <AskOthers />
            </>,
            '/bench',
        );
        press('Start it');
        await waitFor(() => expect(sentTo('POST /experiments/shorter-words/stage')).toHaveLength(1));
        expect(screen.queryByText('Ask for it?')).toBeNull();
    });

    it('shows what would change, and does it as it was asked for', async () => {
        serve({ ...session('publish'), 'GET /requests': [request], 'POST /experiments/shorter-words/stage': { key: 'shorter-words' } });
        open(<Requests />, '/requests');
        await screen.findByText('For Monday');
        await screen.findByText('draft');
        press(await screen.findByText('Agree, and do it').then(() => 'Agree, and do it'));
        await waitFor(() => expect(sentTo('POST /experiments/shorter-words/stage')).toHaveLength(1));
        expect(sentTo('POST /experiments/shorter-words/stage')[0].body).toEqual({ action: 'start' });
    });

    it('lets whoever may not publish withdraw their own, and nothing else', async () => {
        serve({
            ...session('work'),
            'GET /requests': [{ ...request, is_yours: true }],
            'DELETE /requests/4': { ...request, state: 'withdrawn' },
        });
        open(<Requests />, '/requests');
        await screen.findByText('Withdraw');
        expect(screen.queryByText('Agree, and do it')).toBeNull();
        press('Withdraw');
        await waitFor(() => expect(sentTo('DELETE /requests/4')).toHaveLength(1));
    });
});

describe('a view in which something is made', () => {
    const View = forWorkers(GoalPage);
    const people = [
        { id: 1, name: 'Ada', right: 'own', closed: false },
        { id: 2, name: 'Nora', right: 'look', closed: false },
        { id: 3, name: 'Gone', right: 'work', closed: true },
    ];

    it('shows whoever looks on all of it, lets nothing be changed, and says who may', async () => {
        serve({ ...session('look'), 'GET /people': people });
        open(<View />, '/goals');
        await screen.findByText(/change nothing\. Ada may work/);
        expect(screen.getByRole('button', { name: 'Keep the goal' }).matches(':disabled')).toBe(true);
        expect(screen.getByLabelText('Goal name').matches(':disabled')).toBe(true);
    });

    it('is as ever to whoever works, and finds nothing wrong before something was written', async () => {
        serve({
            ...session('work'),
            'POST /goals/trial': new Refusal(422, { message: 'x', errors: { 'pages.value': ['What it is compared with is missing.'] } }),
        });
        open(<View />, '/goals');
        await screen.findByText('Not yet: What it is compared with is missing.');
        expect(screen.queryByRole('alert')).toBeNull();
        expect(screen.queryByRole('note')).toBeNull();
        type('Goal name', 'Joined');
        expect(screen.queryByRole('alert')).toBeNull();
        type('Condition 1: value', '/joined');
        expect((await screen.findByRole('alert')).textContent).toBe('What it is compared with is missing.');
    });
});

describe('people', () => {
    const member = (own: object) => ({
        id: 1,
        name: 'Ada',
        email: 'a@l.example',
        right: 'look',
        closed: false,
        is_you: false,
        uses_codes: false,
        owns: 0,
        ...own,
    });

    it('asks who takes over what somebody owns', async () => {
        serve({
            ...session('own'),
            'GET /people': [member({ owns: 2 }), member({ id: 2, name: 'Tom' })],
            'GET /invitations': [],
            'DELETE /people/1': {},
        });
        open(<People />, '/people/:person?', '/people');
        await screen.findByText('a@l.example', { exact: false, selector: 'tr:first-child td' });
        screen.getAllByRole('button', { name: 'Close access' })[0].click();
        await screen.findByText('Who takes over their 2 experiments');
        press('Close it');
        await waitFor(() => expect(sentTo('DELETE /people/1')[0]?.body).toEqual({ hand_to: null }));
    });

    it('changes nothing for whoever only looks', async () => {
        serve({ ...session('look'), 'GET /people': [member({})] });
        open(<People />, '/people/:person?', '/people');
        await screen.findByText('Ada');
        expect(screen.queryByText('Invite somebody')).toBeNull();
        expect(screen.queryByText('Close access')).toBeNull();
    });
});

it('shows a token once, and offers no more than one may', async () => {
    serve({
        ...session('work'),
        'GET /api/tokens': [],
        'POST /api/tokens': { id: 1, name: 'pipeline', secret: '1|pellix_abc' },
    });
    open(<TokensPart />, '/account/tokens');
    press(await screen.findByText('Make a token').then(() => 'Make a token'));
    type('Name', 'pipeline');
    press('Make it');
    await screen.findByText('1|pellix_abc');
    expect(sentTo('POST /api/tokens')[0].body).toEqual({ name: 'pipeline', site: SITE.key, right: 'look', days: 90 });
});

it('offers the next step, and any of the later ones once the snippet runs', () => {
    const step = (name: string, state: 'holds' | 'unseen') => ({ step: name, label: name, state, words: '', at: null });
    serve({});
    const first = [step('snippet', 'holds'), step('running', 'unseen'), step('goal', 'unseen'), step('colleague', 'unseen')];
    open(<StepList steps={first} />, '/first-steps');
    expect(screen.queryByText('Define a goal')).toBeNull();
    open(<StepList steps={[first[0], step('running', 'holds'), first[2], first[3]]} />, '/first-steps');
    expect(screen.getByText('Define a goal')).toBeTruthy();
    expect(screen.getByText('Invite somebody')).toBeTruthy();
});

it('names browsers, and people in a row', () => {
    expect(clientName('Mozilla/5.0 (Windows NT 10.0) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/140.0 Safari/537.36 Edg/140.0')).toBe(
        'Edge on Windows',
    );
    expect(clientName('curl/8')).toBe('curl/8');
    expect(clientName('')).toBe('unknown');
    expect([listed([], 'or'), listed(['A'], 'or'), listed(['A', 'B', 'C'], 'and')]).toEqual(['Nobody', 'A', 'A, B and C']);
});
