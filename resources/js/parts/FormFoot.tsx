import type { ReactNode } from 'react';
import { Button } from './Button';
import { FormProblem } from './FormProblem';
import { Question } from './Question';
import type { DraftForm } from './useDraft';

interface Props<T> {
    form: DraftForm<T>;
    submit: string;
    onCancel?: () => void;
    /** What is said when it was kept and the form stays. */
    saved?: string;
    /** Whether it stays at the end of a short form, instead of at the edge of the window. */
    inFlow?: boolean;
    /** Whether the form stands on a leaf, not on the ground. */
    onLeaf?: boolean;
    children?: ReactNode;
}

/** The end of a form: keep it, take a change back, leave; and what is still wrong. */
export function FormFoot<T>({ form, submit, onCancel, saved, inFlow = false, onLeaf = false, children }: Props<T>) {
    const wrong = Object.values(form.errors);

    return (
        <div
            className={`flex flex-wrap items-center gap-4 border-t border-line py-3 ${inFlow ? '' : 'sticky bottom-0'} ${onLeaf ? 'bg-leaf' : 'bg-ground'}`}
        >
            <Button type="submit" look="main" disabled={form.isSaving}>
                {submit}
            </Button>
            <Button onClick={form.undo} disabled={!form.canUndo}>
                Undo
            </Button>
            {onCancel && <Button onClick={onCancel}>Cancel</Button>}
            {children}
            <span role="status">{form.isSaved && !form.isTouched ? saved : ''}</span>
            {wrong.length > 0 && (
                <span role="alert" className="min-w-0 text-broken">
                    {wrong.length === 1 ? 'One field needs another look' : `${wrong.length} fields need another look`}: {wrong[0]}
                </span>
            )}
            <FormProblem problem={form.problem} />
            <Question
                open={form.blocker.state === 'blocked'}
                title="Leave without keeping this?"
                yes="Leave and lose it"
                danger
                onYes={() => form.blocker.proceed?.()}
                onNo={() => form.blocker.reset?.()}
            >
                <p>What you typed here is not kept yet.</p>
            </Question>
        </div>
    );
}
