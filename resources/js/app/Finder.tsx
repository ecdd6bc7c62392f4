import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions, Dialog, DialogBackdrop, DialogPanel } from '@headlessui/react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { useEvents, useGoals } from '../api/measures';
import { useExperiments, usePeople, useSession } from '../api/queries';
import { useFoundPages, useWiring } from '../api/wiring';
import { useSiteKey } from './address';
import { findPlaces, placesOf, type Place } from './places';

/** More would be scrolled through rather than read. */
const MOST = 60;

/** Goes anywhere by typing a part of its name. */
export function Finder({ open, onClose }: { open: boolean; onClose: () => void }) {
    const site = useSiteKey();
    const navigate = useNavigate();
    const [words, setWords] = useState('');

    return (
        <Dialog
            open={open}
            onClose={() => {
                setWords('');
                onClose();
            }}
            className="relative z-30"
        >
            <DialogBackdrop className="fixed inset-0 bg-ink/40" />
            <div className="fixed inset-0 p-4 pt-[12vh]">
                <DialogPanel className="mx-auto w-full max-w-xl border border-ink bg-leaf">
                    <Combobox<Place>
                        onChange={(place) => {
                            if (place) {
                                setWords('');
                                onClose();
                                navigate(place.to);
                            }
                        }}
                    >
                        <ComboboxInput
                            autoFocus
                            aria-label="Find anything by a part of its name"
                            placeholder="A view, a command, an experiment, goal, tag, event, person or page"
                            className="w-full border-b border-line px-4 py-3 focus:outline-none"
                            onChange={(event) => setWords(event.target.value)}
                        />
                        <Found site={site} words={words} />
                    </Combobox>
                </DialogPanel>
            </div>
        </Dialog>
    );
}

/** What was found; it is asked for when somebody looks, not before. */
function Found({ site, words }: { site: string; words: string }) {
    const session = useSession();
    const experiments = useExperiments(site);
    const goals = useGoals(site);
    const wiring = useWiring(site);
    const events = useEvents(site);
    const people = usePeople(site);
    const pages = useFoundPages(site, words.trim());
    const found = findPlaces(
        placesOf(site, {
            sites: session.data?.sites,
            experiments: experiments.data,
            goals: goals.data?.map(({ goal }) => goal),
            tags: wiring.data?.tags,
            events: events.data,
            people: people.data,
            pages: pages.data?.pages,
        }),
        words,
    ).slice(0, MOST);

    return (
        <ComboboxOptions static className="max-h-80 overflow-auto py-1">
            {found.map((place) => (
                <ComboboxOption
                    key={place.detail + place.to}
                    value={place}
                    className="flex cursor-pointer justify-between gap-4 px-4 py-1.5 data-focus:bg-accent data-focus:text-white"
                >
                    <span className="min-w-0 break-words">{place.label}</span>{' '}
                    <span className="font-mono text-xs whitespace-nowrap">{place.detail}</span>
                </ComboboxOption>
            ))}
            {found.length === 0 && <p className="px-4 py-2 text-soft">Nothing here has “{words}” in its name.</p>}
        </ComboboxOptions>
    );
}
