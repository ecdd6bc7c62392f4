import type { ExperimentDraft } from '../api/client';

const MOST_CHARACTERS = 2_000_000;

/** What a draft is made from: the experiment file without what follows from a life that another experiment had. */
export function readExperiment(text: string): ExperimentDraft {
    if (text.length > MOST_CHARACTERS) {
        throw new Error('The file is too large to be an experiment.');
    }
    let json: unknown;
    try {
        json = JSON.parse(text);
    } catch {
        throw new Error('The file holds no JSON.');
    }
    if (typeof json !== 'object' || json === null || (json as { pellix?: unknown }).pellix !== 1) {
        throw new Error('This is no experiment file: "pellix": 1 is missing.');
    }
    const { epochs, start, end, ...rest } = json as Record<string, unknown>;
    void [epochs, start, end];
    const { group } = rest as { group?: { key?: string } };

    return {
        share: 1,
        pages: { all: [] },
        goals: [],
        ...rest,
        name: typeof rest.name === 'string' ? rest.name : String(rest.key ?? ''),
        // Where its part of a group begins is decided when it starts.
        ...(group ? { group: { key: group.key } } : {}),
    } as unknown as ExperimentDraft;
}
