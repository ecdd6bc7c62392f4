import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import type { RehearsalReport } from '../api/rehearsals';
import { address } from '../app/address';
import { Button } from '../parts/Button';

interface Props {
    site: string;
    report: RehearsalReport;
    /** Name of the picture; none while nothing is open. */
    name: string | null;
    onClose: () => void;
}

/** A picture of a rehearsal in its own size. */
export function Enlarged({ site, report, name, onClose }: Props) {
    return (
        <Dialog open={name !== null} onClose={onClose} className="relative z-30">
            <div className="fixed inset-0 overflow-auto bg-ink/60 p-6">
                <DialogPanel className="mx-auto w-fit max-w-full border border-line bg-leaf p-4">
                    <div className="mb-3 flex items-center justify-between gap-6">
                        <DialogTitle className="font-semibold">{name?.replace(/\.(?:png|jpg)$/, '').replaceAll('-', ' ')}</DialogTitle>
                        <Button onClick={onClose}>Close</Button>
                    </div>
                    {name !== null && (
                        <img
                            src={address.rehearsalFile(site, report.rehearsal, name)}
                            alt={name}
                            className="max-w-full border border-line"
                        />
                    )}
                </DialogPanel>
            </div>
        </Dialog>
    );
}
