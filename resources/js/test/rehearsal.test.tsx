import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import type { Experiment } from '../api/client';
import { RehearsalPage } from '../rehearsals/RehearsalPage';
import { Refusal, sentTo, serve } from './server';
import { open, press, SITE, type } from './view';

const EXPERIMENT = {
    key: 'a',
    name: 'Test a',
    goals: [],
    variants: [
        { key: 'control', name: 'As it is', control: true, changes: [] },
        { key: 'short', name: 'Short', control: false, changes: [] },
    ],
} as unknown as Experiment;

const head = (run: number, own: object = {}) => ({
    pellix: 1,
    rehearsal: run,
    experiment: 'a',
    site: SITE.key,
    state: 'done',
    verdict: 'broken',
    words: 'One thing does not work.',
    why: 'asked',
    by: 'Ines',
    asked: '2026-03-02T10:00:00Z',
    started: '2026-03-02T10:00:01Z',
    ended: '2026-03-02T10:01:00Z',
    seconds: 59,
    seconds_left: null,
    doing: '',
    done: 9,
    total: 9,
    blockers: 1,
    warnings: 0,
    notes: 0,
    revision: 1,
    configuration: 3,
    variants: ['control', 'short'],
    screens: ['desktop'],
    ...own,
});

const finding = (code: string, words: string) => ({
    code,
    severity: 'blocker',
    link: 'exposure',
    words,
    cause: 'main p.lead wins.',
    next: 'Write it with !important.',
    variant: 'short',
    screen: 'desktop',
    goal: null,
    identity: code,
    evidence: {},
});

const report = (run: number, own: object = {}) => ({
    ...head(run),
    script: { pellix: 1, steps: [{ do: 'open', path: '/a' }] },
    steps: ['open /a'],
    findings: [finding('change.outranked', 'The colour does not show.')],
    proofs: [{ link: 'snippet', words: 'The snippet runs.', variant: null, screen: null, goal: null }],
    parts: [{ kind: 'snippet', variant: null, words: 'The snippet', state: 'done', seconds: 4.2, findings: 0, proofs: 1, figures: {} }],
    files: [
        { name: 'look-short-desktop.png', media: 'image/png' },
        { name: 'found-look-short-desktop.har', media: 'application/json' },
        { name: 'found-look-short-desktop.console.json', media: 'application/json' },
    ],
    ...own,
});

const script = { script: { pellix: 1, steps: [{ do: 'open', path: '/a' }] }, steps: ['open /a'], written: false, by: null, at: null };

function show(answers: Record<string, unknown>, right = 'work', at = '/rehearsal') {
    serve({
        'GET /experiments/a/rehearsal-script': script,
        'GET /experiments/a/rehearsal-plan': { daily_at: null, after_publication: false },
        'GET /api/session': { id: 1, name: 'Ines', email: 'i@x', sites: [{ key: SITE.key, name: SITE.name, right }] },
        ...answers,
    });

    return open(<RehearsalPage site={SITE} experiment={EXPERIMENT} />, '/rehearsal', at);
}

const upload = (file: File): void => void fireEvent.change(screen.getByLabelText('File with a script'), { target: { files: [file] } });

describe('a rehearsal', () => {
    it('says what it does where there was none yet, and asks for one of some screens', async () => {
        show({ 'GET /experiments/a/rehearsals': [], 'POST /experiments/a/rehearsals': head(7, { state: 'waiting', verdict: 'unseen' }) });
        expect(await screen.findByText(/It has not been rehearsed yet/)).toBeTruthy();
        (await screen.findByLabelText('Phone 390 × 844')).click();
        (await screen.findByLabelText('Short')).click();
        press('Rehearse now');
        await waitFor(() =>
            expect(sentTo('POST /experiments/a/rehearsals')[0]?.body).toEqual({ variants: ['control'], screens: ['desktop', 'tablet'] }),
        );
    });

    it('tells the consequence, the cause and what to do, and where the time went', async () => {
        show({ 'GET /experiments/a/rehearsals': [head(7), head(6)], 'GET /rehearsals/7': report(7) });
        expect(await screen.findByText('The colour does not show.')).toBeTruthy();
        expect(screen.getByText('main p.lead wins.')).toBeTruthy();
        expect(screen.getByText('Write it with !important.')).toBeTruthy();
        expect(screen.getByText('4.2 s')).toBeTruthy();
        expect(screen.getByRole('link', { name: 'requests (HAR)' }).getAttribute('href')).toContain(
            '/rehearsals/7/files/found-look-short-desktop.har',
        );
        expect(screen.getByRole('link', { name: 'Compare' }).getAttribute('href')).toContain('run=7&against=6');
        expect(screen.getByRole('button', { name: 'Open Short, Desk 1280 × 800' })).toBeTruthy();
    });

    it('shows what it does while it does it, and can be cancelled', async () => {
        const running = {
            state: 'running',
            verdict: 'unseen',
            words: '3 of 9 parts are done.',
            doing: 'Assignment: loading again',
            done: 3,
            seconds_left: 40,
        };
        show({
            'GET /experiments/a/rehearsals': [head(7, running)],
            'GET /rehearsals/7': report(7, { ...running, findings: [] }),
            'DELETE /rehearsals/7': head(7, { state: 'cancelled' }),
        });
        expect(await screen.findByText('Assignment: loading again')).toBeTruthy();
        expect(screen.getByText(/about 40 s left/)).toBeTruthy();
        press('Cancel');
        await waitFor(() => expect(sentTo('DELETE /rehearsals/7')).toHaveLength(1));
    });

    it('writes a script step by step, says at which one it is wrong, and loses nothing of it', async () => {
        const refusal = new Refusal(422, { message: 'No.', errors: { 'steps.1.element': ['It names the element.'] } });
        show({
            'GET /experiments/a/rehearsals': [head(7)],
            'GET /rehearsals/7': report(7, {
                parts: [
                    {
                        kind: 'look',
                        variant: 'short',
                        words: 'Look',
                        state: 'done',
                        seconds: 1,
                        findings: 0,
                        proofs: 0,
                        figures: {
                            desktop: {
                                places: [
                                    ['main', [0, 0, 800, 600]],
                                    ['#next', [10, 20, 90, 30]],
                                ],
                            },
                        },
                    },
                ],
            }),
            'PUT /experiments/a/rehearsal-script': refusal,
        });
        await screen.findByText('open /a');
        press('Write the script…');
        press('Add below step 1');
        press('Keep the script');
        expect(await screen.findByText('It names the element.')).toBeTruthy();
        expect(sentTo('PUT /experiments/a/rehearsal-script')[0]?.body).toEqual({
            pellix: 1,
            steps: [
                { do: 'open', path: '/a' },
                { do: 'click', element: '' },
            ],
        });
        // The element is chosen on the newest picture, or in the list of what stood there.
        press('Choose on the picture…');
        (await screen.findByRole('button', { name: '#next', hidden: true })).click();
        await waitFor(() => expect(screen.getByDisplayValue('#next')).toBeTruthy());
        press('Move step 2 up');
        press('As text');
        expect((await screen.findByLabelText<HTMLTextAreaElement>(/Steps, as/)).value).toMatch(/"click"[^]*"open"/);
        type(/Steps, as/, '{');
        press('Keep the script');
        expect(await screen.findByText(/This is no JSON/)).toBeTruthy();
    });

    it('chooses an element on the page that the steps before have led to', async () => {
        const walked = {
            kind: 'walk',
            variant: 'short',
            words: 'The goals',
            state: 'done',
            seconds: 1,
            findings: 0,
            proofs: 0,
            figures: {
                pages: [
                    { step: 1, page: '/a', picture: 'way-short-1.jpg', width: 1280, places: [['#first', [0, 0, 9, 9]]] },
                    { step: 2, page: '/b', picture: 'way-short-2.jpg', width: 1280, places: [['#second', [0, 0, 9, 9]]] },
                ],
            },
        };
        const files = ['way-short-1.jpg', 'way-short-2.jpg'].map((name) => ({ name, media: 'image/jpeg' }));
        show({
            'GET /experiments/a/rehearsals': [head(7)],
            'GET /rehearsals/7': report(7, { parts: [walked], files }),
            'GET /experiments/a/rehearsal-script': {
                ...script,
                script: {
                    pellix: 1,
                    steps: [
                        { do: 'open', path: '/a' },
                        { do: 'follow', path: '/b' },
                        { do: 'click', element: '' },
                    ],
                },
            },
        });
        expect(await screen.findByRole('button', { name: /Open the page after step 2 in Short/ })).toBeTruthy();
        press('Write the script…');
        press('Choose on the picture…');
        (await screen.findByRole('button', { name: '#second', hidden: true })).click();
        await waitFor(() => expect(screen.getByDisplayValue('#second')).toBeTruthy());
    });

    it('takes the steps of another experiment, or of a file, and keeps nothing before it is said', async () => {
        const other = { ...script, script: { pellix: 1, steps: [{ do: 'open', path: '/other' }] } };
        show({
            'GET /experiments/a/rehearsals': [head(7)],
            'GET /rehearsals/7': report(7),
            'GET /experiments': [EXPERIMENT, { ...EXPERIMENT, key: 'b', name: 'Test b' }],
            'GET /experiments/b/rehearsal-script': other,
        });
        await screen.findByText('open /a');
        press('Write the script…');
        const choice = await screen.findByRole('button', { name: /Take the steps of/, hidden: true });
        fireEvent.click(choice);
        fireEvent.click(await screen.findByRole('option', { name: 'Test b', hidden: true }));
        expect(await screen.findByDisplayValue('/other')).toBeTruthy();
        upload(new File(['{"pellix":1,"steps":[{"do":"open","path":"/kept"}]}'], 's.json'));
        expect(await screen.findByDisplayValue('/kept')).toBeTruthy();
        upload(new File(['no script'], 's.json'));
        expect(await screen.findByText(/s.json cannot be read as a script/)).toBeTruthy();
        expect(screen.getByDisplayValue('/kept')).toBeTruthy();
        expect(sentTo('PUT /experiments/a/rehearsal-script')).toHaveLength(0);
    });

    it('says what broke and what was mended since an earlier one', async () => {
        show(
            {
                'GET /experiments/a/rehearsals': [head(7), head(6)],
                'GET /rehearsals/7': report(7),
                'GET /rehearsals/7/since/6': {
                    before: head(6),
                    after: head(7),
                    broke: [finding('goal.missing', 'The goal is gone.')],
                    mended: [],
                    stayed: [],
                    pictures: [],
                },
            },
            'work',
            '/rehearsal?run=7&against=6',
        );
        expect(await screen.findByText(/1 new, 0 mended, 0 as before/)).toBeTruthy();
        expect(screen.getByText('The goal is gone.')).toBeTruthy();
    });
});
