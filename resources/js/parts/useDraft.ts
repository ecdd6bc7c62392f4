import { useEffect, useRef, useState } from 'react';
import { useBlocker, type Blocker } from 'react-router';
import { Problem } from '../api/client';
import { fieldErrors, stillWrong, type FieldErrors } from './fieldErrors';

/** As TanStack Query gives it for a change that is sent to the server. */
interface Saving {
    error: Error | null;
    isPending: boolean;
    isSuccess: boolean;
    reset: () => void;
}

export interface DraftForm<T> {
    draft: T;
    /** Changes some members. */
    set: (change: Partial<T>) => void;
    /** Puts another draft in the place of this one; what is put under one name without a pause is one step to undo. */
    put: (next: T, what?: string) => void;
    undo: () => void;
    canUndo: boolean;
    /** Whether something was typed that is not kept. */
    isTouched: boolean;
    /** To be called when the server has kept what was sent; where the form begins anew, with what it begins. */
    kept: (anew?: T) => void;
    /** Mistakes that were found without the server; true where there is none. */
    check: (mistakes: FieldErrors) => boolean;
    errors: FieldErrors;
    /** What went wrong with the whole. */
    problem: Problem | null;
    isSaving: boolean;
    isSaved: boolean;
    blocker: Blocker;
}

const MOST_STEPS = 200;
/** What is typed without a pause is taken back in one step. */
const ONE_STEP_MS = 800;

/**
 * A form that is being filled in: its draft, what is wrong at which field, the way back, and a question before what was typed
 * is lost.
 *
 * @param requestOf the draft as the server gets it, whose fields its errors name
 */
export function useDraft<T>(begin: T | (() => T), save: Saving, requestOf: (draft: T) => unknown = (draft) => draft): DraftForm<T> {
    const [draft, setDraft] = useState(begin);
    const [past, setPast] = useState<T[]>([]);
    const [own, setOwn] = useState<FieldErrors>({});
    /** Errors of the server that were dealt with since. */
    const [seen, setSeen] = useState<{ of: Error | null; left: FieldErrors }>({ of: null, left: {} });
    const [kept, setKept] = useState(() => JSON.stringify(draft));
    const [refused, setRefused] = useState(0);
    const changed = useRef({ at: 0, what: '' });
    const current = useRef({ draft: JSON.stringify(draft), kept });

    const fromServer = save.error === seen.of ? seen.left : fieldErrors(save.error);
    const errors = { ...fromServer, ...own };
    const move = (next: T, before: T): void => {
        setOwn(stillWrong(own, requestOf(before), requestOf(next)));
        setSeen({ of: save.error, left: stillWrong(fromServer, requestOf(before), requestOf(next)) });
        if (save.isSuccess) {
            save.reset();
        }
        current.current.draft = JSON.stringify(next);
        setDraft(next);
    };
    const put = (next: T, what = ''): void => {
        const now = Date.now();
        const goesOn = what !== '' && what === changed.current.what && now - changed.current.at < ONE_STEP_MS;
        changed.current = { at: now, what };
        if (!goesOn) {
            setPast([...past, draft].slice(-MOST_STEPS));
        }
        move(next, draft);
    };
    const isTouched = JSON.stringify(draft) !== kept;
    // Asked when an address is left: that may be in the same breath in which the server has kept everything.
    const blocker = useBlocker(
        ({ currentLocation, nextLocation }) =>
            currentLocation.pathname !== nextLocation.pathname && current.current.draft !== current.current.kept,
    );
    useEffect(() => {
        const warn = (event: BeforeUnloadEvent): void => {
            if (current.current.draft !== current.current.kept) {
                event.preventDefault();
            }
        };
        addEventListener('beforeunload', warn);

        return () => removeEventListener('beforeunload', warn);
    }, []);
    useEffect(() => {
        // Once after each attempt: not while somebody types.
        document.querySelector<HTMLElement>('[aria-invalid=true]')?.focus();
    }, [save.error, refused]);

    return {
        draft,
        set: (change) => put({ ...draft, ...change }, Object.keys(change).join()),
        put,
        undo: () => {
            const before = past[past.length - 1];
            if (before !== undefined) {
                changed.current.what = '';
                setPast(past.slice(0, -1));
                move(before, draft);
            }
        },
        canUndo: past.length > 0,
        isTouched,
        kept: (anew) => {
            // What was sent: what is typed meanwhile is not kept yet.
            const sent = JSON.stringify(anew ?? draft);
            current.current.kept = sent;
            setKept(sent);
            if (anew !== undefined) {
                current.current.draft = sent;
                setDraft(anew);
                setPast([]);
            }
        },
        check: (mistakes) => {
            setOwn(mistakes);
            const isFine = Object.keys(mistakes).length === 0;
            setRefused(isFine ? refused : refused + 1);

            return isFine;
        },
        errors,
        problem: save.error instanceof Problem && save.error !== seen.of ? save.error : null,
        isSaving: save.isPending,
        isSaved: save.isSuccess,
        blocker,
    };
}
