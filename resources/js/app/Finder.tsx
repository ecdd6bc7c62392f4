import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions, Dialog, DialogBackdrop, DialogPanel } from '@headlessui/react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { useExperiments } from '../api/queries';
import { address, useSiteKey } from './address';

interface Place {
    label: string;
    detail: string;
    to: string;
}

/** Goes anywhere by typing a part of its name. */
export function Finder({ open, onClose }: { open: boolean; onClose: () => void }) {
    const site = useSiteKey();
    const navigate = useNavigate();
    const experiments = useExperiments(site);
    const [words, setWords] = useState('');

    const places: Place[] = [
        { label: 'Bench', detail: 'section', to: address.bench(site) },
        { label: 'Wiring', detail: 'section', to: address.wiring(site) },
        { label: 'Measures', detail: 'section', to: address.goals(site) },
        { label: 'Live feed', detail: 'measures', to: address.feed(site) },
        { label: 'Tracking plan', detail: 'measures', to: address.events(site) },
        { label: 'What is captured', detail: 'measures', to: address.capture(site) },
        { label: 'Define a goal', detail: 'command', to: address.goals(site, 'new') },
        { label: 'Coverage', detail: 'wiring', to: address.coverage(site) },
        { label: 'Tags', detail: 'wiring', to: address.tags(site) },
        { label: 'What must stand where', detail: 'wiring', to: address.groups(site) },
        { label: 'Hand-off briefs', detail: 'wiring', to: address.briefs(site) },
        { label: 'Make a tag', detail: 'command', to: address.tags(site, 'new') },
        { label: 'Inspect a page', detail: 'command', to: address.inspect(site) },
        { label: 'Make an experiment', detail: 'command', to: address.newExperiment(site) },
        ...(experiments.data ?? []).map((one) => ({ label: one.name, detail: one.key, to: address.experiment(site, one.key) })),
    ];
    const wanted = words.toLowerCase().split(/\s+/);
    const found = places.filter((place) => wanted.every((word) => `${place.label} ${place.detail}`.toLowerCase().includes(word)));
    const close = (): void => {
        setWords('');
        onClose();
    };

    return (
        <Dialog open={open} onClose={close} className="relative z-30">
            <DialogBackdrop className="fixed inset-0 bg-ink/40" />
            <div className="fixed inset-0 p-4 pt-[12vh]">
                <DialogPanel className="mx-auto w-full max-w-xl border border-ink bg-leaf">
                    <Combobox<Place>
                        onChange={(place) => {
                            if (place) {
                                close();
                                navigate(place.to);
                            }
                        }}
                    >
                        <ComboboxInput
                            autoFocus
                            aria-label="Find an experiment, a section or a command"
                            placeholder="An experiment, a section or a command"
                            className="w-full border-b border-line px-4 py-3 focus:outline-none"
                            onChange={(event) => setWords(event.target.value)}
                        />
                        <ComboboxOptions static className="max-h-80 overflow-auto py-1">
                            {found.map((place) => (
                                <ComboboxOption
                                    key={place.to}
                                    value={place}
                                    className="flex cursor-pointer justify-between gap-4 px-4 py-1.5 data-focus:bg-accent data-focus:text-white"
                                >
                                    {place.label} <span className="font-mono text-xs">{place.detail}</span>
                                </ComboboxOption>
                            ))}
                            {found.length === 0 && <p className="px-4 py-2 text-soft">Nothing here has “{words}” in its name.</p>}
                        </ComboboxOptions>
                    </Combobox>
                </DialogPanel>
            </div>
        </Dialog>
    );
}
