import { Bus } from './bus';
import { capture } from './capture';
import { allows } from './consent';
import { followData, pushedSoFar } from './data';
import { Experiments } from './experiments';
import { Elements } from './elements';
import { eventFacts } from './facts';
import { parts, type Arrival } from './parts';
import { keeping } from './keeping';
import { followRoute } from './route';
import { valueAt, type Facts } from './rules';
import { safely, show } from './safely';
import { Sender } from './send';
import { Tags, type Trace } from './tags';
import { Timers } from './timers';
import type { Happening } from './triggers';
import type { Configuration, Props, Value } from './types';
import { marks, readCookie, visitor, type Visitor } from './visitor';

/** One page of a site with the runtime on it, from the moment that it may be looked at to the moment that it may no more. */
export class Page {
    private readonly bus = new Bus();
    private readonly open = new AbortController();
    private readonly person: Visitor;
    private readonly sender: Sender;
    private readonly tags: Tags;
    readonly experiments: Experiments;
    private readonly timers: Timers;
    private readonly elements: Elements;
    private readonly watch: ReturnType<typeof capture>;
    private view = '';
    private isLeaving = false;
    private data: Props = {};

    constructor(
        private readonly configuration: Configuration,
        private readonly cookies: string,
        Telling = Sender,
    ) {
        this.person = visitor(configuration, cookies);
        this.sender = new Telling(configuration, this.person.id, this.person.lasting);
        this.sender.common = marks(configuration, cookies);
        this.tags = new Tags(
            configuration.tags,
            (category) => category === 'necessary' || allows(configuration, category),
            (tag, why) => this.sender.add('tag_fired', { tag: tag.key, version: configuration.wiring, why }),
            this.bus,
        );
        // Without a lasting id a visitor would change variants from page to page; on a foreign host the page is a copy.
        const mayEnter = this.person.lasting && configuration.hosts.includes(location.hostname.toLowerCase());
        const running = mayEnter ? configuration.experiments : [];
        const facts = (): Facts => this.facts();
        this.experiments = new Experiments(configuration, running, this.person, this.sender, facts, this.bus);
        this.timers = new Timers({ all: configuration.tags, fire: this.tags }, { all: running, enter: this.experiments }, facts, this.bus);
        this.elements = new Elements(
            [...configuration.tags.flatMap(({ triggers }) => triggers), ...running.map(({ trigger }) => trigger)],
            (selector) => this.happened({ kind: 'element', selector }),
            this.bus,
        );
        this.watch = capture(
            {
                click: (element, props) => safely(() => this.heard('click', { kind: 'click', element }, props)),
                form: (element, props) => safely(() => this.heard('form_submit', { kind: 'form', element }, props)),
                scroll: (percent) => safely(() => this.sender.add('scroll', { percent, view: this.view })),
                scrolled: (percent) => safely(() => this.happened({ kind: 'scroll', percent })),
                engaged: (seconds) => safely(() => this.sender.add('engaged', { seconds, view: this.view })),
            },
            this.open.signal,
        );
    }

    get trace(): Trace[] {
        return this.tags.trace;
    }

    get id(): string {
        return this.person.id;
    }

    get user(): string | null {
        return this.sender.user;
    }

    begin(): void {
        const { signal } = this.open;
        if (this.configuration.dataLayer) {
            // Who may enter can hang on what the page says of its visitor before the snippet.
            this.data = pushedSoFar(this.configuration.dataLayer);
        }
        const arrival = parts().redirect?.arrival(this.configuration, this.cookies) ?? null;
        this.look(document.referrer, arrival);
        if (this.isLeaving) {
            // The guard keeps the page hidden until the other one is there, or its time is over.
        } else if (document.readyState === 'loading') {
            // An element that the page does not have must not keep it hidden.
            document.addEventListener('DOMContentLoaded', show, { once: true });
        } else {
            show();
        }
        followRoute((before) => safely(() => this.moveOn(before)), signal);
        if (this.configuration.dataLayer) {
            followData(this.configuration.dataLayer, (push, all) => safely(() => this.pushed(push, all)), signal);
        }
        const leave = (forGood: boolean): void => {
            this.finish(false);
            safely(() => this.sender.flush(forGood));
        };
        addEventListener('pagehide', () => leave(true), { signal });
        addEventListener('pageshow', (event) => safely(() => event.persisted && this.sender.comeBack()), { signal });
        document.addEventListener('visibilitychange', () => document.visibilityState === 'hidden' && leave(false), { signal });
        addEventListener('online', () => safely(() => this.sender.flush()), { signal });
    }

    /** The visitor has taken consent back: nothing is told, kept, timed or listened to any more. */
    end(): void {
        this.open.abort();
        this.sender.close();
        this.timers.stop();
        this.elements.stop();
        this.experiments.stop();
        this.bus.close();
        // What would have let the guard go is not waited for any more.
        show();
    }

    /** An event of the site's own. */
    event(name: string, props: Props): void {
        this.sender.addForeign(name, props);
        this.happened({ kind: 'event', name }, name, props);
    }

    identify(user: unknown): void {
        this.sender.user = typeof user === 'string' || typeof user === 'number' ? String(user).slice(0, 200) || null : null;
        this.bus.tell('user');
    }

    /** A page is looked at: at first, or after the application has moved on to another address. */
    private look(referrer: string, arrival: Arrival | null = null): void {
        const came = arrival?.experiment ? { entry_referrer: arrival.referrer, redirect: arrival.experiment } : {};
        this.view = this.sender.add('page_view', { ...(this.person.lasting ? {} : { storage: 'none' }), ...came }, referrer);
        if (arrival?.experiment) {
            this.sender.add('change_applied', { experiment: arrival.experiment, variant: arrival.variant });
        }
        if (arrival) {
            this.experiments.arrived();
        }
        // Whoever is led away meets nothing else of this page.
        this.isLeaving = this.experiments.leave();
        if (this.isLeaving) {
            return;
        }
        this.bus.tell('look');
        this.happened({ kind: 'page' });
    }

    private moveOn(before: string): void {
        this.finish(true);
        this.watch.renew();
        this.look(before);
    }

    private finish(movingOn: boolean): void {
        safely(() => this.watch.leave());
        this.bus.tell('finish', movingOn);
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
        this.bus.tell('happened', happening, this.facts(name, props, data));
    }

    facts(name = '', props: Props = {}, data = this.data): Facts {
        const told = eventFacts({ name, url: location.href, props, referrer: document.referrer, agent: keeping.agent() });

        return (fact) => {
            if (fact.startsWith('data.')) {
                return valueAt(data, fact.slice(5));
            }
            if (fact.startsWith('cookie.')) {
                return readCookie(fact.slice(7)) ?? null;
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
