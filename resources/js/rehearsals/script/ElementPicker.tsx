import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useState } from 'react';
import type { RehearsalReport } from '../../api/rehearsals';
import { address } from '../../app/address';
import { Button } from '../../parts/Button';
import { Choice } from '../../parts/Choice';
import { elementAt, pictureFor, picturesIn, type Place } from './pictures';

interface Props {
    site: string;
    report: RehearsalReport | undefined;
    /** Number of the step that the element is for. */
    step: number;
    onPick: (selector: string) => void;
}

/** Chooses an element on the newest picture of the page: the smallest one that is pointed at, or one of a list. */
export function ElementPicker({ site, report, step, onPick }: Props) {
    const pictures = picturesIn(report);
    const [open, setOpen] = useState(false);
    const [chosen, setChosen] = useState<number | null>(null);
    const [pointed, setPointed] = useState<Place | null>(null);
    const at = chosen ?? pictureFor(pictures, step);
    const shown = pictures[at];
    if (!shown || !report) {
        return <p className="text-sm text-soft">After a rehearsal, elements can be chosen on its picture.</p>;
    }
    const choose = (place: Place | null): void => {
        if (place) {
            onPick(place[0]);
            setOpen(false);
        }
    };

    return (
        <>
            <Button className="text-sm" onClick={() => setOpen(true)}>
                Choose on the picture…
            </Button>
            <Dialog open={open} onClose={() => setOpen(false)} className="relative z-30">
                <div className="fixed inset-0 overflow-auto bg-ink/60 p-6">
                    <DialogPanel className="mx-auto w-fit max-w-full border border-line bg-leaf p-4">
                        <div className="mb-2 flex items-center justify-between gap-6">
                            <DialogTitle className="font-semibold">{pointed ? pointed[0] : 'Choose an element of the page'}</DialogTitle>
                            <Button onClick={() => setOpen(false)}>Close</Button>
                        </div>
                        {pictures.length > 1 && (
                            <div className="mb-2">
                                <Choice
                                    label="Page"
                                    value={String(at)}
                                    options={pictures.map(({ label }, i) => ({ value: String(i), label }))}
                                    onChange={(next) => {
                                        setChosen(Number(next));
                                        setPointed(null);
                                    }}
                                />
                            </div>
                        )}
                        <div className="max-h-[65vh] overflow-auto">
                            <div className="relative w-fit">
                                <img
                                    src={address.rehearsalFile(site, report.rehearsal, shown.picture)}
                                    alt="The page as the browser saw it"
                                    className="block max-w-none cursor-crosshair border border-line"
                                    width={shown.width}
                                    onMouseMove={({ nativeEvent: { offsetX, offsetY } }) =>
                                        setPointed(elementAt(shown.places, offsetX, offsetY))
                                    }
                                    onClick={({ nativeEvent: { offsetX, offsetY } }) => choose(elementAt(shown.places, offsetX, offsetY))}
                                />
                                {pointed && (
                                    <span
                                        aria-hidden="true"
                                        className="pointer-events-none absolute border-2 border-accent"
                                        style={{ left: pointed[1][0], top: pointed[1][1], width: pointed[1][2], height: pointed[1][3] }}
                                    />
                                )}
                            </div>
                        </div>
                        <details className="mt-2">
                            <summary>The same as a list</summary>
                            <ul>
                                {shown.places.map((place, i) => (
                                    <li key={i}>
                                        <button
                                            type="button"
                                            className="min-h-6 font-mono text-sm text-accent underline underline-offset-4"
                                            onClick={() => choose(place)}
                                        >
                                            {place[0]}
                                        </button>
                                    </li>
                                ))}
                            </ul>
                        </details>
                    </DialogPanel>
                </div>
            </Dialog>
        </>
    );
}
