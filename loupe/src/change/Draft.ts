import { Conflict, Refused } from '../answers';
import { same, type Change, type Kept } from './list';

export interface Step {
    words: string;
    before: Change[];
    after: Change[];
}

export interface History {
    past: Step[];
    future: Step[];
}

export type Keeping = 'kept' | 'keeping' | 'failed' | 'ended';

/** What asks Pellix; both answer with the list as it is kept then. */
export interface Desk {
    draft(): Promise<Kept>;
    keep(base: Change[], mine: Change[]): Promise<Kept>;
}

/** So long at least stands whose work has come in. */
const TOLD_MS = 10_000;

const MOST_STEPS = 60;
const LONGEST_HISTORY = 400_000;

/**
 * The list of changes while somebody works on it: kept in Pellix at once, together with what others make of it. Each step says from
 * which list to which it led, so that it can be taken back out of whatever the list is by then.
 */
export class Draft {
    list: Change[];
    keeping: Keeping = 'kept';
    problem = '';
    /** Whose work has come in lately. */
    told: string | null = null;
    /** Changes that two people have written anew at the same time. */
    met: Change[] = [];
    /** What Pellix knows that this person knows. */
    private known: Change[];
    private toldAt = 0;
    private isAsking = false;
    private isLooking = false;
    /** What is on its way to Pellix. */
    private flight: Promise<void> = Promise.resolve();
    private readonly listeners = new Set<() => void>();

    constructor(
        public kept: Kept,
        private readonly desk: Desk,
        readonly history: History,
        private readonly save: () => void,
    ) {
        this.list = this.known = kept.changes;
    }

    onChange(listener: () => void): () => void {
        this.listeners.add(listener);

        return () => this.listeners.delete(listener);
    }

    /** A step of this person. */
    set(list: Change[], words: string): void {
        if (same(list, this.list)) {
            return;
        }
        this.remember({ words, before: this.list, after: list });
        this.history.future.length = 0;
        this.list = list;
        this.forgetTold();
        this.tell();
        void this.send();
    }

    undo(): Promise<void> {
        return this.turn(this.history.past, this.history.future, ({ before, after }) => [after, before]);
    }

    redo(): Promise<void> {
        return this.turn(this.history.future, this.history.past, ({ before, after }) => [before, after]);
    }

    /** Looks whether somebody else has changed something, and tries again what could not be kept. */
    async look(): Promise<void> {
        if (this.isAsking || this.isLooking || this.keeping === 'ended') {
            return;
        }
        if (!same(this.list, this.known)) {
            return this.send();
        }
        this.isLooking = true;
        try {
            const kept = await this.desk.draft();
            // Whatever was done meanwhile is put together with it when it is kept.
            const isBehind = this.isAsking || !same(this.list, this.known) || kept.revision < this.kept.revision;
            if (!isBehind && (kept.revision !== this.kept.revision || this.keeping !== 'kept')) {
                const isNew = !same(kept.changes, this.known);
                this.kept = kept;
                this.keeping = 'kept';
                if (isNew) {
                    this.take(kept.changes);
                    this.hear(kept.changed_by);
                }
                this.tell();
            }
        } catch (error) {
            this.fail(error as Error);
            this.tell();
        } finally {
            this.isLooking = false;
        }
    }

    private async turn(from: Step[], to: Step[], way: (step: Step) => [Change[], Change[]]): Promise<void> {
        while (this.isAsking) {
            await this.flight;
        }
        const step = from[from.length - 1];
        if (!step) {
            return;
        }
        const [base, mine] = way(step);
        from.pop();
        to.push(step);
        this.forgetTold();
        if (same(this.list, base)) {
            this.list = mine;
            this.tell();

            return this.send();
        }
        // Others have been at it since: Pellix takes this step alone back.
        await this.asked(async () => this.took(await this.desk.keep(base, mine), mine));
        if (this.problem !== '') {
            // It is still to be taken back.
            to.pop();
            from.push(step);
            this.tell();
        }
    }

    private async send(): Promise<void> {
        if (this.isAsking || same(this.list, this.known)) {
            return;
        }
        const mine = this.list;
        await this.asked(async () => {
            const kept = await this.desk.keep(this.known, mine);
            if (same(this.list, mine)) {
                this.took(kept, mine);
            } else {
                this.kept = kept;
                this.known = mine;
            }
        });
        if (this.keeping === 'kept') {
            await this.send();
        }
    }

    private took(kept: Kept, mine: Change[]): void {
        if (!same(kept.changes, mine)) {
            this.hear(kept.with);
        }
        this.met = (kept.both ?? []).map((at) => kept.changes[at]);
        this.kept = kept;
        this.take(kept.changes);
    }

    private hear(name: string | null | undefined): void {
        this.told = name ?? 'Somebody';
        this.toldAt = Date.now();
    }

    /** Whoever is in the middle of something may not have read it yet. */
    private forgetTold(): void {
        if (Date.now() - this.toldAt > TOLD_MS) {
            this.told = null;
        }
    }

    private take(changes: Change[]): void {
        this.known = changes;
        this.list = changes;
    }

    private asked(work: () => Promise<void>): Promise<void> {
        this.isAsking = true;
        this.keeping = 'keeping';
        this.tell();
        this.flight = work()
            .then(
                () => {
                    this.keeping = 'kept';
                    this.problem = '';
                },
                (error: Error) => this.fail(error),
            )
            .then(() => {
                this.isAsking = false;
                this.tell();
            });

        return this.flight;
    }

    /** A link that does not hold any more, or an experiment that is no draft any more: trying again helps nothing. */
    private fail(error: Error): void {
        this.keeping = error instanceof Refused || error instanceof Conflict ? 'ended' : 'failed';
        this.problem = error.message;
    }

    private remember(step: Step): void {
        const { past } = this.history;
        past.push(step);
        while (past.length > MOST_STEPS || (past.length > 1 && JSON.stringify(past).length > LONGEST_HISTORY)) {
            past.shift();
        }
    }

    private tell(): void {
        this.save();
        this.listeners.forEach((one) => one());
    }
}
