import { useEffect, useReducer, useState } from 'react';
import type { Draft } from '../../change/Draft';
import { shown } from '../../change/list';
import { inFrame, type Running } from '../../preview/run';

const LOOK_MS = 1200;
const FRAME_MS = 400;

/** Shows each state of the draft as it comes. */
export function useDraft(draft: Draft | null): void {
    const [, again] = useReducer((n: number) => n + 1, 0);
    useEffect(() => draft?.onChange(again), [draft]);
    useEffect(() => {
        const timer = window.setInterval(() => {
            if (document.visibilityState === 'visible') {
                void draft?.look();
            }
        }, LOOK_MS);

        return () => window.clearInterval(timer);
    }, [draft]);
}

/** What runs on the page: in the window itself, or in the frame once its page is there. */
export function useRunning(own: Running | null): Running | null {
    const [running, setRunning] = useState<Running | null>(own);
    useEffect(() => {
        if (own) {
            return;
        }
        const timer = window.setInterval(() => setRunning(inFrame()), FRAME_MS);

        return () => window.clearInterval(timer);
    }, [own]);

    return own ?? running;
}

/** Has the page show what the draft says, or what it is without it. */
export function useShownOnPage(
    draft: Draft | null,
    running: Running | null,
    { experiment, variant }: { experiment: string | null; variant: string | null },
    isWithout: boolean,
    isTyping: boolean,
): void {
    const list = draft ? JSON.stringify(isWithout ? [] : shown(draft.list, draft.kept.problems, draft.kept.changes)) : null;
    useEffect(() => {
        if (list !== null && !isTyping && running && experiment !== null && variant !== null) {
            running.rework(experiment, variant, JSON.parse(list) as Parameters<Running['rework']>[2]);
        }
    }, [list, running, experiment, variant, isTyping]);
}
