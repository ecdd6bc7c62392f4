import { useEffect, useRef, useState, type FormEvent } from 'react';
import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react';
import { useConfirm } from '../api/account';
import { Problem } from '../api/client';
import { onConfirm, type Proof } from '../api/confirming';
import { Button } from '../parts/Button';
import { TextField } from '../parts/Field';
import { FormProblem } from '../parts/FormProblem';

interface Asked {
    proof: Proof;
    message: string;
    done: (isProved: boolean) => void;
}

/** Asks who somebody is before what others rely on is changed; what was to be done is done then. */
export function Confirm() {
    const [asked, setAsked] = useState<Asked | null>(null);
    const [typed, setTyped] = useState('');
    const confirm = useConfirm();
    const problem = confirm.error instanceof Problem ? confirm.error : null;
    const pending = useRef<Asked | null>(null);
    useEffect(() => {
        onConfirm(
            (proof, message) =>
                new Promise((done) => {
                    // Of two that ask at once the first is let be: one dialog, one question.
                    pending.current?.done(false);
                    pending.current = { proof, message, done };
                    setTyped('');
                    setAsked(pending.current);
                }),
        );

        return () => onConfirm(null);
    }, []);
    const close = (isProved: boolean): void => {
        pending.current = null;
        asked?.done(isProved);
        confirm.reset();
        setAsked(null);
    };
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        event.stopPropagation();
        confirm.mutate(asked?.proof === 'code' ? { code: typed } : { password: typed }, { onSuccess: () => close(true) });
    };
    const isCode = asked?.proof === 'code';

    return (
        <Dialog open={asked !== null} onClose={() => close(false)} className="relative z-50">
            <DialogBackdrop className="fixed inset-0 bg-ink/40" />
            <div className="fixed inset-0 grid place-items-center p-4">
                <DialogPanel className="w-full max-w-md border border-ink bg-leaf p-5">
                    <DialogTitle className="mb-2 text-lg font-semibold">Is it you?</DialogTitle>
                    <form onSubmit={submit} noValidate className="space-y-3">
                        <p>{asked?.message}</p>
                        <TextField
                            label={isCode ? 'One-time code' : 'Password'}
                            type={isCode ? 'text' : 'password'}
                            name="confirm"
                            autoComplete={isCode ? 'one-time-code' : 'current-password'}
                            autoFocus
                            value={typed}
                            error={problem?.errors.password?.[0] ?? problem?.errors.code?.[0]}
                            onChange={(event) => setTyped(event.target.value)}
                        />
                        <FormProblem problem={problem} />
                        <div className="flex flex-row-reverse justify-start gap-3 pt-2">
                            <Button type="submit" look="main" disabled={confirm.isPending}>
                                Go on
                            </Button>
                            <Button onClick={() => close(false)}>Leave it as it is</Button>
                        </div>
                    </form>
                </DialogPanel>
            </div>
        </Dialog>
    );
}
