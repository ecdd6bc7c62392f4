import { assign } from './assign';
import { capture } from './capture';
import { applyChanges, type Applied } from './changes';
import { followData } from './data';
import { eventFacts } from './facts';
import { followRoute } from './route';
import { matches, valueAt, type Facts } from './rules';
import { Sender } from './send';
import { Tags, type Trace } from './tags';
import { judge, type Happening } from './triggers';
import type { Configuration, Experiment, Props, Tag, Trigger, Value } from './types';
import { consent, keepConsent, mark, read, visitor, type Visitor } from './visitor';

type Call = [command: string, ...rest: unknown[]];

interface Api {
    (...call: Call): void;
    waiting?: ArrayLike<unknown>[];
    running?: boolean;
    trace?: Trace[];
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

/** Lets the flicker guard go, where the page has one. */
function show(): void {
    safely(() => window.pellixShow?.());
}

interface Shown {
    experiment: Experiment;
    variant: string;
    applied: Applied | null;
}

/** One page of a site with the runtime on it. */
class Page {
    private readonly person: Visitor;
    private readonly sender: Sender;
    private readonly tags: Tags;
    private readonly watch: ReturnType<typeof capture>;
    private readonly onOwnHost: boolean;
    private shown: Shown[] = [];
    private view = '';
    private data: Props = {};
    private timers: number[] = [];

    constructor(
        private readonly configuration: Configuration,
        cookies: string,
    ) {
        this.person = visitor(configuration, cookies);
        this.sender = new Sender(configuration, this.person.id, this.person.lasting);
        this.onOwnHost = configuration.hosts.includes(location.hostname.toLowerCase());
        const me = mark(configuration, cookies);
        this.sender.common = me ? { me } : {};
        this.tags = new Tags(
            configuration.tags,
            (category) => category === 'necessary' || allows(configuration, category),
            (tag, why) => this.sender.add('tag_fired', { tag: tag.key, version: configuration.wiring, why }),
        );
        this.watch = capture({
            click: (element, props) => safely(() => this.heard('click', { kind: 'click', element }, props)),
            form: (element, props) => safely(() => this.heard('form_submit', { kind: 'form', element }, props)),
            scroll: (percent) => safely(() => this.sender.add('scroll', { percent, view: this.view })),
            scrolled: (percent) => safely(() => this.happened({ kind: 'scroll', percent })),
            engaged: (seconds) => safely(() => this.sender.add('engaged', { seconds, view: this.view })),
        });
    }

    get trace(): Trace[] {
        return this.tags.trace;
    }

    begin(): void {
        this.look(document.referrer);
        if (document.readyState === 'loading') {
            // An element that the page does not have must not keep it hidden.
            document.addEventListener('DOMContentLoaded', show, { once: true });
        } else {
            show();
        }
        followRoute((before) =>
            safely(() => {
                this.finish();
                this.tags.renew();
                this.watch.renew();
                this.look(before);
            }),
        );
        if (this.configuration.dataLayer) {
            followData(this.configuration.dataLayer, (push, all) => safely(() => this.pushed(push, all)));
        }
        const leave = (forGood: boolean): void =>
            safely(() => {
                this.finish(false);
                this.sender.flush(forGood);
            });
        addEventListener('pagehide', () => leave(true));
        addEventListener('pageshow', (event) => safely(() => event.persisted && this.sender.comeBack()));
        document.addEventListener('visibilitychange', () => document.visibilityState === 'hidden' && leave(false));
        addEventListener('online', () => safely(() => this.sender.flush()));
    }

    /** An event of the site's own. */
    event(name: string, props: Props): void {
        this.sender.addForeign(name, props);
        this.happened({ kind: 'event', name }, name, props);
    }

    identify(user: unknown): void {
        this.sender.user = typeof user === 'string' || typeof user === 'number' ? String(user).slice(0, 200) || null : null;
    }

    get id(): string {
        return this.person.id;
    }

    /** A page is looked at: at first, or after the application has moved on to another address. */
    private look(referrer: string): void {
        this.view = this.sender.add('page_view', this.person.lasting ? {} : { storage: 'none' }, referrer);
        // Without a lasting id a visitor would change variants from page to page; on a foreign host the page is a copy.
        if (this.person.lasting && this.onOwnHost) {
            for (const experiment of this.configuration.experiments) {
                if (!experiment.trigger || experiment.trigger.kind === 'page') {
                    safely(() => this.enter(experiment));
                }
            }
        }
        this.person.save();
        this.settle();
        this.happened({ kind: 'page' });
        this.setTimers();
    }

    private enter(experiment: Experiment): void {
        const trigger = experiment.trigger;
        const facts = this.facts();
        const already = this.shown.some((one) => one.experiment === experiment);
        if (already || !matches(experiment.pages, facts) || (trigger?.pages && !matches(trigger.pages, facts))) {
            return;
        }
        const given = assign(experiment, this.person.id);
        const kept = this.person.variant(experiment.key);
        const variant = experiment.variants.find((v) => v.key === kept) ?? given.variant;
        if (!variant) {
            return;
        }
        this.person.keep(experiment.key, variant.key);
        const props = { experiment: experiment.key, variant: variant.key };
        // The same moment for every variant, whether it changes anything or not: a later one would lose the impatient.
        this.sender.add('exposure', { ...props, bucket: given.bucket });
        const shown: Shown = { experiment, variant: variant.key, applied: null };
        this.shown.push(shown);
        if (variant.changes.length > 0) {
            shown.applied = applyChanges(variant.changes, () => {
                this.sender.add('change_applied', props);
                // A change that is made at once settles nothing yet: the next experiment may still wait for its element.
                if (shown.applied) {
                    this.settle();
                }
            });
        }
    }

    private settle(): void {
        if (this.shown.every(({ applied }) => !applied || applied.missing().length === 0)) {
            show();
        }
    }

    /** Reports what the page never had; on moving on within the page, also stops the changes that belong to it. */
    private finish(movingOn = true): void {
        this.watch.leave();
        for (const { experiment, variant, applied } of this.shown) {
            const missing = applied?.missing() ?? [];
            if (missing.length > 0 && applied?.tell()) {
                this.sender.add('change_missed', {
                    experiment: experiment.key,
                    variant,
                    selectors: missing.map((c) => c.selector).slice(0, 10),
                });
            }
        }
        if (movingOn) {
            this.shown.splice(0).forEach(({ applied }) => applied?.stop());
            this.timers.splice(0).forEach((timer) => window.clearTimeout(timer));
        }
    }

    private heard(name: string, happening: Happening, props: Props): void {
        this.sender.addForeign(name, props);
        this.happened(happening);
    }

    private pushed(push: Props, all: Props): void {
        this.data = all;
        for (const { push: wanted, name, props } of this.configuration.dataEvents) {
            if (push.event === wanted) {
                const found = Object.entries(props).map(([prop, path]): [string, Value | null] => [prop, valueAt(push, path)]);
                this.event(name, Object.fromEntries(found.filter(([, value]) => value !== null)));
            }
        }
        // A condition looks at the push itself first, and then at what was pushed before.
        this.happened({ kind: 'data' }, '', {}, { ...all, ...push });
    }

    private happened(happening: Happening, name = '', props: Props = {}, data = this.data): void {
        const facts = this.facts(name, props, data);
        this.tags.on(happening, facts);
        for (const experiment of this.person.lasting && this.onOwnHost ? this.configuration.experiments : []) {
            if (experiment.trigger && experiment.trigger.kind !== 'page' && judge(experiment.trigger, happening, facts)?.fires) {
                this.enter(experiment);
                this.person.save();
            }
        }
    }

    private setTimers(): void {
        const after = (trigger: Trigger, then: () => void): void => {
            if (trigger.kind === 'time') {
                this.timers.push(window.setTimeout(() => safely(then), 1000 * (trigger.seconds ?? 0)));
            }
        };
        for (const tag of this.configuration.tags) {
            tag.triggers.forEach((trigger) =>
                after(
                    trigger,
                    () =>
                        (!trigger.pages || matches(trigger.pages, this.facts())) && this.tags.fire(tag, `${trigger.seconds} s on the page`),
                ),
            );
        }
        for (const experiment of this.person.lasting && this.onOwnHost ? this.configuration.experiments : []) {
            if (experiment.trigger) {
                after(experiment.trigger, () => {
                    this.enter(experiment);
                    this.person.save();
                });
            }
        }
    }

    private facts(name = '', props: Props = {}, data = this.data): Facts {
        const told = eventFacts({ name, url: location.href, props, referrer: document.referrer, agent: navigator.userAgent });

        return (fact) => {
            if (fact.startsWith('data.')) {
                return valueAt(data, fact.slice(5));
            }
            if (fact.startsWith('cookie.')) {
                return read(fact.slice(7)) ?? null;
            }
            switch (fact) {
                case 'language':
                    return navigator.language;
                case 'visitor.returning':
                    return this.person.returning;
                default:
                    return told(fact);
            }
        };
    }
}

/** Whether the visitor has agreed to a category, or needs not be asked. */
function allows(configuration: Configuration, category: Tag['consent'], cookies = document.cookie): boolean {
    const given = consent(cookies);
    if (given) {
        return given.includes(category);
    }
    const refused = configuration.gpc && (navigator as Navigator & { globalPrivacyControl?: boolean }).globalPrivacyControl === true;

    return !configuration.ask && !refused;
}

/** Takes the calls that the snippet has queued, and those to come. */
function listen(configuration: Configuration): void {
    let page: Page | null = null;
    const early: ArrayLike<unknown>[] = [];
    const begin = (): void => {
        const cookies = document.cookie;
        if (!page && allows(configuration, 'statistics', cookies)) {
            page = new Page(configuration, cookies);
            api.trace = page.trace;
            page.begin();
            early.splice(0).forEach(take);
        }
    };
    const take = (call: ArrayLike<unknown>): void =>
        safely(() => {
            const [command, first, second] = Array.from(call) as Call;
            if (command === 'consent') {
                keepConsent(configuration, (Array.isArray(first) ? first : []).filter((one) => /^[a-z]+$/.test(String(one))).map(String));
                begin();
            } else if (!page) {
                // Kept in memory only, until the visitor has agreed.
                early.push(call);
                early.splice(0, early.length - 100);
            } else if (command === 'event' && typeof first === 'string') {
                page.event(first, (second ?? {}) as Props);
            } else if (command === 'order') {
                page.event('order', (first ?? {}) as Props);
            } else if (command === 'user') {
                page.identify(first);
            } else if (command === 'visitor' && typeof first === 'function') {
                (first as (id: string) => void)(page.id);
            } else if (command === 'trace' && typeof first === 'function') {
                (first as (trace: Trace[]) => void)(page.trace);
            }
        });
    const waiting = window.pellix?.waiting ?? [];
    const api: Api = (...call) => take(call);
    api.running = true;
    window.pellix = api;
    begin();
    if (!page) {
        // Nothing will be changed before the visitor has agreed.
        show();
    }
    waiting.forEach(take);
}

safely(() => {
    const configuration = window.pellixSite;
    // A snippet that stands on the page twice counts once.
    if (!configuration || window.pellix?.running) {
        return;
    }
    const start = (): void => safely(() => listen(configuration));
    if ('prerendering' in document && document.prerendering) {
        document.addEventListener('prerenderingchange', start, { once: true });
    } else {
        start();
    }
});
