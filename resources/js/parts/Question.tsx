import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react';
import type { ReactNode } from 'react';
import { Button } from './Button';

interface Props {
    open: boolean;
    title: string;
    yes: string;
    danger?: boolean;
    busy?: boolean;
    error?: string;
    onYes: () => void;
    onNo: () => void;
    children: ReactNode;
}

/** Asks before something happens that visitors notice or that cannot be taken back. */
export function Question({ open, title, yes, danger, busy, error, onYes, onNo, children }: Props) {
    return (
        <Dialog open={open} onClose={onNo} className="relative z-30">
            <DialogBackdrop className="fixed inset-0 bg-ink/40" />
            <div className="fixed inset-0 grid place-items-center p-4">
                <DialogPanel className="w-full max-w-lg border border-ink bg-leaf p-5">
                    <DialogTitle className="mb-2 text-lg font-semibold">{title}</DialogTitle>
                    <div className="space-y-2">{children}</div>
                    {error && (
                        <p role="alert" className="mt-3 text-broken">
                            {error}
                        </p>
                    )}
                    <div className="mt-5 flex flex-row-reverse justify-start gap-3">
                        <Button look={danger ? 'danger' : 'main'} onClick={onYes} disabled={busy}>
                            {yes}
                        </Button>
                        <Button onClick={onNo}>Leave it as it is</Button>
                    </div>
                </DialogPanel>
            </div>
        </Dialog>
    );
}
