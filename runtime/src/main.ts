import { assign } from './assign';
import { applyChanges, type Applied } from './changes';
import { addressFacts, matches } from './rules';
import { Sender } from './send';
import type { Configuration, Experiment, Props, Variant } from './types';
import { visitor, type Visitor } from './visitor';

type Call = [command: string, name: string, props?: Props];

interface Api {
    (...call: Call): void;
    waiting?: ArrayLike<unknown>[];
    running?: boolean;
}

declare global {
    interface Window {
        pellixSite?: Configuration;
        pellix?: Api;
        /** The flicker guard's (core/src/Wiring/Guard.php), where the page has one. */
        pellixShow?: () => void;
    }
}

/** Runs a piece of work so that no error of ours ever reaches the page. */
function safely(work: () => void): void {
    try {
        work();
    } catch (error) {
        console.warn('pellix:', error);
    }
}

function run(configuration: Configuration): void {
    const person = visitor(configuration);
    const sender = new Sender(configuration, person.id);
    const onOwnHost = configuration.hosts.includes(location.hostname.toLowerCase());
    sender.add('page_view', person.lasting ? {} : { storage: 'none' });

    // Without a lasting id a visitor would change variants from page to page; on a foreign host the page is a copy.
    let shown: Shown[] = [];
    const settle = (): void => {
        if (shown.every(({ applied }) => applied.missing().length === 0)) {
            show();
        }
    };
    if (person.lasting && onOwnHost) {
        // A change that is made at once settles nothing yet: the next experiment may still be waiting for its element.
        shown = configuration.experiments.flatMap((e) => enter(e, person, sender, () => shown.length > 0 && settle()));
    }
    settle();
    if (document.readyState === 'loading') {
        // An element that the page does not have must not keep it hidden.
        document.addEventListener('DOMContentLoaded', show, { once: true });
    } else {
        show();
    }
    listen(sender);
    const leave = (): void =>
        safely(() => {
            for (const { experiment, variant, applied } of shown.splice(0)) {
                const missing = applied.missing();
                if (missing.length > 0) {
                    sender.add('change_missed', { experiment, variant, selectors: missing.map((c) => c.selector).slice(0, 10) });
                }
            }
            sender.flush();
        });
    addEventListener('pagehide', leave);
    document.addEventListener('visibilitychange', () => document.visibilityState === 'hidden' && leave());
}

/** Lets the flicker guard go, where the page has one. */
function show(): void {
    safely(() => window.pellixShow?.());
}

interface Shown {
    experiment: string;
    variant: string;
    applied: Applied;
}

function enter(experiment: Experiment, person: Visitor, sender: Sender, settle: () => void): Shown[] {
    if (!matches(experiment.pages, addressFacts(location.href))) {
        return [];
    }
    const given = assign(experiment, person.id);
    const kept = person.variant(experiment.key);
    const variant: Variant | null = experiment.variants.find((v) => v.key === kept) ?? given.variant;
    if (!variant) {
        return [];
    }
    person.keep(experiment.key, variant.key);
    const props = { experiment: experiment.key, variant: variant.key };
    // The same moment for every variant, whether it changes anything or not: a later one would lose the impatient.
    sender.add('exposure', { ...props, bucket: given.bucket });
    if (variant.changes.length === 0) {
        return [];
    }
    const applied = applyChanges(variant.changes, () => {
        sender.add('change_applied', props);
        settle();
    });

    return [{ ...props, applied }];
}

/** Takes the calls that the snippet has queued, and those to come: `pellix('event', name, props)`. */
function listen(sender: Sender): void {
    const take = (call: ArrayLike<unknown>): void =>
        safely(() => {
            const [command, name, props] = Array.from(call) as Call;
            if (command === 'event' && typeof name === 'string') {
                sender.add(name, props ?? {});
            }
        });
    const waiting = window.pellix?.waiting ?? [];
    const api: Api = (...call) => take(call);
    api.running = true;
    window.pellix = api;
    waiting.forEach(take);
}

safely(() => {
    const configuration = window.pellixSite;
    // A snippet that stands on the page twice counts once.
    if (!configuration || window.pellix?.running) {
        return;
    }
    const start = (): void => safely(() => run(configuration));
    if ('prerendering' in document && document.prerendering) {
        document.addEventListener('prerenderingchange', start, { once: true });
    } else {
        start();
    }
});
