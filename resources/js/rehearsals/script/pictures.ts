import type { RehearsalReport } from '../../api/rehearsals';

export type Box = [x: number, y: number, width: number, height: number];
export type Place = [path: string, box: Box];

/** A page as the newest rehearsal saw it, with what stood where. */
export interface Pictured {
    /** Number of the step that led there. */
    step: number;
    label: string;
    picture: string;
    width: number;
    places: Place[];
}

interface Walked extends Pictured {
    page: string;
}

const WIDTHS: Record<string, number> = { desktop: 1280, tablet: 820, mobile: 390 };

/** The pages of a rehearsal's way that there are pictures of: the experiment's own on each screen, and those that the steps led to. */
export function picturesIn(report: RehearsalReport | undefined): Pictured[] {
    const kept = new Set(report?.files.map(({ name }) => name));
    const found: Pictured[] = [];
    for (const part of report?.parts ?? []) {
        if (part.kind === 'look') {
            for (const [screen, seen] of Object.entries(part.figures)) {
                const places = (seen as { places?: Place[] } | null)?.places;
                found.push({
                    step: 1,
                    label: `The page in ${part.variant}, ${WIDTHS[screen]} pixels wide`,
                    picture: `look-${part.variant}-${screen}.png`,
                    width: WIDTHS[screen] ?? 1280,
                    places: places ?? [],
                });
            }
        }
        const pages = part.kind === 'walk' ? (part.figures.pages as Omit<Walked, 'label'>[] | undefined) : undefined;
        for (const { step, page, picture, width, places } of pages ?? []) {
            found.push({ step, label: `${page} after step ${step} in ${part.variant}`, picture, width, places });
        }
    }

    return found.filter(({ picture, places }) => kept.has(picture) && places.length > 0);
}

/** The page that a step is done on, as far as is known: where the steps before it have led. */
export function pictureFor(pictures: Pictured[], step: number): number {
    let best = 0;
    pictures.forEach((one, i) => {
        if (one.step < step && one.step > (pictures[best]?.step ?? 0)) {
            best = i;
        }
    });

    return best;
}

/** The smallest element at a point. */
export function elementAt(places: Place[], x: number, y: number): Place | null {
    return (
        places
            .filter(([, [left, top, width, height]]) => x >= left && y >= top && x <= left + width && y <= top + height)
            .sort(([, a], [, b]) => a[2] * a[3] - b[2] * b[3])[0] ?? null
    );
}
