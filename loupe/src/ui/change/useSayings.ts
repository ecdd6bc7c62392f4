import { useEffect, useState } from 'react';
import type { Opening } from '../../answers';
import type { Draft } from '../../change/Draft';
import { same, type Change } from '../../change/list';
import { changesOf, found } from '../../look/changes';
import { losingWords } from '../../look/overruled';
import type { Running } from '../../preview/run';
import { places } from './Steps';

/** What is to be said of one step, as the page has it now. */
export interface StepSaying {
    elements: Element[];
    words: { text: string; look: 'soft' | 'doubt' | 'broken' }[];
}

const EVERY = 1500;

/** Looks at the page again and again: elements come late, and pages put back what was changed. */
export function useSayings(draft: Draft, running: Running | null, page: Document, opening: Opening): StepSaying[] {
    const [all, setAll] = useState<StepSaying[]>([]);
    useEffect(() => {
        let isOn = true;
        const look = (): void =>
            void say(draft, running, page, opening).then((next) => {
                // Only what is new is shown: an element is another one where it was made anew.
                if (isOn) {
                    setAll((before) => (alike(before, next) ? before : next));
                }
            });
        look();
        const timer = window.setInterval(look, EVERY);

        return () => {
            isOn = false;
            window.clearInterval(timer);
        };
    }, [draft, draft.list, draft.kept, running, page, opening]);

    return all;
}

function alike(a: StepSaying[], b: StepSaying[]): boolean {
    return (
        same(
            a.map(({ words }) => words),
            b.map(({ words }) => words),
        ) && a.every(({ elements }, i) => elements.length === b[i].elements.length && elements.every((one, k) => one === b[i].elements[k]))
    );
}

/** Whether two changes cannot both be in effect on one element: its content, one property, one attribute, its place. */
function setsTheSame(a: Change, b: Change): boolean {
    const content = ['text', 'html'];

    return (
        a.media === b.media &&
        ((content.includes(a.kind) && content.includes(b.kind)) ||
            (a.kind === b.kind &&
                ['style', 'attribute', 'move'].includes(a.kind) &&
                a.property === b.property &&
                a.attribute === b.attribute))
    );
}

async function say(draft: Draft, running: Running | null, page: Document, opening: Opening): Promise<StepSaying[]> {
    const entered = running?.page?.experiments.shown.find(({ experiment }) => experiment.key === opening.experiment);
    const states = entered ? changesOf(entered, page) : [];
    const walks: Parameters<typeof losingWords>[1] = new Map();
    const at = places(draft);
    const others = (running?.page?.experiments.shown ?? []).filter((one) => one !== entered);

    return Promise.all(
        draft.list.map(async (change, i) => {
            const words: StepSaying['words'] = [];
            const problem = draft.kept.changes.findIndex((one) => same(one, change));
            if (problem !== -1 && draft.kept.problems[problem]) {
                return { elements: [], words: [{ text: draft.kept.problems[problem], look: 'broken' as const }] };
            }
            const place = at[i];
            const state = place === null ? undefined : states[place];
            const elements = state?.elements ?? (change.selector ? found(change.selector, page) : []);
            if (state?.state === 'missed') {
                words.push({ text: state.why, look: 'broken' });
            } else if (state?.state === 'reverted') {
                words.push({ text: state.why, look: 'broken' });
            }
            const failure = place === null ? undefined : running?.failures.get(place + 1);
            if (failure) {
                words.push({ text: `It fails: ${failure}`, look: 'broken' });
            }
            if (elements.length > 1) {
                words.push({ text: `Made to ${elements.length} elements.`, look: 'doubt' });
            }
            (state ? await losingWords(state, walks) : []).forEach((text) => words.push({ text, look: 'broken' }));
            const again = draft.list.findIndex(
                (other, k) =>
                    k > i &&
                    !other.off &&
                    !change.off &&
                    setsTheSame(change, other) &&
                    found(other.selector ?? '', page).some((one) => elements.includes(one)),
            );
            if (again !== -1) {
                words.push({ text: `Change ${again + 1} sets the same of this element, and wins.`, look: 'doubt' });
            }
            for (const { experiment, variant } of others) {
                const name = opening.experiments.find(({ key }) => key === experiment.key)?.name ?? experiment.key;
                const theirs = experiment.variants.find(({ key }) => key === variant)?.changes ?? [];
                if (theirs.some((one) => one.selector && found(one.selector, page).some((element) => elements.includes(element)))) {
                    words.push({ text: `${name} changes the same element.`, look: 'doubt' });
                }
            }

            return { elements, words };
        }),
    );
}
