import { Dialog, DialogBackdrop, DialogPanel, DialogTitle, Field, Label, Switch } from '@headlessui/react';
import { Button } from '../parts/Button';
import { useSingleKeys } from './keys';

const KEYS: [string, string][] = [
    ['Ctrl K', 'Find anything by a part of its name'],
    ['g b', 'Go to the Bench'],
    ['g w', 'Go to Wiring'],
    ['g m', 'Go to Measures'],
    ['g a', 'Go to Audits'],
    ['g l', 'Go to the Logbook'],
    ['p', 'Pause the live feed, and go on'],
    ['j  k', 'Next and previous row'],
    ['Enter', 'Open the row'],
    ['[  ]', 'Previous and next link of the chain'],
    ['?', 'This list'],
];

export function Shortcuts({ open, onClose }: { open: boolean; onClose: () => void }) {
    const [on, setOn] = useSingleKeys();

    return (
        <Dialog open={open} onClose={onClose} className="relative z-30">
            <DialogBackdrop className="fixed inset-0 bg-ink/40" />
            <div className="fixed inset-0 grid place-items-center p-4">
                <DialogPanel className="w-full max-w-md border border-ink bg-leaf p-5">
                    <DialogTitle className="mb-3 text-lg font-semibold">Keyboard shortcuts</DialogTitle>
                    <dl className="grid grid-cols-[6rem_1fr] gap-y-1">
                        {KEYS.map(([keys, what]) => (
                            <div key={keys} className="contents">
                                <dt className="font-mono text-sm">{keys}</dt>
                                <dd>{what}</dd>
                            </div>
                        ))}
                    </dl>
                    <Field className="mt-4 flex items-center gap-3 border-t border-line pt-4">
                        <Switch
                            checked={on}
                            onChange={setOn}
                            className="h-5 w-9 shrink-0 border border-ink bg-leaf p-0.5 data-checked:bg-accent"
                        >
                            <span className={`block h-full w-3.5 bg-ink ${on ? 'translate-x-4 bg-white' : ''}`} />
                        </Switch>
                        <Label>Single keys work (all but Ctrl K)</Label>
                    </Field>
                    <div className="mt-4 text-right">
                        <Button onClick={onClose}>Close</Button>
                    </div>
                </DialogPanel>
            </div>
        </Dialog>
    );
}
