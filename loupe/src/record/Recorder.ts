import { note, record } from './recording';
import type { Walk } from './steps';

/** The walk that is being recorded, from the first moment of each page on, whether the Loupe is open, folded or not there yet. */
export class Recorder {
    private end: (() => void) | null = null;
    private readonly listeners = new Set<() => void>();

    constructor(
        public walk: Walk | null,
        private readonly save: (walk: Walk | null) => void,
    ) {
        if (walk) {
            this.set(note(walk));
        }
    }

    begin(): void {
        this.set(note({ steps: [], at: 0 }));
    }

    /** What is noted from now on; null for nothing any more. */
    set(walk: Walk | null): void {
        this.walk = walk;
        this.save(walk);
        if (walk === null) {
            this.end?.();
            this.end = null;
        } else {
            this.end ??= record(
                () => this.walk!,
                (next) => this.set(next),
            );
        }
        this.listeners.forEach((one) => one());
    }

    onChange(listener: () => void): () => void {
        this.listeners.add(listener);

        return () => this.listeners.delete(listener);
    }
}
