import { safely } from './safely';
import type { Facts } from './rules';
import type { Happening } from './triggers';

/** What the parts of the runtime tell each other. */
export interface Told {
    /** A page is looked at: at first, or after the application has moved on to another address. */
    look: [];
    /** Something happened on the page, with what rules may ask about it. */
    happened: [happening: Happening, facts: Facts];
    /** The page is left; for good, or for another view of an application on a single page. */
    finish: [movingOn: boolean];
    /** Somebody has signed in. */
    user: [];
}

type Listener<N extends keyof Told> = (...told: Told[N]) => void;

/** Passes on what is told, each listener on its own: one that fails stops no other. After `close()` nothing is passed on. */
export class Bus {
    private listeners: { [N in keyof Told]?: Listener<N>[] } = {};

    on<N extends keyof Told>(name: N, listener: Listener<N>): void {
        const known: Listener<N>[] = this.listeners[name] ?? [];
        (this.listeners as Record<N, Listener<N>[]>)[name] = [...known, listener];
    }

    tell<N extends keyof Told>(name: N, ...told: Told[N]): void {
        for (const listener of (this.listeners[name] ?? []) as Listener<N>[]) {
            safely(() => listener(...told));
        }
    }

    close(): void {
        this.listeners = {};
    }
}
