import { assign } from '../../../runtime/src/assign';
import type { Page } from '../../../runtime/src/page';
import { matches } from '../../../runtime/src/rules';
import type { Configuration, Experiment } from '../../../runtime/src/types';
import { traced, type Traced } from './trace';

/** What became of an experiment on this page. */
export interface Entry {
    key: string;
    /** The variant that is shown; null where the visitor did not enter. */
    variant: string | null;
    bucket: number | null;
    why: string;
    pages: Traced;
    audience: Traced | null;
}

/** In the order in which the runtime asks (runtime/src/experiments.ts): the first that says no is the reason. */
export function entryOf(experiment: Experiment, configuration: Configuration, page: Page | null): Entry {
    const facts = page?.facts() ?? (() => null);
    const shown = page?.experiments.shown.find((one) => one.experiment === experiment);
    const unit = page === null ? null : experiment.unit === 'user' ? page.user : page.id;
    const given = unit === null ? null : assign(experiment, unit);

    return {
        key: experiment.key,
        variant: shown?.variant ?? null,
        bucket: given?.bucket ?? null,
        why: shown ? (experiment.serves ? 'It has ended, and everybody is shown this variant.' : 'The visitor is in it.') : whyNot(),
        pages: traced(experiment.pages, facts),
        audience: experiment.audience ? traced(experiment.audience, facts) : null,
    };

    function whyNot(): string {
        if (page === null) {
            return 'The visitor has not agreed to statistics: nothing runs.';
        }
        if (!configuration.hosts.includes(location.hostname.toLowerCase())) {
            return `The host ${location.hostname} is none of the site’s: the page is a copy.`;
        }
        if (!matches(experiment.pages, facts)) {
            return 'It is not for this page.';
        }
        if (experiment.trigger?.pages && !matches(experiment.trigger.pages, facts)) {
            return 'Its trigger is not for this page.';
        }
        if (experiment.audience && !matches(experiment.audience, facts)) {
            return 'The visitor is none of its audience.';
        }
        if (experiment.unit === 'user' && unit === null) {
            return 'It assigns users, and nobody has signed in.';
        }
        if (given && !given.in) {
            return experiment.group
                ? 'The visitor belongs to another experiment of the group, or to none.'
                : 'The visitor is beyond the share that enters.';
        }
        if (experiment.trigger && experiment.trigger.kind !== 'page') {
            return `It waits for its trigger: ${triggerWords(experiment)}.`;
        }

        return experiment.redirect ? 'It leads nobody on who has been led here.' : 'It was not met.';
    }
}

function triggerWords({ trigger }: Experiment): string {
    const { kind, name, selector, seconds, percent } = trigger!;

    return `${kind}${name ? ` ${name}` : ''}${selector ? ` on ${selector}` : ''}${seconds ? `, ${seconds} s` : ''}${percent ? `, ${percent} %` : ''}`;
}
