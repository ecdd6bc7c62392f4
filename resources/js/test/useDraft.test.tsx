import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { createMemoryRouter, Link, RouterProvider } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Problem } from '../api/client';
import { TextField } from '../parts/Field';
import { FormFoot } from '../parts/FormFoot';
import { useDraft } from '../parts/useDraft';

interface Draft {
    name: string;
    share: string;
}

const save = { error: null as Error | null, isPending: false, isSuccess: false, reset: vi.fn() };
const sent = vi.fn();

function Form({ saving }: { saving: typeof save }) {
    const form = useDraft<Draft>({ name: '', share: '100' }, saving, (draft) => ({ name: draft.name, share: Number(draft.share) / 100 }));

    return (
        <form
            onSubmit={(event) => {
                event.preventDefault();
                if (form.check(form.draft.name ? {} : { name: 'A name is needed.' })) {
                    sent(form.draft);
                    form.kept();
                }
            }}
        >
            <TextField label="Name" value={form.draft.name} error={form.errors.name} onChange={(e) => form.set({ name: e.target.value })} />
            <TextField
                label="Share"
                value={form.draft.share}
                error={form.errors.share}
                onChange={(e) => form.set({ share: e.target.value })}
            />
            <FormFoot form={form} submit="Keep it" saved="Kept." />
            <Link to="/elsewhere">Elsewhere</Link>
        </form>
    );
}

function draw(saving = save) {
    const at = (of: typeof save) =>
        createMemoryRouter([
            { path: '/', element: <Form saving={of} /> },
            { path: '/elsewhere', element: <p>Gone</p> },
        ]);
    const view = render(<RouterProvider router={at(saving)} />);

    return view;
}

const field = (label: string): HTMLInputElement => screen.getByLabelText(label);
const type = (label: string, value: string): void => void fireEvent.change(field(label), { target: { value } });
const press = (name: string): void => void fireEvent.click(screen.getByRole('button', { name }));

beforeEach(() => {
    vi.useFakeTimers({ toFake: ['Date'] });
    sent.mockReset();
});
afterEach(() => {
    cleanup();
    vi.useRealTimers();
});

describe('a draft', () => {
    it('takes back what was changed, step by step: what is typed without a pause is one', () => {
        draw();
        expect((screen.getByRole('button', { name: 'Undo' }) as HTMLButtonElement).disabled).toBe(true);
        type('Name', 'F');
        type('Name', 'Fe');
        vi.setSystemTime(Date.now() + 2000);
        type('Name', 'Fee');
        type('Share', '50');
        press('Undo');
        expect([field('Name').value, field('Share').value]).toEqual(['Fee', '100']);
        press('Undo');
        expect(field('Name').value).toBe('Fe');
        press('Undo');
        expect(field('Name').value).toBe('');
        expect((screen.getByRole('button', { name: 'Undo' }) as HTMLButtonElement).disabled).toBe(true);
    });

    it('says at the field what is wrong, goes there, and forgets it when the field is another', () => {
        draw();
        press('Keep it');
        expect(sent).not.toHaveBeenCalled();
        expect(screen.getAllByRole('alert').map((one) => one.textContent)).toContain('One field needs another look: A name is needed.');
        expect(document.activeElement).toBe(field('Name'));
        act(() => field('Share').focus());
        type('Share', '50');
        expect(document.activeElement).toBe(field('Share'));
        expect(field('Name').getAttribute('aria-invalid')).toBe('true');
        type('Name', 'Fees');
        expect(field('Name').getAttribute('aria-invalid')).toBeNull();
        press('Keep it');
        expect(sent).toHaveBeenCalledWith({ name: 'Fees', share: '50' });
    });

    it('puts what the server says of a field beside it, and of the whole below it', () => {
        draw({ ...save, error: new Problem(422, 'Not so.', { share: ['A share is at most 1.'] }) });
        expect(field('Share').getAttribute('aria-invalid')).toBe('true');
        type('Name', 'Fees');
        expect(field('Share').getAttribute('aria-invalid')).toBe('true');
        type('Share', '40');
        expect(screen.queryByText(/at most 1/)).toBeNull();
        cleanup();
        draw({ ...save, error: new Problem(500, 'The server failed.') });
        expect(screen.getByText('The server failed.')).toBeTruthy();
    });

    it('asks before what was typed is lost, and only then', async () => {
        draw();
        await act(async () => void fireEvent.click(screen.getByText('Elsewhere')));
        expect(screen.getByText('Gone')).toBeTruthy();
        cleanup();

        draw();
        type('Name', 'Fees');
        const leaving = new Event('beforeunload', { cancelable: true });
        dispatchEvent(leaving);
        expect(leaving.defaultPrevented).toBe(true);
        await act(async () => void fireEvent.click(screen.getByText('Elsewhere')));
        expect(screen.getByText('Leave without keeping this?')).toBeTruthy();
        await act(async () => press('Leave it as it is'));
        expect(field('Name').value).toBe('Fees');
        press('Keep it');
        await act(async () => void fireEvent.click(screen.getByText('Elsewhere')));
        expect(screen.getByText('Gone')).toBeTruthy();
    });
});
