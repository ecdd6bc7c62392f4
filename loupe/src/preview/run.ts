import '../../../runtime/src/optional/media';
import '../../../runtime/src/optional/redirect';
import '../../../runtime/src/optional/script';
import { listen } from '../../../runtime/src/listen';
import { applyChanges } from '../../../runtime/src/changes';
import { Page } from '../../../runtime/src/page';
import type { Change, Configuration, Experiment } from '../../../runtime/src/types';
import type { Opening } from '../answers';
import { withTicket, type Ticket } from '../ticket';
import { holdOn, onCopy, SilentSender } from './copy';
import { giveVariant, takeJar } from './jar';
import { PreviewSender } from './PreviewSender';

/** The runtime as it runs in this preview; null before the visitor has agreed, or after. */
export interface Running {
    configuration: Configuration;
    page: Page | null;
    /** Shows a variant with other changes than it had so far, here and wherever this page moves on to. */
    rework(experiment: string, variant: string, changes: Change[]): void;
    /** Why changes have failed, by their places among those that are shown. */
    failures: Map<number, string>;
    /** Whether a script has run that is no change any more: what it did stays until the page is loaded again. */
    isStale: boolean;
}

/** What runs in the Loupe's own frame, whose page is of the same origin; null where its page is not there yet. */
export function inFrame(): Running | null {
    try {
        return window.pellixFramed?.running ?? null;
    } catch {
        return null;
    }
}

/** The page that is shown: of this window, or of the frame. */
export function shownPage(own: Running | null): Document {
    return own ? document : (window.pellixFramed?.page ?? document);
}

/** Whoever has chosen a variant gets it, whatever the share, the group and the audience say; the pages and the trigger stay. */
export function withChosen(experiments: Experiment[], chosen: Record<string, string>): Experiment[] {
    return experiments.map((one) => {
        if (!(one.key in chosen) || one.serves) {
            return one;
        }
        const { key, salt, pages, trigger, redirect, variants } = one;

        return { key, salt, share: 1, pages, trigger, redirect, variants: variants.map((variant) => ({ ...variant, moves: false })) };
    });
}

/** Runs the site's code on this page for a visitor of the preview's own: nothing that the real one has is touched. */
export function run(opening: Opening, ticket: Ticket, save: () => void): Running {
    for (const [experiment, variant] of Object.entries(ticket.chosen)) {
        giveVariant(ticket, experiment, variant);
    }
    takeJar(ticket, save);
    const isCopy = window.pellixCopy !== undefined;
    const whole = isCopy ? onCopy(opening.configuration, opening.experiment) : opening.configuration;
    const configuration: Configuration = {
        ...whole,
        experiments: withChosen(whole.experiments, ticket.chosen),
        parts: window.pellixSite?.parts,
    };
    window.pellixSite = configuration;
    const running: Running = { configuration, page: null, rework, failures: new Map(), isStale: false };
    listen(configuration, (cookies) => (running.page = new Page(configuration, cookies, isCopy ? SilentSender : PreviewSender)));
    if (isCopy) {
        holdOn();
    } else {
        followToOtherHosts(configuration.hosts, ticket);
    }
    const ran = new Set<string>();

    return running;

    function rework(key: string, variant: string, changes: Change[]): void {
        const experiment = configuration.experiments.find((one) => one.key === key);
        const own = experiment?.variants.find((one) => one.key === variant);
        if (!experiment || !own) {
            return;
        }
        // A script that has run has run.
        own.changes.forEach(({ kind, value }) => kind === 'script' && ran.add(value ?? ''));
        own.changes = changes;
        running.isStale = [...ran].some((code) => !changes.some(({ kind, value }) => kind === 'script' && value === code));
        const shown = running.page?.experiments.shown.find((one) => one.experiment === experiment && one.variant === variant);
        if (shown) {
            shown.applied?.stop();
            running.failures.clear();
            const made = changes.filter(({ kind, value }) => kind !== 'script' || !ran.has(value ?? ''));
            shown.applied = applyChanges(
                made,
                () => {},
                (number, message) => running.failures.set(changes.indexOf(made[number - 1]) + 1, message),
            );
        }
    }
}

/** This tab keeps what it keeps for each origin: a link to another host of the site takes the preview along. */
function followToOtherHosts(hosts: string[], ticket: Ticket): void {
    document.addEventListener(
        'click',
        (event) => {
            const link = event.target instanceof Element ? event.target.closest('a[href]') : null;
            if (
                link instanceof HTMLAnchorElement &&
                link.origin !== location.origin &&
                hosts.includes(link.hostname) &&
                !link.href.includes('plx-loupe=')
            ) {
                link.href = withTicket(link.href, ticket);
            }
        },
        { capture: true },
    );
}
