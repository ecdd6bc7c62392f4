import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useState } from 'react';
import type { RehearsalReport } from '../../api/rehearsals';
import { address } from '../../app/address';
import { Button } from '../../parts/Button';

type Place = [path: string, box: [x: number, y: number, width: number, height: number]];

/** What stood where when the newest picture of the page was taken; none where there is no picture yet. */
export function placesIn(report: RehearsalReport | undefined): { picture: string; width: number; height: number; places: Place[] } | null {
    for (const part of report?.parts ?? []) {
        for (const [screen, seen] of Object.entries(part.kind === 'look' ? part.figures : {})) {
            const places = (seen as { places?: Place[] } | null)?.places;
            const picture = `look-${part.variant}-${screen}.png`;
            const size = places?.find(([path]) => path === 'body' || path === 'main')?.[1];
            if (places && places.length > 0 && report?.files.some(({ name }) => name === picture)) {
                const right = Math.max(...places.map(([, [x, , width]]) => x + width));

                return {
                    picture,
                    width: screen === 'desktop' ? 1280 : screen === 'tablet' ? 820 : 390,
                    height: size ? size[3] : right,
                    places,
                };
            }
        }
    }

    return null;
}

interface Props {
    site: string;
    report: RehearsalReport | undefined;
    onPick: (selector: string) => void;
}

/** Chooses an element on the newest picture of the page: the smallest one that is pointed at, or one of a list. */
export function ElementPicker({ site, report, onPick }: Props) {
    const [open, setOpen] = useState(false);
    const [pointed, setPointed] = useState<Place | null>(null);
    const known = placesIn(report);
    if (known === null || !report) {
        return <p className="text-sm text-soft">After a rehearsal, elements can be chosen on its picture.</p>;
    }
    const at = (x: number, y: number): Place | null =>
        known.places
            .filter(([, [left, top, width, height]]) => x >= left && y >= top && x <= left + width && y <= top + height)
            .sort(([, a], [, b]) => a[2] * a[3] - b[2] * b[3])[0] ?? null;
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
                        <div className="max-h-[70vh] overflow-auto">
                            <div className="relative w-fit">
                                <img
                                    src={address.rehearsalFile(site, report.rehearsal, known.picture)}
                                    alt="The page as the browser saw it"
                                    className="block max-w-none cursor-crosshair border border-line"
                                    width={known.width}
                                    onMouseMove={(event) => setPointed(at(event.nativeEvent.offsetX, event.nativeEvent.offsetY))}
                                    onClick={(event) => choose(at(event.nativeEvent.offsetX, event.nativeEvent.offsetY))}
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
                                {known.places.map((place, i) => (
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
