import { QueryClient, QueryClientProvider, type UseQueryResult } from '@tanstack/react-query';
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { MemoryRouter, Route, Routes } from 'react-router';
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest';
import { Problem, type LinkState } from '../api/client';
import { Choice } from '../parts/Choice';
import { Counting } from '../parts/Counting';
import { FormProblem } from '../parts/FormProblem';
import { Moment } from '../parts/Moment';
import { Question } from '../parts/Question';
import { RuleBuilder } from '../parts/RuleBuilder';
import { ADDRESS_FACTS, VISITOR_FACTS, type RuleJson } from '../parts/ruleRows';
import { StateMark } from '../parts/StateMark';
import { Waiting } from '../parts/Waiting';
import { count } from '../parts/figures';
import { NoResizeObserver } from './observer';

beforeAll(() => void vi.stubGlobal('ResizeObserver', NoResizeObserver));
afterAll(() => void vi.unstubAllGlobals());
afterEach(cleanup);

const press = (name: string | RegExp): void => void fireEvent.click(screen.getByRole('button', { name }));

describe('a rule that is being written', () => {
    function Builder({ begin, changed, errors }: { begin: RuleJson; changed: (rule: RuleJson) => void; errors?: Record<string, string> }) {
        const [rule, setRule] = useState(begin);

        return (
            <RuleBuilder
                label="Pages"
                rule={rule}
                facts={ADDRESS_FACTS}
                hosts={['larkhollow.localhost']}
                errors={errors}
                path="pages"
                onChange={(next) => {
                    setRule(next);
                    changed(next);
                }}
            />
        );
    }

    it('takes the path out of a pasted address, and says so', () => {
        const changed = vi.fn();
        render(<Builder begin={{ fact: 'url.path', op: 'is', value: '' }} changed={changed} />);
        const value = screen.getByLabelText('Condition 1: value');
        fireEvent.change(value, { target: { value: 'https://larkhollow.localhost/join?from=mail' } });
        fireEvent.blur(value);
        expect(changed).toHaveBeenLastCalledWith({ fact: 'url.path', op: 'is', value: '/join' });
    });

    it('offers what a fact can be, and types it as it is meant', () => {
        const changed = vi.fn();
        const begin = { fact: 'device', op: 'is', value: 'mobile' };
        function Audience() {
            const [rule, setRule] = useState<RuleJson>(begin);

            return (
                <RuleBuilder
                    label="Audience"
                    rule={rule}
                    facts={VISITOR_FACTS}
                    hosts={[]}
                    onChange={(next) => {
                        setRule(next);
                        changed(next);
                    }}
                />
            );
        }
        render(<Audience />);
        press('Condition 1: value: mobile');
        fireEvent.click(screen.getByRole('option', { name: 'tablet' }));
        expect(changed).toHaveBeenLastCalledWith({ ...begin, value: 'tablet' });
        press('Condition 1: what: device');
        fireEvent.click(screen.getByRole('option', { name: 'been here before' }));
        expect(changed).toHaveBeenLastCalledWith({ fact: 'visitor.returning', op: 'is', value: true });
        press('Condition 1: value: yes');
        fireEvent.click(screen.getByRole('option', { name: 'no' }));
        expect(changed).toHaveBeenLastCalledWith({ fact: 'visitor.returning', op: 'is', value: false });
    });

    it('puts groups into groups, joins them, and takes them out again', () => {
        const changed = vi.fn();
        const join = { fact: 'url.path', op: 'is', value: '/join' };
        const empty = { fact: ADDRESS_FACTS[0], op: 'is', value: '' };
        render(<Builder begin={join} changed={changed} />);
        press('Add a group');
        expect(changed).toHaveBeenLastCalledWith({ all: [join, { any: [empty] }] });
        press('Add a condition to group 2');
        fireEvent.change(screen.getByLabelText('Condition 2.2: value'), { target: { value: '/loan' } });
        press('Add a group to group 2');
        expect(changed).toHaveBeenLastCalledWith({ all: [join, { any: [empty, { ...empty, value: '/loan' }, { all: [empty] }] }] });
        press('How group 2.3 is joined: All of these hold');
        fireEvent.click(screen.getByRole('option', { name: 'None of these holds' }));
        press('Remove condition 2.1');
        expect(changed).toHaveBeenLastCalledWith({ all: [join, { any: [{ ...empty, value: '/loan' }, { not: { any: [empty] } }] }] });
        press('Remove group 2');
        expect(changed).toHaveBeenLastCalledWith(join);
    });

    it('joins conditions, and leaves one out again', () => {
        const changed = vi.fn();
        render(<Builder begin={{ fact: 'url.path', op: 'is', value: '/join' }} changed={changed} />);
        press('Add a condition');
        fireEvent.change(screen.getByLabelText('Condition 2: value'), { target: { value: '/loan' } });
        expect(changed).toHaveBeenLastCalledWith({
            all: [
                { fact: 'url.path', op: 'is', value: '/join' },
                { fact: ADDRESS_FACTS[0], op: 'is', value: '/loan' },
            ],
        });
        press('Remove condition 1');
        expect(changed).toHaveBeenLastCalledWith({ fact: ADDRESS_FACTS[0], op: 'is', value: '/loan' });
    });

    it('shows what the server says of it, wherever in it that lies', () => {
        render(
            <Builder begin={{ fact: 'url.path', op: 'is', value: '' }} changed={vi.fn()} errors={{ 'pages.value': 'A path is needed.' }} />,
        );
        expect(screen.getByRole('alert').textContent).toBe('A path is needed.');
    });

    it('edits what is nested deeper as JSON, and keeps what was good while it is none', () => {
        const nested: RuleJson = {
            any: [{ not: { fact: 'url.path', op: 'is', value: '/a' } }, { all: [{ fact: 'url.path', op: 'is', value: '/b' }] }],
        };
        const changed = vi.fn();
        render(<Builder begin={nested} changed={changed} />);
        const text = screen.getByLabelText<HTMLTextAreaElement>('Pages (JSON)');
        expect(JSON.parse(text.value)).toEqual(nested);
        fireEvent.change(text, { target: { value: '{"any": [' } });
        expect(changed).not.toHaveBeenCalled();
        expect(screen.getByRole('alert').textContent).toBe('This is no JSON yet.');
    });
});

describe('a choice', () => {
    it('tells what it is for together with what is chosen, and hands on what is picked', async () => {
        const picked = vi.fn();
        const options = [
            { value: 'is', label: 'is' },
            { value: 'starts', label: 'begins with' },
        ];
        render(<Choice label="How it compares" value="is" options={options} onChange={picked} />);
        const button = screen.getByRole('button', { name: 'How it compares: is' });
        await act(async () => void fireEvent.keyDown(button, { key: 'ArrowDown' }));
        await act(async () => void fireEvent.keyDown(screen.getByRole('listbox'), { key: 'ArrowDown' }));
        await act(async () => void fireEvent.keyDown(screen.getByRole('listbox'), { key: 'Enter' }));
        expect(picked).toHaveBeenCalledWith('starts');
    });
});

describe('a question', () => {
    it('does nothing but what was answered, and says when that failed', async () => {
        const yes = vi.fn();
        const no = vi.fn();
        render(
            <Question open title="Delete it?" yes="Delete it" danger error="It is in use." onYes={yes} onNo={no}>
                <p>Its hits go with it.</p>
            </Question>,
        );
        expect(screen.getByRole('dialog').textContent).toContain('Its hits go with it.');
        expect(screen.getByRole('alert').textContent).toBe('It is in use.');
        press('Leave it as it is');
        expect([yes.mock.calls.length, no.mock.calls.length]).toEqual([0, 1]);
        press('Delete it');
        expect(yes).toHaveBeenCalledOnce();
        await act(async () => void fireEvent.keyDown(screen.getByRole('dialog'), { key: 'Escape' }));
        expect(no).toHaveBeenCalledTimes(2);
    });
});

describe('what is shown while something is read', () => {
    const query = (of: object): UseQueryResult<string> =>
        ({ data: undefined, isError: false, error: null, refetch: vi.fn(), ...of }) as never;

    it('says that it is coming, then shows it, and offers another try when it failed', () => {
        const { rerender } = render(<Waiting query={query({})}>{(data) => data}</Waiting>);
        expect(document.body.textContent).toBe('Reading…');
        rerender(<Waiting query={query({ data: 'forty goals' })}>{(data) => data}</Waiting>);
        expect(document.body.textContent).toBe('forty goals');

        const refetch = vi.fn();
        rerender(<Waiting query={query({ isError: true, error: new Error('No answer.'), refetch })}>{(data) => data}</Waiting>);
        expect(screen.getByRole('alert').textContent).toContain('No answer.');
        press('Try again');
        expect(refetch).toHaveBeenCalledOnce();

        // What was read before stays, beside the trouble.
        rerender(<Waiting query={query({ data: 'forty goals', isError: true, error: new Error('No answer.') })}>{(data) => data}</Waiting>);
        expect(document.body.textContent).toContain('forty goals');
        expect(screen.getByRole('alert').textContent).toContain('No answer.');
    });

    it('says of figures that are counted anew that they are the old ones, and how far it is', () => {
        const { container, rerender } = render(<Counting counted={{ state: 'current', done: 9, total: 9 }} />);
        expect(container.textContent).toBe('');
        rerender(<Counting counted={{ state: 'building', done: 1200, total: 5000 }} />);
        expect(screen.getByRole('status').textContent).toContain(`${count(1200)} of ${count(5000)} visitors`);
        expect(screen.getByRole<HTMLProgressElement>('progressbar').value).toBe(1200);
        rerender(<Counting counted={{ state: 'building', done: 0, total: 0, error: 'It cannot be counted: pages: …' }} />);
        expect(screen.getByRole('alert').textContent).toBe('It cannot be counted: pages: …');
    });
});

describe('small parts', () => {
    it('tell a state by shape as well as by colour', () => {
        const states: LinkState[] = ['holds', 'doubt', 'broken', 'unseen', 'stale'];
        const shapes = states.map((state) => {
            const { container } = render(<StateMark state={state} />);
            expect(container.querySelector('svg')?.getAttribute('aria-label')).toBe(state);

            return container.querySelector('svg')?.innerHTML;
        });
        expect(new Set(shapes).size).toBe(5);
    });

    it('say what went wrong with a whole form only where no field is to blame', () => {
        const { container, rerender } = render(<FormProblem problem={new Problem(422, 'Not so.', { name: ['A name is needed.'] })} />);
        expect(container.textContent).toBe('');
        rerender(<FormProblem problem={new Problem(409, 'Somebody else has changed it.')} />);
        expect(screen.getByRole('alert').textContent).toBe('Somebody else has changed it.');
    });

    it('tell a moment in the time zone of the site', () => {
        const client = new QueryClient({ defaultOptions: { queries: { staleTime: Infinity, retry: false } } });
        client.setQueryData(['session'], { person: {}, sites: [{ key: 'plx_a', time_zone: 'Asia/Kolkata' }] });
        client.setQueryData(['site', 'plx_a'], { key: 'plx_a', time_zone: 'Asia/Kolkata' });
        const draw = (at: string | null) => (
            <QueryClientProvider client={client}>
                <MemoryRouter initialEntries={['/sites/plx_a']}>
                    <Routes>
                        <Route path="/sites/:site" element={<Moment at={at} />} />
                    </Routes>
                </MemoryRouter>
            </QueryClientProvider>
        );
        const { container, rerender } = render(draw('2020-03-01T20:00:00Z'));
        expect(container.textContent).toBe('2 Mar 2020, 01:30');
        expect(container.querySelector('time')?.title).toBe('Asia/Kolkata; 2020-03-01T20:00:00.000Z');
        rerender(draw(null));
        expect(container.textContent).toBe('never');
    });
});
