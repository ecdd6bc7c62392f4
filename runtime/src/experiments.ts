import { assign } from './assign';
import type { Bus } from './bus';
import { applyChanges, type Applied } from './changes';
import { parts } from './parts';
import { matches, type Facts } from './rules';
import { safely, show } from './safely';
import type { Sender } from './send';
import { judge, type Happening } from './triggers';
import type { Change, Configuration, Experiment, Props, Variant } from './types';
import type { Visitor } from './visitor';

const MOST_SELECTORS = 10;
const LONGEST_MESSAGE = 500;

export interface Shown {
    experiment: Experiment;
    variant: string;
    applied: Applied | null;
}

/** Lets the visitor into experiments, once a page view each, and makes the changes of their variants. */
export class Experiments {
    readonly shown: Shown[] = [];
    /** Whose audience hangs on the data layer. */
    private readonly asking: Experiment[];
    private isLeaving = false;
    private hasArrived = false;

    constructor(
        private readonly configuration: Configuration,
        private readonly all: Experiment[],
        private readonly person: Visitor,
        private readonly sender: Sender,
        private readonly facts: () => Facts,
        bus: Bus,
    ) {
        this.asking = all.filter(({ audience }) => JSON.stringify(audience ?? '').includes('"data.'));
        bus.on('look', () => this.look());
        bus.on('user', () => this.leave() || this.look());
        bus.on('happened', (happening, facts) => this.happened(happening, facts));
        bus.on('finish', (movingOn) => this.finish(movingOn));
    }

    enter(experiment: Experiment): void {
        const facts = this.facts();
        const already = this.shown.some((one) => one.experiment === experiment);
        if (already || !matches(experiment.pages, facts) || (experiment.trigger?.pages && !matches(experiment.trigger.pages, facts))) {
            return;
        }
        if (experiment.audience && !matches(experiment.audience, facts)) {
            return;
        }
        if (experiment.redirect && !this.mayLead()) {
            return;
        }
        if (experiment.serves) {
            this.serve(experiment);

            return;
        }
        const byUser = experiment.unit === 'user';
        const unit = byUser ? this.sender.user : this.person.id;
        if (unit === null) {
            // Nobody has signed in yet.
            return;
        }
        const given = assign(experiment, unit);
        // A user may come on another device: only the id decides. A visitor keeps the variant that it first got.
        if (experiment.group && !given.in) {
            // The stretch may be another member's by now: nobody is in two.
            return;
        }
        const kept = byUser ? undefined : this.person.variant(experiment.key, experiment.lifetimeDays);
        const variant = experiment.variants.find((v) => v.key === kept && !v.moves) ?? given.variant;
        if (!variant) {
            return;
        }
        if (!byUser) {
            this.person.keep(experiment.key, variant.key, experiment.lifetimeDays);
        }
        const props = { experiment: experiment.key, variant: variant.key, ...(byUser ? { unit: 'user' } : {}) };
        // The same moment for every variant, whether it changes anything or not: a later one would lose the impatient.
        this.sender.add('exposure', { ...props, bucket: given.bucket });
        const shown: Shown = { experiment, variant: variant.key, applied: null };
        this.shown.push(shown);
        if (variant.target) {
            this.lead(experiment, variant, variant.target, props);
        }
        if (variant.changes.length > 0) {
            shown.applied = applyChanges(
                variant.changes,
                () => {
                    this.sender.add('change_applied', props);
                    // A change that is made at once settles nothing yet: the next experiment may still wait for its element.
                    if (shown.applied) {
                        this.settle();
                    }
                },
                (change, message) => this.sender.add('change_failed', { ...props, change, message: message.slice(0, LONGEST_MESSAGE) }),
            );
        }
    }

    /** It has ended: everybody is shown the one variant, and nothing is told. */
    private serve(experiment: Experiment): void {
        const [variant] = experiment.variants;
        const shown: Shown = { experiment, variant: variant.key, applied: null };
        this.shown.push(shown);
        if (variant.target) {
            this.isLeaving = parts().redirect!.leave(this.configuration, '', '', variant.target, '') === null;
        }
        shown.applied = applyChanges(
            variant.changes,
            () => shown.applied && this.settle(),
            () => {},
        );
    }

    /** What was changed is put back, and no element that appears from now on is changed. */
    stop(): void {
        this.shown.splice(0).forEach(({ applied }) => applied?.stop());
    }

    /** The visitor has been sent here by a redirect test: nobody is sent on. */
    arrived(): void {
        this.hasArrived = true;
    }

    /** Lets the visitor into redirect tests, before anything else of the page; whether one leads away from it. */
    leave(): boolean {
        for (const experiment of this.all) {
            if (experiment.redirect && !this.isLeaving) {
                safely(() => this.enter(experiment));
            }
        }

        this.person.save();

        return this.isLeaving;
    }

    private mayLead(): boolean {
        return !this.hasArrived && parts().redirect?.isVisitor('me' in this.sender.common) === true;
    }

    private lead(experiment: Experiment, variant: Variant, target: string, props: Props): void {
        const wrong = parts().redirect!.leave(
            this.configuration,
            experiment.key,
            variant.key,
            target,
            this.sender.masked(document.referrer),
        );
        if (wrong === null) {
            this.isLeaving = true;
        } else {
            this.sender.add('change_failed', { ...props, change: 1, message: wrong });
        }
    }

    private look(): void {
        this.enterAll(this.all);
        this.settle();
    }

    /** Those that start with the page view. */
    private enterAll(experiments: Experiment[]): void {
        for (const experiment of experiments) {
            if (!experiment.redirect && (!experiment.trigger || experiment.trigger.kind === 'page')) {
                // One that fails stops no other.
                safely(() => this.enter(experiment));
            }
        }
        this.person.save();
    }

    private happened(happening: Happening, facts: Facts): void {
        if (happening.kind === 'data') {
            // What the page says of its visitor may come after the snippet.
            this.enterAll(this.asking);
        }
        for (const experiment of this.all) {
            safely(() => {
                if (experiment.trigger && experiment.trigger.kind !== 'page' && judge(experiment.trigger, happening, facts)?.fires) {
                    this.enter(experiment);
                }
            });
        }
        this.person.save();
    }

    private settle(): void {
        if (!this.isLeaving && this.shown.every(({ applied }) => !applied || applied.missing().length === 0)) {
            show();
        }
    }

    /** Reports what the page never had; on moving on within the page, also stops the changes that belong to it. */
    private finish(movingOn: boolean): void {
        for (const { experiment, variant, applied } of this.shown) {
            if (experiment.serves || !applied?.tell()) {
                continue;
            }
            const report = (name: string, changes: Change[], props: Props): void => {
                if (changes.length > 0) {
                    const selectors = changes.map((change) => change.selector ?? change.kind).slice(0, MOST_SELECTORS);
                    this.sender.add(name, { experiment: experiment.key, variant, selectors, ...props });
                }
            };
            const { changes, times } = applied.reverted();
            report('change_missed', applied.missing(), {});
            report('change_reverted', changes, { times });
        }
        if (movingOn) {
            this.stop();
        }
    }
}
