import type { Bus } from './bus';
import type { Experiments } from './experiments';
import { matches, type Facts } from './rules';
import { safely } from './safely';
import type { Tags } from './tags';
import type { Experiment, Tag, Trigger } from './types';

/** Sets off what waits for some seconds after the page view. */
export class Timers {
    private running: number[] = [];

    constructor(
        private readonly tags: { all: Tag[]; fire: Tags },
        private readonly experiments: { all: Experiment[]; enter: Experiments },
        private readonly facts: () => Facts,
        bus: Bus,
    ) {
        bus.on('look', () => this.start());
        bus.on('finish', (movingOn) => movingOn && this.stop());
    }

    stop(): void {
        this.running.splice(0).forEach((timer) => window.clearTimeout(timer));
    }

    private start(): void {
        for (const tag of this.tags.all) {
            for (const trigger of tag.triggers) {
                this.after(trigger, () => {
                    if (!trigger.pages || matches(trigger.pages, this.facts())) {
                        this.tags.fire.fire(tag, `${trigger.seconds} s on the page`);
                    }
                });
            }
        }
        for (const experiment of this.experiments.all) {
            if (experiment.trigger) {
                this.after(experiment.trigger, () => this.experiments.enter.enter(experiment));
            }
        }
    }

    private after(trigger: Trigger, then: () => void): void {
        if (trigger.kind === 'time') {
            this.running.push(window.setTimeout(() => safely(then), 1000 * (trigger.seconds ?? 0)));
        }
    }
}
