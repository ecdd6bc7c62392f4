import { nonced } from './nonce';
import type { Bus } from './bus';
import { keeping } from './keeping';
import type { Facts } from './rules';
import { safely } from './safely';
import { judge, type Happening } from './triggers';
import type { Tag } from './types';

/** What became of a tag at one moment: fired, or why not. */
export interface Trace {
    tag: string;
    at: string;
    fired: boolean;
    why: string;
}

const MOST_TRACES = 200;

/** Fires the published tags when their triggers say so, and keeps a trace of what fired, when and why, and what did not. */
export class Tags {
    readonly trace: Trace[] = [];
    /** Tags that fired on this page. */
    private fired = new Set<string>();
    /** Tags that were to fire, but wait for another one: key => why they were to. */
    private held = new Map<string, string>();

    constructor(
        private readonly tags: Tag[],
        private readonly allowed: (category: Tag['consent']) => boolean,
        private readonly report: (tag: Tag, why: string) => void,
        bus?: Bus,
    ) {
        bus?.on('happened', (happening, facts) => this.on(happening, facts));
        bus?.on('finish', (movingOn) => movingOn && this.renew());
    }

    /** A new page begins, in an application on a single page. */
    renew(): void {
        this.fired.clear();
        this.held.clear();
    }

    on(happening: Happening, facts: Facts): void {
        for (const tag of this.tags) {
            // One that fails stops no other.
            safely(() => this.look(tag, happening, facts));
        }
    }

    private look(tag: Tag, happening: Happening, facts: Facts): void {
        for (const trigger of tag.triggers) {
            const verdict = judge(trigger, happening, facts);
            // Scrolling happens all the time: once it has fired the tag, there is nothing more to say.
            if (!verdict || (happening.kind === 'scroll' && this.fired.has(tag.key))) {
                continue;
            }
            if (verdict.fires) {
                this.fire(tag, verdict.why);
            } else {
                this.note(tag, false, verdict.why);
            }
        }
    }

    /** For triggers that the clock sets off. */
    fire(tag: Tag, why: string): void {
        if (!this.allowed(tag.consent)) {
            this.note(tag, false, `${why}, but the visitor has not agreed to ${tag.consent}`);
        } else if (this.wasFired(tag)) {
            this.note(tag, false, `${why}, but it has fired once this ${tag.once} already`);
        } else if (tag.after && !this.fired.has(tag.after)) {
            this.held.set(tag.key, why);
            this.note(tag, false, `${why}, but it waits for ${tag.after}`);
        } else {
            this.run(tag, why);
        }
    }

    private run(tag: Tag, why: string): void {
        this.fired.add(tag.key);
        remember(tag);
        this.note(tag, true, why);
        put(tag);
        this.report(tag, why);
        for (const next of this.tags) {
            const held = this.held.get(next.key);
            if (next.after === tag.key && held !== undefined) {
                this.held.delete(next.key);
                this.fire(next, `${held}, after ${tag.key}`);
            }
        }
    }

    private wasFired(tag: Tag): boolean {
        if (tag.once === 'no') {
            return false;
        }

        return this.fired.has(tag.key) || storage(tag)?.getItem(`plx_tag_${tag.key}`) === '1';
    }

    private note(tag: Tag, fired: boolean, why: string): void {
        this.trace.push({ tag: tag.key, at: new Date().toISOString(), fired, why });
        this.trace.splice(0, this.trace.length - MOST_TRACES);
    }
}

function storage(tag: Tag): Storage | null {
    try {
        return tag.once === 'session' || tag.once === 'visitor'
            ? keeping.storage(tag.once === 'session' ? 'sessionStorage' : 'localStorage')
            : null;
    } catch {
        return null;
    }
}

function remember(tag: Tag): void {
    try {
        storage(tag)?.setItem(`plx_tag_${tag.key}`, '1');
    } catch {
        // No storage: it may fire again on the next page.
    }
}

/** Puts a tag's code onto the page. Scripts get the nonce of the page's own snippet, so that a policy lets them run. */
function put(tag: Tag): void {
    if (tag.kind === 'image') {
        new Image().src = tag.code;
    } else if (tag.kind === 'script') {
        document.head.appendChild(script(tag.code));
    } else {
        const template = document.createElement('template');
        template.innerHTML = tag.code;
        // A script that came by innerHTML is inert; a new element runs.
        template.content.querySelectorAll('script').forEach((old) => {
            const fresh = script(old.text);
            Array.from(old.attributes).forEach(({ name, value }) => fresh.setAttribute(name, value));
            old.replaceWith(fresh);
        });
        (document.body ?? document.documentElement).appendChild(template.content);
    }
}

function script(code: string): HTMLScriptElement {
    const element = nonced(document.createElement('script'));
    element.text = code;

    return element;
}
