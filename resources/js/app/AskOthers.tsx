import { useEffect, useState, type FormEvent } from 'react';
import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react';
import { onRefused, type Refused } from '../api/asking';
import { Problem } from '../api/client';
import { useAsk } from '../api/requests';
import { Button } from '../parts/Button';
import { TextArea } from '../parts/Field';
import { FormProblem } from '../parts/FormProblem';
import { listed } from '../parts/words';
import { address } from './address';

/** Offers to ask those who may, where somebody has prepared what they may not do themselves. */
export function AskOthers() {
    const [refused, setRefused] = useState<Refused | null>(null);
    const [note, setNote] = useState('');
    const ask = useAsk();
    const problem = ask.error instanceof Problem ? ask.error : null;
    useEffect(() => {
        onRefused((what) => {
            setNote('');
            setRefused(what);
        });

        return () => onRefused(null);
    }, []);
    const close = (): void => {
        setRefused(null);
        ask.reset();
    };
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        event.stopPropagation();
        if (refused) {
            ask.mutate({ ...refused, note });
        }
    };

    return (
        <Dialog open={refused !== null} onClose={close} className="relative z-50">
            <DialogBackdrop className="fixed inset-0 bg-ink/40" />
            <div className="fixed inset-0 grid place-items-center p-4">
                <DialogPanel className="w-full max-w-lg border border-ink bg-leaf p-5">
                    <DialogTitle className="mb-2 text-lg font-semibold">{ask.isSuccess ? 'Asked' : 'Ask for it?'}</DialogTitle>
                    {ask.isSuccess && refused ? (
                        <div className="space-y-4">
                            <p role="status">
                                {listed(refused.who, 'and')} can see it under{' '}
                                <a href={address.requests(refused.site)} className="text-accent underline underline-offset-4">
                                    Requests
                                </a>
                                , and were told by mail. You are told what becomes of it.
                            </p>
                            <div className="flex justify-end">
                                <Button look="main" onClick={close}>
                                    Go on
                                </Button>
                            </div>
                        </div>
                    ) : (
                        <form onSubmit={submit} noValidate className="space-y-3">
                            <p>
                                {refused?.message}{' '}
                                {refused && refused.who.length > 0
                                    ? `${listed(refused.who, 'or')} may do it.`
                                    : 'Nobody else may at the moment; an owner can give somebody the right.'}
                            </p>
                            <TextArea
                                label="What they should know"
                                value={note}
                                error={problem?.errors.note?.[0]}
                                maxLength={500}
                                onChange={(event) => setNote(event.target.value)}
                            />
                            <FormProblem problem={problem} />
                            <div className="flex flex-row-reverse justify-start gap-3 pt-2">
                                <Button type="submit" look="main" disabled={ask.isPending}>
                                    Ask them
                                </Button>
                                <Button onClick={close}>Leave it as it is</Button>
                            </div>
                        </form>
                    )}
                </DialogPanel>
            </div>
        </Dialog>
    );
}
