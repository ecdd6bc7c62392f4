import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import { keepDraft, type KeptAnswer } from '../../api/experiments';
import { Problem, type Experiment } from '../../api/client';
import { changedPath } from '../../parts/changedPath';
import { fieldErrors, stillWrong } from '../../parts/fieldErrors';
import { draftOf, mistakes, requestOf, type Draft } from '../draft';

/** So long after the last key what was typed is kept. */
const AFTER_MS = 700;
const AGAIN_MS = 5000;
const MOST_STEPS = 200;
/** What is typed without a pause is taken back in one step. */
const ONE_STEP_MS = 800;

export type Keeping = 'kept' | 'waiting' | 'keeping' | 'failed' | 'conflict';

export interface KeptDraft {
    draft: Draft;
    set: (change: Partial<Draft>) => void;
    undo: () => void;
    redo: () => void;
    canUndo: boolean;
    canRedo: boolean;
    /** What is wrong, by field, as of when it was kept last; what has been mended since is gone. */
    errors: Record<string, string>;
    keeping: Keeping;
    /** When it was kept last, in milliseconds; null where nothing was typed yet. */
    keptAt: number | null;
    /** The revision that is kept. */
    revision: number;
    /** Why it could not be kept. */
    problem: string;
    /** Who has changed it meanwhile, whose work is on the screen now. */
    told: string | null;
    /** Shows what the other person has written instead. */
    takeTheirs: () => void;
    /** Keeps what is on the screen, over what the other person has written. */
    keepMine: () => void;
}

interface State {
    draft: Draft;
    past: Draft[];
    future: Draft[];
}

/**
 * A draft that is kept as it is typed. Somebody else's changes are shown as they come; where both have written at the same
 * moment, the person is asked.
 */
export function useKeptDraft(site: string, experiment: Experiment): KeptDraft {
    const client = useQueryClient();
    const [{ draft, past, future }, setState] = useState<State>(() => ({ draft: draftOf(experiment), past: [], future: [] }));
    const [keeping, setKeeping] = useState<Keeping>('kept');
    const [keptAt, setKeptAt] = useState<number | null>(null);
    const [problem, setProblem] = useState('');
    const [told, setTold] = useState<string | null>(null);
    const [fromServer, setFromServer] = useState<Record<string, string>>({});
    const [judged, setJudged] = useState(draft);
    const [revision, setRevision] = useState(experiment.revision);
    const changed = useRef({ at: 0, what: '' });
    /** When it is kept next; another object begins the wait anew. */
    const [due, setDue] = useState<{ ms: number } | null>(null);
    // What the timer and the way out need is what is there then.
    const now = useRef({ draft, kept: JSON.stringify(requestOf(draft)), revision: experiment.revision, isSending: false, isStuck: false });

    const take = useCallback(
        (answer: KeptAnswer, sent: Draft): void => {
            now.current.kept = JSON.stringify(requestOf(sent));
            now.current.revision = answer.experiment.revision;
            setRevision(answer.experiment.revision);
            setFromServer(Object.fromEntries(Object.entries(answer.problems).map(([field, messages]) => [field, messages[0]])));
            setJudged(sent);
            setKeptAt(Date.now());
            client.setQueryData(['experiments', site, answer.experiment.key], answer.experiment);
            void client.invalidateQueries({ queryKey: ['experiments', site], exact: true });
        },
        [client, site],
    );

    const keep = useCallback(async (): Promise<void> => {
        const { current } = now;
        const sent = current.draft;
        if (current.isSending || current.isStuck || JSON.stringify(requestOf(sent)) === current.kept) {
            return;
        }
        current.isSending = true;
        setKeeping('keeping');
        try {
            take(await keepDraft(site, experiment.key, current.revision, requestOf(sent)), sent);
            current.isSending = false;
            setProblem('');
            const isBehind = JSON.stringify(requestOf(current.draft)) !== current.kept;
            setKeeping(isBehind ? 'waiting' : 'kept');
            if (isBehind) {
                setDue({ ms: AFTER_MS });
            }
        } catch (error) {
            current.isSending = false;
            const status = error instanceof Problem ? error.status : 0;
            setProblem((error as Error).message);
            if (status === 412) {
                current.isStuck = true;
                setKeeping('conflict');
                void client.invalidateQueries({ queryKey: ['experiments', site, experiment.key] });
            } else {
                setKeeping('failed');
                if (error instanceof Problem && status === 422) {
                    setFromServer(fieldErrors(error));
                }
                if (status === 0 || status >= 500 || status === 419 || status === 429) {
                    setDue({ ms: AGAIN_MS });
                }
            }
        }
    }, [client, experiment.key, site, take]);

    useEffect(() => {
        const timer = due && setTimeout(() => void keep(), due.ms);

        return () => clearTimeout(timer ?? undefined);
    }, [due, keep]);

    const move = (next: State): void => {
        setState(next);
        now.current.draft = next.draft;
        setTold(null);
        if (!now.current.isStuck) {
            setKeeping('waiting');
            setDue({ ms: AFTER_MS });
        }
    };
    const set = (change: Partial<Draft>): void => {
        const next = { ...draft, ...change };
        const { path, isText } = changedPath(draft, next);
        const at = Date.now();
        // Only typing goes on: what is moved, added or taken out is a step of its own.
        const what = isText ? path : '';
        const goesOn = isText && what === changed.current.what && at - changed.current.at < ONE_STEP_MS;
        changed.current = { at, what };
        move({ draft: next, past: goesOn ? past : [...past, draft].slice(-MOST_STEPS), future: [] });
    };
    const adopt = useCallback((theirs: Experiment): void => {
        const fresh = draftOf(theirs);
        now.current = { ...now.current, draft: fresh, kept: JSON.stringify(requestOf(fresh)), revision: theirs.revision, isStuck: false };
        setState((before) => ({ draft: fresh, past: [...before.past, before.draft].slice(-MOST_STEPS), future: [] }));
        setJudged(fresh);
        setRevision(theirs.revision);
        setFromServer({});
        setKeeping('kept');
        setTold(theirs.changed_by ?? 'Somebody');
    }, []);

    // Somebody else was faster, and nothing is typed here that would be lost.
    useEffect(() => {
        const { current } = now;
        const isClean = !current.isSending && JSON.stringify(requestOf(current.draft)) === current.kept;
        if (experiment.revision > current.revision && isClean && !current.isStuck) {
            adopt(experiment);
        }
    }, [experiment, adopt]);

    useEffect(() => {
        const warn = (event: BeforeUnloadEvent): void => {
            if (now.current.isSending || JSON.stringify(requestOf(now.current.draft)) !== now.current.kept) {
                void keep();
                event.preventDefault();
            }
        };
        addEventListener('beforeunload', warn);

        return () => {
            removeEventListener('beforeunload', warn);
            // Whoever goes to another view has what was typed kept.
            void keep();
        };
    }, [keep]);

    const own = mistakes(draft);
    const then = mistakes(judged);
    const errors = {
        ...stillWrong(fromServer, requestOf(judged), requestOf(draft)),
        ...Object.fromEntries(Object.entries(own).filter(([field]) => then[field] !== undefined)),
    };

    return {
        draft,
        set,
        undo: () => {
            const last = past[past.length - 1];
            if (last) {
                changed.current.what = '';
                move({ draft: last, past: past.slice(0, -1), future: [draft, ...future] });
            }
        },
        redo: () => {
            const next = future[0];
            if (next) {
                changed.current.what = '';
                move({ draft: next, past: [...past, draft], future: future.slice(1) });
            }
        },
        canUndo: past.length > 0,
        canRedo: future.length > 0,
        errors,
        keeping,
        keptAt,
        revision,
        problem,
        told,
        takeTheirs: () => adopt(experiment),
        keepMine: () => {
            now.current.isStuck = false;
            now.current.revision = experiment.revision;
            now.current.kept = '';
            void keep();
        },
    };
}
