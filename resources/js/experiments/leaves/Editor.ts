import type { Experiment, Observations, Site } from '../../api/client';
import type { LookedOver, Reach, Trial } from '../../api/experiments';
import type { Draft } from '../draft';

/** What a leaf writes into: a draft that is kept as it is typed, or a change of one that runs. */
export interface Editor {
    draft: Draft;
    set: (change: Partial<Draft>) => void;
    errors: Record<string, string>;
}

/** What the two leaves of a link know: what is being declared, and what is known about that already. */
export interface LeafSides {
    site: Site;
    experiment: Experiment;
    observed: Observations;
    editor: Editor;
    reach: Trial<Reach>;
    advice: Trial<LookedOver>;
    /** Whether it has started: then some things stay as they are. */
    hasStarted: boolean;
}
